import type { Heap, Quad } from '@june-haze/core';

/** Codes of 8 or 16 bits of some rows' planes, interleaved from a sample on: rounded to the nearest, limited to 0 … 1; what is no number is 0. */
export function packSamples(
  heap: Heap,
  quad: Quad,
  n: number,
  into: { readonly samples: Uint8Array | Uint16Array; readonly channels: 3 | 4; readonly from: number },
): void {
  const { samples, channels, from } = into;
  const most = samples instanceof Uint16Array ? 65535 : 255;
  for (let c = 0; c < channels; c++) {
    const plane = heap.floats(quad[c]!, n);
    for (let i = 0, to = from * channels + c; i < n; i++, to += channels) {
      const v = plane[i]! * most + 0.5;
      samples[to] = v > 0 ? Math.min(most, v) : 0;
    }
  }
}
