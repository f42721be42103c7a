import { tapsOf, type Side } from './resample.ts';
import type { Window } from './level.ts';

/** How the samples of one side lie under those of a window of it. */
const sideOf = (from: number, length: number, to: number): Side => {
  const scale = to / length;
  return { scale, start: from + 0.5 / scale - 0.5 };
};

/**
 * A window of a plane in another size, filtered by the cubic of Mitchell and Netravali (see `mitchell`), wider where it is made smaller. Samples
 * outside of the plane are those of its edge. `plane` is `width` wide, top to bottom; linear light, premultiplied where there is alpha. A window
 * that keeps its size is copied, sample for sample.
 */
export function resizePlane(
  plane: Float32Array,
  width: number,
  window: Window,
  to: { readonly width: number; readonly height: number },
): Float32Array {
  const height = plane.length / width;
  const wide = across(plane, width, sideOf(window.x, window.width, to.width), to.width);
  return down(wide, to.width, height, sideOf(window.y, window.height, to.height), to.height);
}

const keeps = ({ scale, start }: Side) => scale === 1 && Number.isInteger(start);

function across(plane: Float32Array, width: number, side: Side, count: number): Float32Array {
  const { first, at, weights } = tapsOf(side, 0, count, !keeps(side));
  const lines = plane.length / width;
  const out = new Float32Array(count * lines);
  for (let y = 0; y < lines; y++) {
    const row = y * width;
    for (let x = 0; x < count; x++) {
      let sum = 0;
      for (let i = at[x]!, j = first[x]!; i < at[x + 1]!; i++, j++)
        sum += weights[i]! * plane[row + (j < 0 ? 0 : j >= width ? width - 1 : j)]!;
      out[y * count + x] = sum;
    }
  }
  return out;
}

function down(plane: Float32Array, width: number, height: number, side: Side, count: number): Float32Array {
  const { first, at, weights } = tapsOf(side, 0, count, !keeps(side));
  const out = new Float32Array(width * count);
  for (let y = 0; y < count; y++)
    for (let i = at[y]!, j = first[y]!; i < at[y + 1]!; i++, j++) {
      const row = (j < 0 ? 0 : j >= height ? height - 1 : j) * width;
      const weight = weights[i]!;
      for (let x = 0; x < width; x++) out[y * width + x] = out[y * width + x]! + weight * plane[row + x]!;
    }
  return out;
}
