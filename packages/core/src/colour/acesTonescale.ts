/**
 * The two tone scales of ACES 1.x as parameter blocks for the `toneSpline` kernel.
 *
 * Source: Academy CTL, ACESlib.Tonescales (segmented_spline_c5 with RRT_PARAMS, segmented_spline_c9 with ODT_48nits).
 * Coefficients from memory; the result is checked against the reference colour library.
 *
 * Layout of a block, 32 floats: min x, mid x, max x, min y, max y (all log10), slope above, number of segments on
 * each side of mid, offset of the upper coefficients; then the lower and the upper coefficients.
 */
interface Spline {
  readonly min: readonly [number, number];
  readonly mid: readonly [number, number];
  readonly max: readonly [number, number];
  readonly slopeHigh: number;
  readonly low: readonly number[];
  readonly high: readonly number[];
}

const rrt: Spline = {
  min: [Math.log10(0.18) - 15 * Math.LOG10E * Math.LN2, -4],
  mid: [Math.log10(0.18), Math.log10(4.8)],
  max: [Math.log10(0.18) + 18 * Math.LOG10E * Math.LN2, 4],
  slopeHigh: 0,
  low: [-4, -4, -3.1573765773, -0.4852499958, 1.8477324706, 1.8477324706],
  high: [-0.7185482425, 2.0810307172, 3.6681241237, 4, 4, 4],
};

function block(s: Spline): number[] {
  const segments = s.low.length - 2;
  const numbers = [s.min[0], s.mid[0], s.max[0], s.min[1], s.max[1], s.slopeHigh, segments - 1, s.low.length];
  const all = [...numbers, ...s.low, ...s.high];
  return [...all, ...new Array<number>(32 - all.length).fill(0)];
}

/** The spline in float64, log10 to log10: for finding the second spline's end points. */
function splineInDoubles(x: number, s: Spline): number {
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

/** Parameter blocks of the rendering transform's and of the 48 nit output transform's tone scale. */
export function acesToneSplines(): [number[], number[]] {
  const stops = (n: number) => splineInDoubles(Math.log10(0.18) + n * Math.log10(2), rrt);
  const odt48: Spline = {
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
  return [block(rrt), block(odt48)];
}
