import { planeKind, type PreparedPlane, type StepOf } from '../stepKind.ts';
import { tabled } from './tabled.ts';

/** x^exponent. */
export const power = planeKind<StepOf<'power'>>({
  kind: 'power',
  preparePlane(step, heap) {
    const k = heap.kernels;
    const { exponent } = step;
    if (step.negatives === 'keep') return (p, n) => k.powKeepPlane(p, n, exponent);
    if (step.negatives === 'mirror') return (p, n) => k.powMirrorPlane(p, n, exponent);
    if (exponent === 1) return (p, n) => k.clampPlane(p, n, 0, Infinity);
    const exact: PreparedPlane = (p, n) => k.powPlane(p, n, exponent);
    return exponent >= 0.3 && exponent <= 3 ? tabled(step, [-80, 4], { held: 0 }, heap, exact) : exact;
  },
  invert: (step) => [{ ...step, exponent: 1 / step.exponent }],
  merge(before, step) {
    const undoes =
      before.kind === 'power' &&
      before.negatives === step.negatives &&
      Math.abs(before.exponent * step.exponent - 1) < 1e-12;
    if (!undoes) return undefined;
    const whole = step.negatives === 'keep' || step.negatives === 'mirror';
    return whole ? [] : [{ kind: 'clamp', low: 0, high: Infinity }];
  },
});
