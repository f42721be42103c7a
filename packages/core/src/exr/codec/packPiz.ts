import { concat } from '../attributes.ts';
import { sampleGrid } from '../geometry.ts';
import type { ChunkToPack } from './chunk.ts';
import { codecHeap } from './codecKernels.ts';
import { packHuffmanAt } from './packHuffman.ts';
import { sampleBytes } from '../types.ts';

const bitmapBytes = 8192;

/** Renumbers the values that occur, takes each channel's wavelet, packs all with a Huffman code (OpenEXR, ImfPizCompressor). */
export function packPiz({ channels, box, rows }: ChunkToPack): Uint8Array {
  const heap = codecHeap();
  const { kernels } = heap;
  const bytes = rows.reduce((n, r) => n + r.length, 0);
  const [at, bits, table] = [heap.allocate(bytes), heap.allocate(bitmapBytes), heap.allocate(2 * 65536)];
  let end = 0;
  for (const row of rows) {
    heap.bytes(at + end, row.length).set(row);
    end += row.length;
  }
  const n = bytes / 2;
  const seen = heap.allocate(65536);
  heap.bytes(seen, 65536).fill(0);
  kernels.markValues(at, n, seen, bits);
  const bitmap = heap.bytes(bits, bitmapBytes).slice();
  bitmap[0]! &= 254; // zero is always in the table
  const largest = numberValues(bitmap, heap.halves(table, 65536)) - 1;
  kernels.applyTable(at, n, table);
  let start = at;
  for (const channel of channels) {
    const { width, height } = sampleGrid(channel, box);
    const words = sampleBytes[channel.type] / 2;
    for (let k = 0; k < words; k++) kernels.forwardWavelet(start + 2 * k, width, words, height, width * words, largest);
    start += 2 * width * height * words;
  }
  const packed = packHuffmanAt(heap, at, n);
  let least = bitmap.findIndex((b) => b !== 0);
  let most = bitmapBytes - 1;
  while (most > 0 && bitmap[most] === 0) most--;
  const empty = least < 0;
  if (empty) [least, most] = [bitmapBytes - 1, 0];
  const head = new Uint8Array(4);
  new DataView(head.buffer).setUint16(0, least, true);
  new DataView(head.buffer).setUint16(2, most, true);
  const length = new Uint8Array(4);
  new DataView(length.buffer).setInt32(0, packed.length, true);
  return concat([head, empty ? new Uint8Array(0) : bitmap.subarray(least, most + 1), length, packed]);
}

/** Numbers the values that occur, in order; returns how many there are. */
function numberValues(bitmap: Uint8Array, table: Uint16Array): number {
  let used = 0;
  table.fill(0);
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3]! & (1 << (i & 7))) table[i] = used++;
  return used;
}
