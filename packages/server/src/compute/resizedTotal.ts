import { resizePlane, type Heap, type Quad, type Size, type Window } from '@june-haze/core';

/** Gets rows of a picture, red, green, blue and alpha, as the evaluation gives them. */
export type OnBand = (row: number, rows: number, quad: Quad, heap: Heap) => void;

/** The part of the shot's picture that files show, and their size. */
export interface OutputSize extends Size {
  readonly crop: Window;
}

/** Whether files show other pixels than the shot's own. */
export const isResized = ({ crop, width, height }: OutputSize, shot: Size): boolean =>
  crop.width !== shot.width || crop.height !== shot.height || width !== shot.width || height !== shot.height;

/**
 * A total's part in the size of its files: filtered as light, premultiplied, alpha within 0 … 1. `evaluate` gives every row of the total, in any
 * order.
 */
export async function resizedTotal(
  shot: Size,
  { crop, ...size }: OutputSize,
  evaluate: (onBand: OnBand) => Promise<unknown>,
): Promise<Float32Array[]> {
  const total = [0, 1, 2, 3].map(() => new Float32Array(shot.width * shot.height));
  await evaluate((row, rows, quad, heap) =>
    quad.forEach((p, c) => total[c]!.set(heap.floats(p, rows * shot.width), row * shot.width)),
  );
  const resized = total.map((plane) => resizePlane(plane, shot.width, crop, size));
  // The filter's lobes reach beyond what covers.
  const alpha = resized[3]!;
  for (let i = 0; i < alpha.length; i++) alpha[i] = Math.min(1, Math.max(0, alpha[i]!));
  return resized;
}

/** So many lines of a picture that is there already are taken at a time. */
const bandLines = 64;

/** Gives planes band by band from the top, as the evaluation does; `after` is waited for behind each. */
export async function inBands(
  heap: Heap,
  planes: readonly Float32Array[],
  { width, height }: Size,
  onBand: OnBand,
  after: (top: number, end: number) => Promise<void> = async () => {},
): Promise<void> {
  for (let row = 0; row < height; row += bandLines) {
    const rows = Math.min(bandLines, height - row);
    const mark = heap.mark();
    const quad = planes.map(() => heap.allocatePlane(rows * width)) as unknown as Quad;
    planes.forEach((plane, c) =>
      heap.floats(quad[c]!, rows * width).set(plane.subarray(row * width, (row + rows) * width)),
    );
    onBand(row, rows, quad, heap);
    heap.release(mark);
    await after(row, row + rows);
  }
}
