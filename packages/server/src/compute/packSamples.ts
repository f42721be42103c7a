import type { Heap, Quad } from '@june-haze/core';

interface Into<T> {
  readonly samples: T;
  readonly channels: 3 | 4;
  /** The first pixel's place. */
  readonly from: number;
}

/**
 * Codes of 8 or 16 bits of some rows' planes, interleaved from a pixel on: rounded to the nearest, limited to 0 … 1; what is no number is 0. Those of
 * 8 bits are the ones that the page shows.
 */
export function packSamples(heap: Heap, quad: Quad, n: number, into: Into<Uint8Array | Uint16Array>): void {
  const { samples, channels, from } = into;
  if (samples instanceof Uint8Array) packColours(heap, quad, n, { samples, channels, from });
  const most = samples instanceof Uint16Array ? 65535 : 255;
  for (let c = samples instanceof Uint8Array ? 3 : 0; c < channels; c++) {
    const plane = heap.floats(quad[c]!, n);
    for (let i = 0, to = from * channels + c; i < n; i++, to += channels) {
      const v = plane[i]! * most + 0.5;
      samples[to] = v > 0 ? Math.min(most, v) : 0;
    }
  }
}

function packColours(heap: Heap, quad: Quad, n: number, { samples, channels, from }: Into<Uint8Array>): void {
  const mark = heap.mark();
  const place = heap.allocate(n * 4);
  heap.kernels.packCodes(quad[0], quad[1], quad[2], place, n);
  const codes = heap.bytes(place, n * 4);
  for (let i = 0, at = 0, to = from * channels; i < n; i++, at += 4, to += channels)
    for (let c = 0; c < 3; c++) samples[to + c] = codes[at + c]!;
  heap.release(mark);
}
