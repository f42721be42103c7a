import { sampleGrid } from '../geometry.ts';
import { sampleBytes } from '../types.ts';
import { packRunsAt, splitInto } from './bytes.ts';
import { rawSize, type ChunkToPack } from './chunk.ts';
import { packB44 } from './packB44.ts';
import { packDwa } from './packDwa.ts';
import { packPiz } from './packPiz.ts';

/** Packs one chunk; returns the raw bytes themselves when packing does not make them smaller. */
export function packChunk(chunk: ChunkToPack): Uint8Array {
  const size = rawSize(chunk.channels, chunk.box);
  const raw = () => {
    const out = new Uint8Array(size);
    layLines(chunk, out);
    return out;
  };
  if (chunk.compression === 'none') return raw();
  const packed = packOnly(chunk, size);
  return packed.length < size ? packed : raw();
}

function packOnly(chunk: ChunkToPack, size: number): Uint8Array {
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
      return splitInto(
        size,
        (to) => layLines(chunk, to),
        (heap, at) => packRunsAt(heap, at, size),
      );
    default:
      return splitInto(
        size,
        (to) => layLines(chunk, to),
        (heap, at) => codec.deflate(heap.bytes(at, size)),
      );
  }
}

/** Lays samples out as most codecs keep them: per line, the channels in order. */
function layLines({ channels, box, rows }: ChunkToPack, out: Uint8Array): void {
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
