import { codecHeap } from './codecKernels.ts';
import { sampleGrid } from './geometry.ts';
import { packB44 } from './packB44.ts';
import { packDwa } from './packDwa.ts';
import { packPiz } from './packPiz.ts';
import { rawSize } from './unpack.ts';
import { sampleBytes, type Box, type ByteCodec, type Compression, type ExrChannel } from './types.ts';

export interface ChunkToPack {
  readonly compression: Compression;
  /** In the order they are stored. */
  readonly channels: readonly ExrChannel[];
  readonly box: Box;
  /** By channel: its samples in the box, row after row. */
  readonly rows: readonly Uint8Array[];
  readonly codec: ByteCodec;
}

/** Packs one chunk; returns the raw bytes themselves when packing does not make them smaller. */
export function packChunk(chunk: ChunkToPack): Uint8Array {
  const raw = () => layLines(chunk);
  if (chunk.compression === 'none') return raw();
  const packed = packOnly(chunk, raw);
  return packed.length < rawSize(chunk.channels, chunk.box) ? packed : raw();
}

function packOnly(chunk: ChunkToPack, raw: () => Uint8Array): Uint8Array {
  const { codec } = chunk;
  switch (chunk.compression) {
    case 'piz':
      return packPiz(chunk);
    case 'pxr24':
      return codec.deflate(pxr24Planes(chunk));
    case 'b44':
    case 'b44a':
      return packB44(chunk);
    case 'dwaa':
    case 'dwab':
      return packDwa(chunk);
    case 'rle':
      return packRuns(splitBytes(raw()));
    default:
      return codec.deflate(splitBytes(raw()));
  }
}

/** Lays samples out as most codecs keep them: per line, the channels in order. */
function layLines({ channels, box, rows }: ChunkToPack): Uint8Array {
  const out = new Uint8Array(rawSize(channels, box));
  const next = channels.map(() => 0);
  const lengths = channels.map((c) => sampleGrid(c, box).width * sampleBytes[c.type]);
  let at = 0;
  for (let y = box.yMin; y <= box.yMax; y++) {
    for (let c = 0; c < channels.length; c++) {
      if (y % channels[c]!.ySampling !== 0) continue;
      const from = next[c]!;
      out.set(rows[c]!.subarray(from, from + lengths[c]!), at);
      next[c] = from + lengths[c]!;
      at += lengths[c]!;
    }
  }
  return out;
}

/** Even bytes, odd bytes, differences: what ZIP and RLE do before packing. */
export function splitBytes(bytes: Uint8Array): Uint8Array {
  const heap = codecHeap();
  const src = heap.place(bytes);
  const [dst, scratch] = [heap.allocate(bytes.length), heap.allocate(bytes.length)];
  heap.kernels.splitBytes(src, dst, scratch, bytes.length);
  return heap.bytes(dst, bytes.length).slice();
}

const leastRun = 3;
const longestRun = 127;

/** The counterpart of the codec module's `unpackRuns`: runs of three and more are worth a count. */
export function packRuns(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length + Math.ceil(bytes.length / longestRun) + 2);
  let at = 0;
  const n = bytes.length;
  for (let i = 0; i < n;) {
    let end = i + 1;
    while (end < n && bytes[end] === bytes[i] && end - i - 1 < longestRun) end++;
    if (end - i >= leastRun) {
      out[at++] = end - i - 1;
      out[at++] = bytes[i]!;
      i = end;
      continue;
    }
    while (end < n && end - i < longestRun) {
      if (end + 2 < n && bytes[end] === bytes[end + 1] && bytes[end] === bytes[end + 2]) break;
      end++;
    }
    out[at++] = i - end;
    out.set(bytes.subarray(i, end), at);
    at += end - i;
    i = end;
  }
  return out.subarray(0, at);
}

/** Byte planes of differences, line by line and channel by channel (OpenEXR, ImfPxr24Compressor). */
function pxr24Planes({ channels, box, rows }: ChunkToPack): Uint8Array {
  const kept = { uint: 4, half: 2, float: 3 } as const;
  const grids = channels.map((c) => sampleGrid(c, box));
  const size = channels.reduce((n, c, i) => n + grids[i]!.width * grids[i]!.height * kept[c.type], 0);
  const out = new Uint8Array(size);
  const views = rows.map((r) => new DataView(r.buffer, r.byteOffset, r.byteLength));
  const line = channels.map(() => 0);
  let at = 0;
  for (let y = box.yMin; y <= box.yMax; y++) {
    channels.forEach(({ type, ySampling }, c) => {
      if (y % ySampling !== 0) return;
      const { width } = grids[c]!;
      const view = views[c]!;
      let from = line[c]! * width * sampleBytes[type];
      line[c] = line[c]! + 1;
      const planes = kept[type];
      let before = 0;
      for (let x = 0; x < width; x++, from += sampleBytes[type]) {
        const value =
          type === 'half'
            ? view.getUint16(from, true)
            : type === 'uint'
              ? view.getUint32(from, true)
              : floatTo24(view.getUint32(from, true));
        const difference = value - before;
        before = value;
        for (let p = 0; p < planes; p++) out[at + p * width + x] = difference >>> (8 * (planes - 1 - p));
      }
      at += planes * width;
    });
  }
  return out;
}

/** A float's upper 24 bits, rounded; infinities and NaNs stay what they are. */
function floatTo24(bits: number): number {
  const sign = (bits & 0x80000000) >>> 8;
  const exponent = bits & 0x7f800000;
  const fraction = bits & 0x7fffff;
  if (exponent === 0x7f800000) {
    const kept = fraction >> 8;
    return sign | (exponent >> 8) | (fraction && !kept ? 1 : kept);
  }
  const rounded = ((exponent | fraction) + (fraction & 0x80)) >> 8;
  return sign | (rounded >= 0x7f8000 ? (exponent | fraction) >> 8 : rounded);
}
