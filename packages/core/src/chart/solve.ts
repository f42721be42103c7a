import { apply3, type Matrix3, type Vector3 } from '../colour/matrix.ts';
import { ciede2000, type Lab } from '../proof/ciede2000.ts';

/** How a chart's patches were brought to their targets. */
export interface ChartSolution {
  /** Measured light to target light, row by row. */
  readonly matrix: Matrix3;
  /** CIEDE2000 of each patch: with the best exposure alone, and with the matrix. */
  readonly before: readonly number[];
  readonly after: readonly number[];
  readonly averageBefore: number;
  readonly averageAfter: number;
}

/** Too few patches count, or they do not span colour: no matrix can be told. */
export class ChartError extends Error {}

/**
 * The 3x3 matrix that takes measured light nearest to its targets, by weighted least squares in linear light (the normal equations). With
 * `keepsExposure` its overall brightness is left alone: it is divided by the exposure that greys would have needed. `toXyz` takes the space's
 * light to XYZ, its white to (x/y, 1, z/y): CIEDE2000 is judged against that white. Throws a ChartError where patches do not span colour.
 */
export function solveChart(
  measured: readonly Vector3[],
  targets: readonly Vector3[],
  weights: readonly number[],
  toXyz: Matrix3,
  keepsExposure = false,
): ChartSolution {
  const gain = bestGain(measured, targets, weights);
  const full = leastSquares(measured, targets, weights);
  const scaled = keepsExposure ? 1 / gain : 1;
  const labs = (colours: readonly Vector3[]) => colours.map((c) => labOf(c, toXyz));
  const wanted = labs(targets);
  const apart = (colours: readonly Vector3[]) => labs(colours).map((lab, i) => ciede2000(lab, wanted[i]!));
  const before = apart(measured.map((m) => m.map((v) => gain * v) as unknown as Vector3));
  const after = apart(measured.map((m) => apply3(full, m)));
  return {
    matrix: full.map((v) => v * scaled) as unknown as Matrix3,
    before,
    after,
    averageBefore: average(before, weights),
    averageAfter: average(after, weights),
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

/** For each row of the matrix the normal equations, solved by elimination with pivots. */
export function leastSquares(
  measured: readonly Vector3[],
  targets: readonly Vector3[],
  weights: readonly number[],
): Matrix3 {
  const normal = [0, 1, 2].map((r) =>
    [0, 1, 2].map((c) => measured.reduce((n, m, i) => n + weights[i]! * m[r]! * m[c]!, 0)),
  );
  const rows = [0, 1, 2].map((row) => {
    const right = [0, 1, 2].map((c) => measured.reduce((n, m, i) => n + weights[i]! * m[c]! * targets[i]![row]!, 0));
    return solve3(normal.map((r, i) => [...r, right[i]!]));
  });
  return rows.flat() as unknown as Matrix3;
}

function solve3(system: number[][]): number[] {
  for (let column = 0; column < 3; column++) {
    let best = column;
    for (let row = column + 1; row < 3; row++)
      if (Math.abs(system[row]![column]!) > Math.abs(system[best]![column]!)) best = row;
    [system[column], system[best]] = [system[best]!, system[column]!];
    const pivot = system[column]![column]!;
    if (!(Math.abs(pivot) > 1e-12))
      throw new ChartError('These patches do not span colour: no matrix can be told from them.');
    for (let row = 0; row < 3; row++) {
      if (row === column) continue;
      const factor = system[row]![column]! / pivot;
      for (let k = column; k < 4; k++) system[row]![k]! -= factor * system[column]![k]!;
    }
  }
  return [0, 1, 2].map((i) => system[i]![3]! / system[i]![i]!);
}

/** Light to CIELAB against the space's own white: ISO/CIE 11664-4:2019. */
function labOf(light: Vector3, toXyz: Matrix3): Lab {
  const [x, y, z] = apply3(toXyz, light);
  const [wx, wy, wz] = apply3(toXyz, [1, 1, 1]);
  const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : (24389 / 27 / 116) * t + 16 / 116);
  const [fx, fy, fz] = [f(x / wx), f(y / wy), f(z / wz)];
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}
