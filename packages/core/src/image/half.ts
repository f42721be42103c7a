import type { Plane } from '../exr/read.ts';
import { narrowToHalf, widenHalf } from '../kernel/twin/half.ts';

const number = new Float32Array(1);
const bits = new Uint32Array(number.buffer);

/** The number that a half's 16 bits stand for. For single values; planes go through the kernels. */
export function halfToNumber(half: number): number {
  bits[0] = widenHalf(half);
  return number[0]!;
}

/** The half nearest to a number, ties to even, by way of float32 as the kernels have it. */
export function numberToHalf(x: number): number {
  number[0] = x;
  return narrowToHalf(bits[0]!);
}

let everyHalf: Float32Array | undefined;

/** A plane as float32; halves and whole numbers are widened. */
export function asFloats(plane: Plane): Float32Array {
  if (plane instanceof Float32Array) return plane;
  if (plane instanceof Uint32Array) return Float32Array.from(plane);
  everyHalf ??= Float32Array.from({ length: 65536 }, (_, half) => halfToNumber(half));
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = everyHalf[plane[i]!]!;
  return out;
}
