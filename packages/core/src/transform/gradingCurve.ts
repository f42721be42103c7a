import type { ColourStep, PlaneStep } from '../colour/steps.ts';
import { fromStops, toStops } from './logAround.ts';
import type { Spline } from './recipes.ts';
import { eachChannel } from './scale.ts';
import type { Direction, GradingCurve, TransformOf } from './transform.ts';

/** Red, green and blue through their own curve, then all through the master's. */
export function gradingCurveSteps(t: TransformOf<'gradingCurve'>, way: Direction): ColourStep[] {
  const splines = t.curves.map((c) => (isStraight(c) ? undefined : fitCurve(c)));
  if (splines.every((s) => !s)) return [];
  const master = splines[3];
  const step = (c: 0 | 1 | 2): PlaneStep => ({
    kind: 'plainPlane',
    recipe: { what: 'curve', own: splines[c], master, inverse: way === 'inverse' },
  });
  const curves = eachChannel(step);
  return t.style === 'linear' && !t.bypassLog ? [toStops, curves, fromStops] : [curves];
}

function isStraight({ points, slopes }: GradingCurve): boolean {
  return !slopes && points.every(([x, y]) => x === y);
}

/** Slopes at the points where none are given: means of the neighbours weighted by length; pieces in one line count as one. */
function estimateSlopes(points: GradingCurve['points'], secants: readonly number[]): number[] {
  const n = points.length;
  if (n === 2) return [secants[0]!, secants[0]!];
  const alike = (i: number, j: number) => Math.abs(secants[i]! - secants[j]!) < 1e-6;
  const lengths = secants.map((_, i) =>
    Math.sqrt((points[i + 1]![0] - points[i]![0]) ** 2 + (points[i + 1]![1] - points[i]![1]) ** 2),
  );
  const runs = lengths.map((_, i) => {
    let [first, last] = [i, i];
    while (first > 0 && alike(first - 1, i)) first--;
    while (last < lengths.length - 1 && alike(last + 1, i)) last++;
    return lengths.slice(first, last + 1).reduce((sum, x) => sum + x, 0);
  });
  const slopes = points.map((_, i) => {
    if (i === 0 || i === n - 1) return 0;
    const [before, after] = [secants[i - 1]!, secants[i]!];
    return (runs[i - 1]! * before + runs[i]! * after) / (runs[i - 1]! + runs[i]!);
  });
  slopes[0] = Math.max(0.01, (3 * secants[0]! - slopes[1]!) / 2);
  slopes[n - 1] = Math.max(0.01, (3 * secants[n - 2]! - slopes[n - 2]!) / 2);
  return slopes;
}

/**
 * The shape-preserving quadratic spline through the points: at most one extra knot between two points.
 * L. L. Schumaker, "On shape preserving quadratic spline interpolation", SIAM J. Numer. Anal. 20 (1983), 854-864.
 */
export function fitCurve({ points, slopes: given }: GradingCurve): Spline {
  const secants = points
    .slice(1)
    .map(([x, y], i) => (x === points[i]![0] ? 0 : (y - points[i]![1]) / (x - points[i]![0])));
  const slopes = [...(given ?? estimateSlopes(points, secants))];
  // Where both ends are so steep that the middle would turn back, both are made flatter.
  secants.forEach((s, i) => {
    const mean = 0.5 * (slopes[i]! + slopes[i + 1]!);
    const [d0, d1] = [slopes[i]! - s, slopes[i + 1]! - s];
    if (d0 * d1 < 0 || 2 * s - mean >= 0 || mean === 0) return;
    const k = s > 0 ? (2 * s - 0.01 * mean) / mean : s / mean;
    slopes[i] = slopes[i]! * k;
    slopes[i + 1] = slopes[i + 1]! * k;
  });
  const spline = { knots: [points[0]![0]], a: [] as number[], b: [] as number[], c: [] as number[] };
  const piece = (from: number, to: number, y: number, m0: number, m1: number) => {
    spline.a.push((0.5 * (m1 - m0)) / (to - from));
    spline.b.push(m0);
    spline.c.push(y);
    spline.knots.push(to);
  };
  secants.forEach((s, i) => {
    const [[x0, y0], [x1]] = [points[i]!, points[i + 1]!];
    if (x1 === x0) return;
    const [m0, m1] = [slopes[i]!, slopes[i + 1]!];
    const [d0, d1, width] = [m0 - s, m1 - s, x1 - x0];
    if (Math.abs(m0 + m1 - 2 * s) <= 1e-6) return piece(x0, x1, y0, m0, m1);
    const knot =
      d0 * d1 >= 0
        ? (x0 + x1) / 2
        : Math.abs(d1) < Math.abs(d0)
          ? x0 + (width * d1) / (m1 - m0)
          : x1 + (width * d0) / (m1 - m0);
    const middle = 2 * s - m1 + ((m1 - m0) * (knot - x0)) / width;
    piece(x0, knot, y0, m0, middle);
    piece(knot, x1, y0 + 0.5 * (m0 + middle) * (knot - x0), middle, m1);
  });
  return spline;
}

/** A spline's value; straight on beyond its ends. */
export function evaluateSpline({ knots, a, b, c }: Spline, x: number): number {
  const last = knots.length - 1;
  if (last === 0) return x;
  if (x <= knots[0]!) return (x - knots[0]!) * b[0]! + c[0]!;
  if (x >= knots[last]!) {
    const t = knots[last]! - knots[last - 1]!;
    const slope = 2 * a[last - 1]! * t + b[last - 1]!;
    return (x - knots[last]!) * slope + (a[last - 1]! * t + b[last - 1]!) * t + c[last - 1]!;
  }
  let i = 0;
  while (x >= knots[i + 1]!) i++;
  const t = x - knots[i]!;
  return (a[i]! * t + b[i]!) * t + c[i]!;
}
