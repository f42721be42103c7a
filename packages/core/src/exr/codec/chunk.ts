import { halfToNumber, numberToHalf } from '../../image/half.ts';
import type { Heap } from '../../kernel/heap.ts';
import { sampleGrid, type SampleGrid } from '../geometry.ts';
import { sampleBytes, type Box, type ByteCodec, type Compression, type ExrChannel } from '../types.ts';
import type { CodecKernels } from './codecKernels.ts';

/** Where a channel's rows lie in an unpacked chunk's bytes. */
export interface ChannelRows {
  readonly at: number;
  readonly stride: number;
}

/** A chunk's samples. `bytes` may lie in the codec module's memory: good until the next chunk is unpacked. */
export interface Unpacked {
  readonly bytes: Uint8Array;
  /** By channel, in the part's order; undefined for what was not wanted. */
  readonly channels: readonly (ChannelRows | undefined)[];
}

/** Bytes that are not what their codec makes. */
export class DamagedChunk extends Error {}

export interface ChunkToUnpack {
  readonly compression: Compression;
  readonly channels: readonly ExrChannel[];
  /** By channel: what nobody wants is not unpacked further than the codec demands. */
  readonly wanted: readonly boolean[];
  readonly box: Box;
  readonly packed: Uint8Array;
  readonly codec: ByteCodec;
}

export const grids = ({ channels, box }: Pick<ChunkToUnpack, 'channels' | 'box'>): SampleGrid[] =>
  channels.map((c) => sampleGrid(c, box));

/** Bytes of a chunk before packing. */
export function rawSize(channels: readonly ExrChannel[], box: Box): number {
  return channels.reduce((n, c) => {
    const { width, height } = sampleGrid(c, box);
    return n + width * height * sampleBytes[c.type];
  }, 0);
}

export interface ChunkToPack {
  readonly compression: Compression;
  /** In the order they are stored. */
  readonly channels: readonly ExrChannel[];
  readonly box: Box;
  /** By channel: its samples in the box, row after row. */
  readonly rows: readonly Uint8Array[];
  readonly codec: ByteCodec;
}

/** Inflates to exactly `size` bytes. */
export function inflate(codec: ByteCodec, packed: Uint8Array, size: number): Uint8Array {
  let raw: Uint8Array;
  try {
    raw = codec.inflate(packed, size);
  } catch (error) {
    throw new DamagedChunk((error as Error).message);
  }
  if (raw.length !== size) throw new DamagedChunk(`${raw.length} bytes where ${size} belong`);
  return raw;
}

export function unrun(heap: Heap<CodecKernels>, packed: Uint8Array, size: number): number {
  const src = heap.place(packed);
  const dst = heap.allocate(size);
  if (heap.kernels.unpackRuns(src, packed.length, dst, size)) throw new DamagedChunk('run lengths');
  return dst;
}

/** A table from half to half; what is not finite becomes 0. */
export function halfTable(curve: (x: number) => number): Uint16Array {
  return Uint16Array.from({ length: 65536 }, (_, bits) => {
    const x = halfToNumber(bits);
    return Number.isFinite(x) ? numberToHalf(curve(x)) : 0;
  });
}
