import type { Heap } from '../../kernel/heap.ts';
import type { StraightAndPower } from '../curves.ts';
import { planeKind, sameNumbers, type PlaneKind, type PreparedPlane } from '../stepKind.ts';
import { below, tabled } from './tabled.ts';

interface CurveStep {
  readonly kind: 'encode' | 'decode';
  readonly curve: StraightAndPower;
  readonly mirrored?: boolean;
}

/** Light to codes by a straight line and a power, and back. */
const curveKind = (kind: CurveStep['kind'], opposite: CurveStep['kind']) =>
  planeKind<CurveStep>({
    kind,
    preparePlane(step, heap) {
      const { slope, cutLinear, cutEncoded } = step.curve;
      const cut = kind === 'encode' ? cutLinear : cutEncoded;
      const exact = exactCurve(step, cut, heap);
      if (step.mirrored) return mirrored(exact, heap);
      if (!(cut > 0)) return exact;
      const under = { slope: kind === 'encode' ? slope : 1 / slope, cut };
      return tabled(step, [below(cut), 4], under, heap, exact, exactCurve(step, 0, heap));
    },
    invert: (step) => [{ ...step, kind: opposite }],
    merge(before, step) {
      if (before.kind !== opposite || before.mirrored !== step.mirrored) return undefined;
      return sameNumbers(before.curve, step.curve) ? [] : undefined;
    },
  });

function exactCurve({ kind, curve }: CurveStep, cut: number, heap: Heap): PreparedPlane {
  const { slope, scale, power, offset } = curve;
  const k = heap.kernels;
  return kind === 'encode'
    ? (p, n) => k.encodeCurve(p, n, cut, slope, scale, 1 / power, offset)
    : (p, n) => k.decodeCurve(p, n, cut, slope, scale, power, offset);
}

/** Runs a step on |x| and puts the signs back; rare enough to do without a kernel. */
function mirrored(run: PreparedPlane, heap: Heap): PreparedPlane {
  return (p, n) => {
    const signs = heap.floats(p, n).map((x) => (x < 0 ? -1 : 1));
    const plane = heap.floats(p, n);
    for (let i = 0; i < n; i++) plane[i] = plane[i]! * signs[i]!;
    run(p, n);
    const done = heap.floats(p, n);
    for (let i = 0; i < n; i++) done[i] = done[i]! * signs[i]!;
  };
}

export const encode: PlaneKind = curveKind('encode', 'decode');
export const decode: PlaneKind = curveKind('decode', 'encode');
