import { solveRising } from '../transform/monotone.ts';

/**
 * The tone scales of ACES 1.x, also as parameter blocks for the `toneSpline` kernel.
 *
 * Source: Academy CTL, ACESlib.Tonescales (segmented_spline_c5 with RRT_PARAMS, segmented_spline_c9 with ODT_48nits) and ACESlib.SSTS.
 * Coefficients from memory; the result is checked against the reference colour library.
 *
 * Layout of a block, 32 floats: min x, mid x, max x, min y, max y (all log10), slope above, number of segments on
 * each side of mid, offset of the upper coefficients; then the lower and the upper coefficients.
 */
export interface ToneSpline {
  readonly min: readonly [number, number];
  readonly mid: readonly [number, number];
  readonly max: readonly [number, number];
  readonly slopeHigh: number;
  readonly low: readonly number[];
  readonly high: readonly number[];
}

/** The rendering transform's tone scale. */
export const rrtSpline: ToneSpline = {
  min: [Math.log10(0.18) - 15 * Math.LOG10E * Math.LN2, -4],
  mid: [Math.log10(0.18), Math.log10(4.8)],
  max: [Math.log10(0.18) + 18 * Math.LOG10E * Math.LN2, 4],
  slopeHigh: 0,
  low: [-4, -4, -3.1573765773, -0.4852499958, 1.8477324706, 1.8477324706],
  high: [-0.7185482425, 2.0810307172, 3.6681241237, 4, 4, 4],
};

/** A spline as the kernel's parameter block. */
export function splineBlock(s: ToneSpline): number[] {
  const segments = s.low.length - 2;
  const numbers = [s.min[0], s.mid[0], s.max[0], s.min[1], s.max[1], s.slopeHigh, segments - 1, s.low.length];
  const all = [...numbers, ...s.low, ...s.high];
  return [...all, ...new Array<number>(32 - all.length).fill(0)];
}

/** The spline in float64, log10 to log10, with exact operations only. */
export function splineValue(x: number, s: ToneSpline): number {
  if (x <= s.min[0]) return s.min[1];
  if (x >= s.max[0]) return s.slopeHigh * (x - s.max[0]) + s.max[1];
  const upper = x >= s.mid[0];
  const [from, to, c] = upper ? [s.mid[0], s.max[0], s.high] : [s.min[0], s.mid[0], s.low];
  const last = s.low.length - 3;
  const knot = (last * (x - from)) / (to - from);
  const j = Math.min(Math.floor(knot), last - 1);
  const t = knot - j;
  const [c0, c1, c2] = [c[j]!, c[j + 1]!, c[j + 2]!];
  return (0.5 * c0 - c1 + 0.5 * c2) * t * t + (c1 - c0) * t + 0.5 * (c0 + c1);
}

/** Where a spline takes a value, held at its ends: the root of the segment's parabola. Exact operations only. */
export function splinePlace(y: number, s: ToneSpline): number {
  if (!(y > s.min[1])) return s.min[0];
  if (y >= s.max[1]) return s.slopeHigh > 0 ? s.max[0] + (y - s.max[1]) / s.slopeHigh : s.max[0];
  const upper = y >= s.mid[1];
  const [from, to, c] = upper ? [s.mid[0], s.max[0], s.high] : [s.min[0], s.mid[0], s.low];
  const last = s.low.length - 3;
  let j = 0;
  while (j < last - 1 && y >= 0.5 * (c[j + 1]! + c[j + 2]!)) j++;
  const [c0, c1, c2] = [c[j]!, c[j + 1]!, c[j + 2]!];
  const rise = Math.max(y - 0.5 * (c0 + c1), 0);
  const b = c1 - c0;
  const down = b + Math.sqrt(Math.max(b * b + (2 * c0 - 4 * c1 + 2 * c2) * rise, 0));
  const t = down > 0 ? Math.min((2 * rise) / down, 1) : 0;
  return from + ((j + t) * (to - from)) / last;
}

/** The 48 nit output transform's tone scale, after the rendering transform's. */
export function cinemaSpline(): ToneSpline {
  const stops = (n: number) => splineValue(Math.log10(0.18) + n * Math.log10(2), rrtSpline);
  return {
    min: [stops(-6.5), Math.log10(0.02)],
    mid: [stops(0), Math.log10(4.8)],
    max: [stops(6.5), Math.log10(48)],
    slopeHigh: 0.04,
    low: [
      -1.6989700043, -1.6989700043, -1.4779, -1.2291, -0.8648, -0.448, 0.00518, 0.4511080334, 0.9113744414,
      0.9113744414,
    ],
    high: [0.5154386965, 0.8470437783, 1.1358, 1.3802, 1.5197, 1.5985, 1.6467, 1.6746091357, 1.687873339, 1.687873339],
  };
}

/** A spline that changes nothing, for where the kernel wants two. */
export const plainSpline: ToneSpline = {
  min: [-10, -10],
  mid: [0, 0],
  max: [10, 10],
  slopeHigh: 1,
  low: [-15, -5, 5, 5],
  high: [-5, 5, 15, 15],
};

const between = (x: number, [x0, y0]: readonly [number, number], [x1, y1]: readonly [number, number]) => {
  const t = Math.min(Math.max((x - x0) / (x1 - x0), 0), 1);
  return y0 + t * (y1 - y0);
};
const decades = (stops: number) => stops * Math.log10(2);

/** Parameters of the single-stage tone scale for a darkest and a brightest luminance in cd/m², middle grey unmoved. */
function singleStage(darkest: number, brightest: number): ToneSpline {
  const grey = Math.log10(0.18);
  const lowStops = between(Math.log10(darkest), [-4, -15], [Math.log10(0.02), -6.5]);
  const highStops = between(Math.log10(brightest), [Math.log10(48), 6.5], [4, 18]);
  const min = [grey + decades(lowStops), Math.log10(darkest)] as const;
  const mid = [grey, Math.log10(4.8)] as const;
  const max = [grey + decades(highStops), Math.log10(brightest)] as const;
  const slope = 1.55;
  const tangent = ([, y]: readonly [number, number], m: number, step: number) => m * step + y;
  const low = (mid[0] - min[0]) / 3;
  const high = (max[0] - mid[0]) / 3;
  const lowBend = between(lowStops, [-15, 0.18], [-6.5, 0.35]);
  const highBend = between(highStops, [6.5, 0.89], [18, 0.9]);
  return {
    min,
    mid,
    max,
    slopeHigh: 0,
    low: [
      tangent(min, 0, -0.5 * low),
      tangent(min, 0, 0.5 * low),
      min[1] + lowBend * (mid[1] - min[1]),
      tangent(mid, slope, -0.5 * low),
      tangent(mid, slope, 0.5 * low),
      tangent(mid, slope, 0.5 * low),
    ],
    high: [
      tangent(mid, slope, -0.5 * high),
      tangent(mid, slope, 0.5 * high),
      mid[1] + highBend * (max[1] - mid[1]),
      tangent(max, 0, -0.5 * high),
      tangent(max, 0, 0.5 * high),
      tangent(max, 0, 0.5 * high),
    ],
  };
}

/** The single-stage tone scale with middle grey shown at `middle` cd/m² (Academy CTL, ACESlib.SSTS and ACESlib.OutputTransforms). */
export function singleStageSpline(darkest: number, middle: number, brightest: number): ToneSpline {
  const plain = singleStage(darkest, brightest);
  const shift = solveRising((x) => splineValue(x, plain), Math.log10(middle)) - Math.log10(0.18);
  const moved = ([x, y]: readonly [number, number]) => [x - shift, y] as const;
  return { ...plain, min: moved(plain.min), mid: moved(plain.mid), max: moved(plain.max) };
}
