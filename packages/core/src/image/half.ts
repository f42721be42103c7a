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
