import type { LogCurve } from '../curves.ts';
import { planeKind, sameNumbers, type PlaneKind, type PreparedPlane } from '../stepKind.ts';
import { below, tabled } from './tabled.ts';

interface LogStep {
  readonly kind: 'encodeLog' | 'decodeLog';
  readonly curve: LogCurve;
}

const invert = (opposite: LogStep['kind']) => (step: LogStep) => [{ ...step, kind: opposite }] as const;
const merge =
  (opposite: LogStep['kind']) => (before: { readonly kind: string; readonly curve?: object }, step: LogStep) =>
    before.kind === opposite && sameNumbers(before.curve!, step.curve) ? [] : undefined;

/** Light to a log, straight below its cut. */
export const encodeLog: PlaneKind = planeKind<LogStep>({
  kind: 'encodeLog',
  preparePlane(step, heap) {
    const { cut, a, b, c, d, e, f } = step.curve;
    const k = heap.kernels;
    const exactly = (from: number): PreparedPlane => {
      const at = heap.placeFloats([from, a, b, c, d, e, f]);
      return (p, n) => k.encodeLog(p, n, at);
    };
    const exact = exactly(cut);
    return cut > 0 ? tabled(step, [below(cut), 16], { slope: e, cut, offset: f }, heap, exact, exactly(0)) : exact;
  },
  invert: invert('decodeLog'),
  merge: merge('decodeLog'),
});

/** And back. Light from a log climbs so steeply that a table would need many more entries. */
export const decodeLog: PlaneKind = planeKind<LogStep>({
  kind: 'decodeLog',
  preparePlane({ curve: { cut, a, b, c, d, e, f } }, heap) {
    const at = heap.placeFloats([e * cut + f, a, b, c, d, e, f]);
    return (p, n) => heap.kernels.decodeLog(p, n, at);
  },
  invert: invert('encodeLog'),
  merge: merge('encodeLog'),
});
