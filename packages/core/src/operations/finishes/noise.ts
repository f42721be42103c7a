import type { Heap } from '../../kernel/heap.ts';
import { pcgHash } from '../../kernel/pcgHash.ts';

/** The spread of a sum of four bytes of 0 … 255, each as likely: each has a variance of (256² − 1) / 12. */
const spreadOfFour = Math.sqrt((4 * (256 * 256 - 1)) / 12);

/**
 * Fills `rows` rows of a plane in the heap, the first of them row `top` of the picture, with numbers of mean 0 and spread 1, nearly normal; each
 * hangs on its place, the frame, a seed and a channel alone.
 */
export function gaussianNoise(
  heap: Heap,
  plane: number,
  { width, top, rows }: { readonly width: number; readonly top: number; readonly rows: number },
  frame: number,
  seed: number,
  channel: number,
): void {
  const base = pcgHash(
    (pcgHash(Math.round(seed) + 0x9e37) ^ Math.imul(Math.round(frame) | 0, 0x85ebca6b) ^ (channel << 28)) >>> 0,
  );
  for (let y = 0; y < rows; y++) {
    const row = pcgHash((base ^ Math.imul(top + y + 1, 0xc2b2ae35)) >>> 0);
    heap.kernels.noiseRow(plane + y * width * 4, width, row, spreadOfFour);
  }
}
