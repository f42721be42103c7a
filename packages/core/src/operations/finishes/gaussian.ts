import { exp2Exact } from '../../kernel/exactPower.ts';
import type { Heap } from '../../kernel/heap.ts';

/** log2 of e. */
const log2e = 1.4426950408889634;
/** The kernel is cut at this many standard deviations: what lies beyond is under 5e-4 of its sum. */
const cut = 3.5;

/** How many pixels to each side a Gaussian of a standard deviation reaches. */
export const gaussianReach = (deviation: number): number => Math.ceil(cut * deviation);

/** Weights of a sampled Gaussian, the middle's first, so that all of them on both sides sum to 1. The same bits in every engine. */
export function gaussianWeights(deviation: number): Float32Array {
  const reach = gaussianReach(deviation);
  const weights = Float64Array.from({ length: reach + 1 }, (_, k) =>
    exp2Exact((-(k * k) * log2e) / (2 * deviation * deviation)),
  );
  const sum = weights.reduce((all, w, k) => all + (k === 0 ? w : 2 * w), 0);
  return Float32Array.from(weights, (w) => w / sum);
}

/** Where rows of a picture lie, and which of them. */
export interface Rows {
  readonly plane: number;
  readonly top: number;
  readonly end: number;
}

/**
 * A plane through a symmetric kernel along both sides. The picture's edge lines are repeated outwards; what is no finite number counts as
 * 0. `from` holds every row of the picture within reach of those wanted.
 */
export function filterPlane(
  heap: Heap,
  weights: Float32Array,
  from: Rows,
  to: Rows,
  width: number,
  height: number,
): void {
  const k = heap.kernels;
  const reach = weights.length - 1;
  const mark = heap.mark();
  const weightsAt = heap.placeFloats(weights);
  const count = from.end - from.top;
  const along = heap.allocatePlane(count * width);
  const padded = heap.allocatePlane(width + 2 * reach + 4);
  const pointers = heap.allocate((2 * reach + 1) * 4);
  const spare = heap.allocatePlane(width + 4);
  for (let y = 0; y < count; y++) {
    const row = padded + reach * 4;
    k.copyPlane(row, from.plane + y * width * 4, width);
    k.keepFinite(row, width);
    const line = heap.floats(padded, width + 2 * reach + 4);
    line.fill(line[reach]!, 0, reach);
    line.fill(line[reach + width - 1]!, reach + width);
    // What it writes beyond the row is written again with the next.
    k.filterRow(along + y * width * 4, row, width, weightsAt, reach);
  }
  for (let y = to.top; y < to.end; y++) {
    const list = new Uint32Array(k.memory.buffer, pointers, 2 * reach + 1);
    for (let j = -reach; j <= reach; j++) {
      const line = Math.min(height - 1, Math.max(0, y + j));
      list[j + reach] = along + (line - from.top) * width * 4;
    }
    const row = to.plane + (y - to.top) * width * 4;
    const isLast = y === to.end - 1;
    k.filterColumn(isLast ? spare : row, pointers, width, weightsAt, reach);
    // Behind the last row may lie another's.
    if (isLast) k.copyPlane(row, spare, width);
  }
  heap.release(mark);
}
