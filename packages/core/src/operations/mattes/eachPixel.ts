import type { Heap } from '../../kernel/heap.ts';

interface Pixels {
  readonly heap: Heap;
  readonly to: number;
  readonly level: number;
  readonly width: number;
  readonly top: number;
  readonly end: number;
}

/** Fills a matte by where pixels lie: their middles, in pixels of the full picture. */
export function eachPixel({ heap, to, level, width, top, end }: Pixels, value: (x: number, y: number) => number): void {
  const plane = heap.floats(to, (end - top) * width);
  const side = 2 ** level;
  for (let y = top, i = 0; y < end; y++)
    for (let x = 0; x < width; x++, i++) plane[i] = value((x + 0.5) * side, (y + 0.5) * side);
}
