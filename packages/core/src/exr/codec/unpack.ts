import type { Heap } from '../../kernel/heap.ts';
import { sampleBytes, type Box, type Compression, type ExrChannel } from '../types.ts';
import type { SampleGrid } from '../geometry.ts';
import {
  DamagedChunk,
  grids,
  halfTable,
  inflate,
  rawSize,
  unrun,
  type ChannelRows,
  type ChunkToUnpack,
  type Unpacked,
} from './chunk.ts';
import { codecHeap, type CodecKernels } from './codecKernels.ts';
import { unpackDwa } from './unpackDwa.ts';

/**
 * How many bytes one packed byte can become at most: zlib 1,032 (RFC 1951: 258 bytes for two bits), run lengths 64, a Huffman run
 * 256 values for ten bits, a flat B44A block 32 for 3; DWA's deflated DC value stands for a block of 64 halves.
 */
const largestRatio: Readonly<Record<Compression, number>> = {
  none: 1,
  rle: 64,
  zips: 1032,
  zip: 1032,
  piz: 512,
  pxr24: 1376,
  b44: 10,
  b44a: 11,
  dwaa: 132_096,
  dwab: 132_096,
};

/** Unpacks one chunk. Throws a DamagedChunk when its bytes are not sound, before anything large is allocated for them. */
export function unpackChunk(chunk: ChunkToUnpack): Unpacked {
  const size = rawSize(chunk.channels, chunk.box);
  const { compression, packed } = chunk;
  if (size > packed.length * largestRatio[compression]) throw new DamagedChunk('too few bytes');
  // A chunk that packing would not make smaller is stored as it is, whatever the codec.
  if (compression === 'none' || packed.length >= size) {
    if (packed.length !== size) throw new DamagedChunk(`${packed.length} bytes where ${size} belong`);
    return inLines(chunk, packed, 0);
  }
  const heap = codecHeap();
  if (compression === 'piz') return unpackPiz(chunk, size, heap);
  if (compression === 'b44' || compression === 'b44a') return unpackB44(chunk, heap);
  if (compression === 'dwaa' || compression === 'dwab') return unpackDwa(chunk, heap);
  if (compression === 'pxr24') return unpackPxr24(chunk, size, heap);
  const mixed = compression === 'rle' ? unrun(heap, packed, size) : heap.place(inflate(chunk.codec, packed, size));
  const raw = heap.allocate(size);
  heap.kernels.restoreBytes(mixed, raw, size);
  return inLines(chunk, heap.bytes(raw, size), 0);
}

/** Samples as most codecs keep them: per line, the channels in order. */
function inLines({ channels, box, wanted }: ChunkToUnpack, bytes: Uint8Array, base: number): Unpacked {
  const rows = grids({ channels, box });
  if (channels.every((c) => c.ySampling === 1)) {
    const lengths = channels.map((c, i) => rows[i]!.width * sampleBytes[c.type]);
    const stride = lengths.reduce((a, b) => a + b, 0);
    let before = base;
    const places = lengths.map((length, i) => {
      const at = before;
      before += length;
      return wanted[i] ? { at, stride } : undefined;
    });
    return { bytes, channels: places };
  }
  return fromUnevenLines(channels, box, rows, bytes, base);
}

/** Lines of sub-sampled channels differ in length: gathers every channel's rows. */
function fromUnevenLines(
  channels: readonly ExrChannel[],
  box: Box,
  rows: readonly SampleGrid[],
  bytes: Uint8Array,
  base: number,
): Unpacked {
  const out = new Uint8Array(bytes.length - base);
  const places: ChannelRows[] = [];
  let total = 0;
  channels.forEach((c, i) => {
    const stride = rows[i]!.width * sampleBytes[c.type];
    places.push({ at: total, stride });
    total += stride * rows[i]!.height;
  });
  const next = places.map((p) => p.at);
  let from = base;
  for (let y = box.yMin; y <= box.yMax; y++) {
    channels.forEach((c, i) => {
      if (y % c.ySampling !== 0) return;
      const { stride } = places[i]!;
      out.set(bytes.subarray(from, from + stride), next[i]);
      next[i] = next[i]! + stride;
      from += stride;
    });
  }
  return { bytes: out, channels: places };
}

/** Wavelet and Huffman: every channel as one or two 16-bit pictures, values renumbered by a table (OpenEXR, ImfPizCompressor). */
function unpackPiz(chunk: ChunkToUnpack, size: number, heap: Heap<CodecKernels>): Unpacked {
  const { channels, packed, wanted } = chunk;
  if (packed.length < 8) throw new DamagedChunk('too short');
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const [least, most] = [view.getUint16(0, true), view.getUint16(2, true)];
  const bitmap = new Uint8Array(8192);
  let at = 4;
  if (least <= most) {
    if (most >= 8192 || at + most - least + 1 > packed.length) throw new DamagedChunk('value table');
    bitmap.set(packed.subarray(at, at + most - least + 1), least);
    at += most - least + 1;
  }
  if (at + 4 > packed.length) throw new DamagedChunk('too short');
  const length = view.getInt32(at, true);
  at += 4;
  if (length < 0 || at + length > packed.length) throw new DamagedChunk('Huffman length');
  const table = heap.allocate(131072);
  const entries = heap.halves(table, 65536).fill(0);
  let used = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3]! & (1 << (i & 7))) entries[used++] = i;
  const src = heap.place(packed.subarray(at, at + length));
  const out = heap.allocate(size);
  const scratch = heap.allocate(1 << 20);
  const values = size / 2;
  if (heap.kernels.unpackHuffman(src, length, out, values, scratch)) throw new DamagedChunk('Huffman code');
  let before = out;
  const places = grids(chunk).map(({ width, height }, i) => {
    const words = sampleBytes[channels[i]!.type] / 2;
    const start = before;
    before += width * height * words * 2;
    if (!wanted[i]) return undefined;
    for (let k = 0; k < words; k++)
      heap.kernels.inverseWavelet(start + 2 * k, width, words, height, width * words, used - 1);
    heap.kernels.applyTable(start, width * height * words, table);
    return { at: start - out, stride: width * words * 2 };
  });
  return { bytes: heap.bytes(out, size), channels: places };
}

const pxr24Planes = { uint: 4, half: 2, float: 3 } as const;
const pxr24Kinds = { uint: 0, half: 1, float: 2 } as const;

/** Differences in byte planes, floats without their lowest byte, then zlib (OpenEXR, ImfPxr24Compressor). */
function unpackPxr24(chunk: ChunkToUnpack, size: number, heap: Heap<CodecKernels>): Unpacked {
  const { channels, box, packed, codec, wanted } = chunk;
  const rows = grids(chunk);
  const mixedSize = channels.reduce((n, c, i) => n + rows[i]!.width * rows[i]!.height * pxr24Planes[c.type], 0);
  const mixed = heap.place(inflate(codec, packed, mixedSize));
  const out = heap.allocate(size);
  const places: ChannelRows[] = [];
  let before = 0;
  channels.forEach((c, i) => {
    const stride = rows[i]!.width * sampleBytes[c.type];
    places.push({ at: before, stride });
    before += stride * rows[i]!.height;
  });
  const next = places.map((p) => out + p.at);
  let from = mixed;
  for (let y = box.yMin; y <= box.yMax; y++) {
    for (let i = 0; i < channels.length; i++) {
      const { type, ySampling } = channels[i]!;
      if (y % ySampling !== 0) continue;
      const { width } = rows[i]!;
      if (wanted[i]) heap.kernels.unpackPxr24Line(from, next[i]!, width, pxr24Kinds[type]);
      next[i] = next[i]! + places[i]!.stride;
      from += width * pxr24Planes[type];
    }
  }
  return { bytes: heap.bytes(out, size), channels: places.map((p, i) => (wanted[i] ? p : undefined)) };
}

/** Half channels in 4x4 blocks; other types as they are, one channel after the other (OpenEXR, ImfB44Compressor). */
function unpackB44(chunk: ChunkToUnpack, heap: Heap<CodecKernels>): Unpacked {
  const { channels, packed, wanted } = chunk;
  const src = heap.place(packed);
  const block = heap.allocate(32);
  let at = 0;
  const pointers = grids(chunk).map(({ width, height }, i) => {
    const { type, perceptuallyLinear } = channels[i]!;
    const bytes = width * height * sampleBytes[type];
    const dst = wanted[i] ? heap.allocate(bytes) : 0;
    if (type !== 'half') {
      if (at + bytes > packed.length) throw new DamagedChunk('too short');
      if (dst) heap.bytes(dst, bytes).set(packed.subarray(at, at + bytes));
      at += bytes;
    } else {
      const taken = heap.kernels.unpackBlocks44(src + at, packed.length - at, dst, width, height, block);
      if (taken < 0) throw new DamagedChunk('too short');
      at += taken;
      if (dst && perceptuallyLinear) undoExponential(heap.halves(dst, width * height));
    }
    return { dst, stride: width * sampleBytes[type] };
  });
  if (at !== packed.length) throw new DamagedChunk('too long');
  const memory = heap.kernels.memory.buffer;
  return {
    bytes: new Uint8Array(memory),
    channels: pointers.map(({ dst, stride }) => (dst ? { at: dst, stride } : undefined)),
  };
}

let logTable: Uint16Array | undefined;
/** Channels marked as perceptually linear are packed as exp(x / 8) (OpenEXR, b44ExpLogTable). */
function undoExponential(samples: Uint16Array): void {
  logTable ??= halfTable((x) => (x < 0 ? 0 : 8 * Math.log(x)));
  for (let i = 0; i < samples.length; i++) samples[i] = logTable[samples[i]!]!;
}
