import type { Heap } from '../kernel/heap.ts';

/** The least and the largest number around each pixel: planes in the heap. That of a pixel lies at `y * stride + x`. */
export interface RangeAround {
  readonly low: number;
  readonly high: number;
  readonly stride: number;
}

/**
 * The least and the largest number within so many rows and columns of each pixel, those outside the picture left out. `plane` holds rows in the
 * heap, without NaN. The answer lies in the heap until the caller's mark is released.
 */
export function rangeAround(heap: Heap, plane: number, width: number, rows: number, within: number): RangeAround {
  const k = heap.kernels;
  // Edge pixels are repeated outwards: they are among those that count anyway.
  const stride = Math.ceil((width + 2 * within) / 4) * 4;
  const n = (rows + 2 * within) * stride;
  const [low, high] = [heap.allocatePlane(n + 2 * within), heap.allocatePlane(n + 2 * within)];
  const [padded, from] = [heap.floats(low, n + 2 * within), heap.floats(plane, rows * width)];
  for (let line = 0; line < rows + 2 * within; line++) {
    const source = Math.min(rows - 1, Math.max(0, line - within)) * width;
    const at = line * stride;
    padded.fill(from[source]!, at, at + within);
    padded.set(from.subarray(source, source + width), at + within);
    padded.fill(from[source + width - 1]!, at + within + width, at + stride);
  }
  padded.fill(from[from.length - 1]!, n);
  k.copyPlane(high, low, n + 2 * within);
  for (const [each, wider] of [
    [low, k.minPlanes],
    [high, k.maxPlanes],
  ] as const) {
    slide(each, n, 1, within, wider);
    slide(each, n, stride, within, wider);
  }
  return { low, high, stride };
}

/**
 * Makes of each sample that of itself and the 2 · `within` that follow it, `step` apart, in place: what was joined already is joined again,
 * so that few passes do. Samples at the end, which too few follow, are left unfinished.
 */
function slide(
  plane: number,
  n: number,
  step: number,
  within: number,
  wider: (total: number, entry: number, n: number) => void,
): void {
  const wanted = 2 * within + 1;
  for (let joined = 1; joined < wanted;) {
    const by = Math.min(joined, wanted - joined);
    const shift = by * step;
    wider(plane, plane + shift * 4, step === 1 ? n : n - shift);
    joined += by;
  }
}
