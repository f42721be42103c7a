import { sampleGrid } from '../geometry.ts';
import { concat } from '../attributes.ts';
import type { ChunkToPack } from './chunk.ts';
import { halfTable } from './chunk.ts';
import { codecHeap } from './codecKernels.ts';

/** 4x4 blocks of halves in 14 bytes, flat ones in 3 for B44A; other types stay as they are (OpenEXR, ImfB44Compressor). */
export function packB44({ compression, channels, box, rows }: ChunkToPack): Uint8Array {
  return concat(
    channels.map((c, i) => {
      if (c.type !== 'half') return rows[i]!;
      const { width, height } = sampleGrid(c, box);
      const heap = codecHeap();
      const src = heap.place(rows[i]!);
      const dst = heap.allocate(Math.ceil(width / 4) * Math.ceil(height / 4) * 14);
      if (c.perceptuallyLinear) toExponential(heap.halves(src, width * height));
      const flat = compression === 'b44a' ? 1 : 0;
      const length = heap.kernels.packBlocks44(src, width, height, dst, flat, c.perceptuallyLinear ? 0 : 1);
      return heap.bytes(dst, length).slice();
    }),
  );
}

let expTable: Uint16Array | undefined;
/** Channels marked as perceptually linear are packed as exp(x / 8) (OpenEXR, b44ExpLogTable). */
function toExponential(samples: Uint16Array): void {
  expTable ??= halfTable((x) => (x >= 8 * Math.log(65504) ? 65504 : Math.exp(x / 8)));
  for (let i = 0; i < samples.length; i++) samples[i] = expTable[samples[i]!]!;
}
