/** A 3x3 matrix, row by row, in float64. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];
export type Vector3 = readonly [number, number, number];

export const identity3: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** a · b: applies b first. */
export function multiply3(a: Matrix3, b: Matrix3): Matrix3 {
  const out: number[] = [];
  for (let row = 0; row < 3; row++) {
    for (let column = 0; column < 3; column++) {
      out.push(a[row * 3]! * b[column]! + a[row * 3 + 1]! * b[3 + column]! + a[row * 3 + 2]! * b[6 + column]!);
    }
  }
  return out as unknown as Matrix3;
}

export function apply3(m: Matrix3, v: Vector3): Vector3 {
  return [
    m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
    m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
    m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
  ];
}

/** The inverse. Throws a RangeError when the determinant is 0. */
export function invert3(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (det === 0) throw new RangeError('A matrix without an inverse cannot be turned round.');
  const s = [e * i - f * h, c * h - b * i, b * f - c * e, f * g - d * i, a * i - c * g, c * d - a * f];
  return [...s, d * h - e * g, b * g - a * h, a * e - b * d].map((x) => x / det) as unknown as Matrix3;
}

export function diagonal3(x: number, y: number, z: number): Matrix3 {
  return [x, 0, 0, 0, y, 0, 0, 0, z];
}

export function isIdentity3(m: Matrix3, tolerance = 1e-12): boolean {
  return m.every((x, i) => Math.abs(x - identity3[i]!) <= tolerance);
}
