import { apply3, type Matrix3, type Vector3 } from '../colour/matrix.ts';
import { ciede2000, type Lab } from '../proof/ciede2000.ts';

/** How a chart's patches were brought to their targets. */
export interface ChartSolution {
  /** Measured light to target light, row by row. */
  readonly matrix: Matrix3;
  /** What is added behind the matrix; zeros where none was asked for. */
  readonly offset: Vector3;
  /** CIEDE2000 of each patch: with the best exposure alone, and with the matrix. */
  readonly before: readonly number[];
  readonly after: readonly number[];
  readonly averageBefore: number;
  readonly averageAfter: number;
  /** What the average would be with an offset: far lower where haze or flare lies over the chart. */
  readonly averageWithOffset: number;
}

/** What a solution may do besides mixing. */
export interface ChartFreedom {
  /** Overall brightness is left alone. */
  readonly keepsExposure: boolean;
  /** A constant light is taken off: haze, flare, a lifted black. */
  readonly withOffset: boolean;
}

/** Too few patches count, or they do not span colour: no matrix can be told. */
export class ChartError extends Error {}

/**
 * The 3x3 matrix, with an offset if it may have one, that takes measured light nearest to its targets, by weighted least squares in linear
 * light (the normal equations). With `keepsExposure` its overall brightness is left alone: it is divided by the exposure that greys would
 * have needed. `toXyz` takes the space's light to XYZ, its white to (x/y, 1, z/y): CIEDE2000 is judged against that white. Throws a ChartError
 * where patches do not span colour.
 */
export function solveChart(
  measured: readonly Vector3[],
  targets: readonly Vector3[],
  weights: readonly number[],
  toXyz: Matrix3,
  { keepsExposure, withOffset }: ChartFreedom = { keepsExposure: false, withOffset: false },
): ChartSolution {
  const gain = bestGain(measured, targets, weights);
  const full = leastSquares(measured, targets, weights, withOffset);
  const scaled = keepsExposure ? 1 / gain : 1;
  const labs = (colours: readonly Vector3[]) => colours.map((c) => labOf(c, toXyz));
  const wanted = labs(targets);
  const apart = (colours: readonly Vector3[]) => labs(colours).map((lab, i) => ciede2000(lab, wanted[i]!));
  const through = ({ matrix, offset }: LinearFit) =>
    apart(measured.map((m) => apply3(matrix, m).map((v, c) => v + offset[c]!) as unknown as Vector3));
  const before = apart(measured.map((m) => m.map((v) => gain * v) as unknown as Vector3));
  const after = through(full);
  const averageAfter = average(after, weights);
  return {
    matrix: full.matrix.map((v) => v * scaled) as unknown as Matrix3,
    offset: full.offset.map((v) => v * scaled) as unknown as Vector3,
    before,
    after,
    averageBefore: average(before, weights),
    averageAfter,
    averageWithOffset: withOffset
      ? averageAfter
      : average(through(leastSquares(measured, targets, weights, true)), weights),
  };
}

const average = (values: readonly number[], weights: readonly number[]): number =>
  values.reduce((n, v, i) => n + v * Number(weights[i]! > 0), 0) / Math.max(1, weights.filter((w) => w > 0).length);

/** The one gain that takes measured light nearest to its targets. */
function bestGain(measured: readonly Vector3[], targets: readonly Vector3[], weights: readonly number[]): number {
  let [top, bottom] = [0, 0];
  measured.forEach((m, i) =>
    m.forEach((v, c) => {
      top += weights[i]! * v * targets[i]![c]!;
      bottom += weights[i]! * v * v;
    }),
  );
  return bottom > 0 ? top / bottom : 1;
}

export interface LinearFit {
  readonly matrix: Matrix3;
  readonly offset: Vector3;
}

/** For each row of the matrix the normal equations, solved by elimination with pivots; an offset is the factor of a fourth number, 1. */
export function leastSquares(
  measured: readonly Vector3[],
  targets: readonly Vector3[],
  weights: readonly number[],
  withOffset = false,
): LinearFit {
  const known = measured.map((m) => (withOffset ? [...m, 1] : [...m]));
  const unknowns = Array.from({ length: withOffset ? 4 : 3 }, (_, i) => i);
  const sum = (of: (i: number) => number) => known.reduce((n, _, i) => n + weights[i]! * of(i), 0);
  const normal = unknowns.map((r) => unknowns.map((c) => sum((i) => known[i]![r]! * known[i]![c]!)));
  const rows = [0, 1, 2].map((row) => {
    const right = unknowns.map((c) => sum((i) => known[i]![c]! * targets[i]![row]!));
    return solved(normal.map((r, i) => [...r, right[i]!]));
  });
  return {
    matrix: rows.flatMap((r) => r.slice(0, 3)) as unknown as Matrix3,
    offset: rows.map((r) => r[3] ?? 0) as unknown as Vector3,
  };
}

/** A system of equations, each with its right side last. */
function solved(system: number[][]): number[] {
  const n = system.length;
  for (let column = 0; column < n; column++) {
    let best = column;
    for (let row = column + 1; row < n; row++)
      if (Math.abs(system[row]![column]!) > Math.abs(system[best]![column]!)) best = row;
    [system[column], system[best]] = [system[best]!, system[column]!];
    const pivot = system[column]![column]!;
    if (!(Math.abs(pivot) > 1e-12))
      throw new ChartError('These patches do not span colour: no matrix can be told from them.');
    for (let row = 0; row < n; row++) {
      if (row === column) continue;
      const factor = system[row]![column]! / pivot;
      for (let k = column; k <= n; k++) system[row]![k]! -= factor * system[column]![k]!;
    }
  }
  return system.map((row, i) => row[n]! / row[i]!);
}

/** Light to CIELAB against the space's own white: ISO/CIE 11664-4:2019. */
function labOf(light: Vector3, toXyz: Matrix3): Lab {
  const [x, y, z] = apply3(toXyz, light);
  const [wx, wy, wz] = apply3(toXyz, [1, 1, 1]);
  const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : (24389 / 27 / 116) * t + 16 / 116);
  const [fx, fy, fz] = [f(x / wx), f(y / wy), f(z / wz)];
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}
