import { halfToNumber } from '../image/half.ts';
import type { Plane } from './plane.ts';

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
