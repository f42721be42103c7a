import { concat } from '../attributes.ts';
import { sampleGrid } from '../geometry.ts';
import type { ChunkToPack } from './chunk.ts';
import { packHuffman } from './packHuffman.ts';
import { sampleBytes } from '../types.ts';

/** Renumbers the values that occur, takes each channel's wavelet, packs all with a Huffman code (OpenEXR, ImfPizCompressor). */
export function packPiz({ channels, box, rows }: ChunkToPack): Uint8Array {
  const joined = concat(rows);
  const values = new Uint16Array(joined.buffer);
  const bitmap = new Uint8Array(8192);
  for (const v of values) bitmap[v >> 3]! |= 1 << (v & 7);
  bitmap[0]! &= 254; // zero is always in the table
  const table = new Uint16Array(65536);
  let used = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3]! & (1 << (i & 7))) table[i] = used++;
  for (let i = 0; i < values.length; i++) values[i] = table[values[i]!]!;
  let start = 0;
  for (const channel of channels) {
    const { width, height } = sampleGrid(channel, box);
    const words = sampleBytes[channel.type] / 2;
    for (let k = 0; k < words; k++) wavelet(values, start + k, width, words, height, width * words, used - 1 < 1 << 14);
    start += width * height * words;
  }
  let least = bitmap.findIndex((b) => b !== 0);
  let most = 8191;
  while (most > 0 && bitmap[most] === 0) most--;
  const empty = least < 0;
  if (empty) [least, most] = [8191, 0];
  const packed = packHuffman(values);
  const head = new Uint8Array(4);
  new DataView(head.buffer).setUint16(0, least, true);
  new DataView(head.buffer).setUint16(2, most, true);
  const length = new Uint8Array(4);
  new DataView(length.buffer).setInt32(0, packed.length, true);
  return concat([head, empty ? new Uint8Array(0) : bitmap.subarray(least, most + 1), length, packed]);
}

let [low, high] = [0, 0];
function join14(a: number, b: number): void {
  const [x, y] = [(a << 16) >> 16, (b << 16) >> 16];
  low = (x + y) >> 1;
  high = x - y;
}
function join16(a: number, b: number): void {
  const x = (a + 0x8000) & 0xffff;
  const difference = x - b;
  low = (x + b) >> 1;
  if (difference < 0) low = (low + 0x8000) & 0xffff;
  high = difference & 0xffff;
}

/** The wavelet that the codec module's `inverseWavelet` undoes. */
function wavelet(v: Uint16Array, at: number, nx: number, ox: number, ny: number, oy: number, w14: boolean): void {
  const join = w14 ? join14 : join16;
  const pair = (a: number, b: number) => {
    join(v[a]!, v[b]!);
    v[a] = low;
    v[b] = high;
  };
  const n = Math.min(nx, ny);
  for (let p = 1, p2 = 2; p2 <= n; p = p2, p2 <<= 1) {
    const [right, down] = [ox * p, oy * p];
    let y = 0;
    for (; y <= ny - p2; y += p2) {
      let x = 0;
      for (; x <= nx - p2; x += p2) {
        const i = at + y * oy + x * ox;
        pair(i, i + right);
        pair(i + down, i + down + right);
        pair(i, i + down);
        pair(i + right, i + down + right);
      }
      if (nx & p) pair(at + y * oy + x * ox, at + y * oy + x * ox + down);
    }
    if (ny & p) for (let x = 0; x <= nx - p2; x += p2) pair(at + y * oy + x * ox, at + y * oy + x * ox + right);
  }
}
