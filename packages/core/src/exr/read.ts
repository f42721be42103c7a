import { unpackChunk } from './codecs.ts';
import {
  boxHeight,
  boxWidth,
  ExrError,
  linesPerChunk,
  sampleBytes,
  type Box,
  type ByteCodec,
  type ExrChannel,
  type ExrFile,
  type ExrPart,
} from './types.ts';

/** One channel's samples over a region, row by row from the top; the array's type follows the channel's. */
export type Plane = Uint16Array<ArrayBuffer> | Float32Array<ArrayBuffer> | Uint32Array<ArrayBuffer>;

export interface ReadResult {
  /** What was read: the asked region cut to the data window. */
  readonly region: Box;
  /** In the order asked for. Halves as Uint16Array of bit patterns. */
  readonly planes: readonly Plane[];
  /** First and last lines (inclusive) that the file does not hold whole; their samples are 0. */
  readonly missing: readonly (readonly [number, number])[];
}

/**
 * Reads some channels of one part over a region (default: the data window), touching only that region's chunks.
 * Damaged or absent chunks are reported in `missing` and do not stop the rest.
 * Throws an ExrError for a part, channel or kind of picture that cannot be read.
 */
export async function readChannels(
  file: ExrFile,
  partIndex: number,
  names: readonly string[],
  codec: ByteCodec,
  region?: Box,
): Promise<ReadResult> {
  const part = readablePart(file, partIndex);
  const channels = names.map((name) => {
    const channel = part.channels.find((c) => c.name === name);
    if (!channel) throw new ExrError(file.source.name, `part ${partIndex} has no channel named "${name}".`);
    return channel;
  });
  const cut = intersect(region ?? part.dataWindow, part.dataWindow);
  if (!cut) throw new ExrError(file.source.name, 'the region asked for lies outside the data window.');
  const samples = boxWidth(cut) * boxHeight(cut);
  const planes = channels.map((c) => newPlane(c, samples));
  const missing: [number, number][] = [];
  const lines = linesPerChunk[part.compression];
  const first = Math.floor((cut.yMin - part.dataWindow.yMin) / lines);
  const last = Math.floor((cut.yMax - part.dataWindow.yMin) / lines);
  const ends = chunkEnds(file);
  for (let chunk = first; chunk <= last; chunk++) {
    const top = part.dataWindow.yMin + chunk * lines;
    const bottom = Math.min(top + lines - 1, part.dataWindow.yMax);
    const raw = await readChunk(file, part, chunk, top, bottom, ends, codec);
    if (raw) scatterChunk(part, channels, raw, top, bottom, cut, planes);
    else noteMissing(missing, Math.max(top, cut.yMin), Math.min(bottom, cut.yMax));
  }
  return { region: cut, planes, missing };
}

/** The part, or an ExrError that says by name what about it cannot be read. */
function readablePart(file: ExrFile, index: number): ExrPart {
  const part = file.parts[index];
  const name = file.source.name;
  if (!part) throw new ExrError(name, `there is no part ${index}; the file has ${file.parts.length}.`);
  if (part.type.startsWith('deep')) throw new ExrError(name, 'deep pixels cannot be read, only their header.');
  if (part.type !== 'scanlineimage') throw new ExrError(name, `pixels stored as ${part.type} cannot be read yet.`);
  if (part.channels.some((c) => c.xSampling !== 1 || c.ySampling !== 1)) {
    throw new ExrError(name, 'sub-sampled channels cannot be read yet.');
  }
  return part;
}

export function newPlane(channel: ExrChannel, samples: number): Plane {
  if (channel.type === 'half') return new Uint16Array(samples);
  return channel.type === 'float' ? new Float32Array(samples) : new Uint32Array(samples);
}

function intersect(a: Box, b: Box): Box | undefined {
  const box = {
    xMin: Math.max(a.xMin, b.xMin),
    yMin: Math.max(a.yMin, b.yMin),
    xMax: Math.min(a.xMax, b.xMax),
    yMax: Math.min(a.yMax, b.yMax),
  };
  return box.xMin <= box.xMax && box.yMin <= box.yMax ? box : undefined;
}

/** All chunk starts of the file in order, to know where each one may end. */
function chunkEnds(file: ExrFile): Float64Array {
  const all = file.parts.flatMap((p) => Array.from(p.offsets).filter((o) => !Number.isNaN(o)));
  return Float64Array.from([...all, file.source.size]).sort();
}

function endAfter(ends: Float64Array, start: number): number {
  let low = 0;
  let high = ends.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ends[middle]! > start) high = middle;
    else low = middle + 1;
  }
  return ends[low]!;
}

/** One chunk's raw bytes, or undefined when the file does not hold it whole and sound. */
async function readChunk(
  file: ExrFile,
  part: ExrPart,
  chunk: number,
  top: number,
  bottom: number,
  ends: Float64Array,
  codec: ByteCodec,
): Promise<Uint8Array | undefined> {
  const start = part.offsets[chunk]!;
  if (Number.isNaN(start)) return undefined;
  const lead = file.multiPart ? 12 : 8;
  const lineBytes = part.channels.reduce((n, c) => n + sampleBytes[c.type], 0) * boxWidth(part.dataWindow);
  const size = lineBytes * (bottom - top + 1);
  const available = endAfter(ends, start) - start;
  if (available < lead) return undefined;
  const bytes = await file.source.read(start, Math.min(available, lead + size));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packed = view.getInt32(lead - 4, true);
  const rightPart = !file.multiPart || view.getInt32(0, true) === part.index;
  if (!rightPart || view.getInt32(lead - 8, true) !== top || packed < 0 || lead + packed > bytes.length)
    return undefined;
  try {
    return unpackChunk(file.source.name, part.compression, bytes.subarray(lead, lead + packed), size, codec);
  } catch (error) {
    if (error instanceof ExrError && /cannot be read yet/.test(error.message)) throw error;
    return undefined;
  }
}

/** Copies the wanted channels and columns out of a raw chunk: per line, all channels in name order. */
function scatterChunk(
  part: ExrPart,
  channels: readonly ExrChannel[],
  raw: Uint8Array,
  top: number,
  bottom: number,
  cut: Box,
  planes: readonly Plane[],
): void {
  const width = boxWidth(part.dataWindow);
  const lineBytes = part.channels.reduce((n, c) => n + sampleBytes[c.type], 0) * width;
  let before = 0;
  for (const channel of part.channels) {
    const bytes = sampleBytes[channel.type];
    channels.forEach((wanted, i) => {
      if (wanted !== channel) return;
      const plane = planes[i]!;
      const target = new Uint8Array(plane.buffer);
      const rowBytes = boxWidth(cut) * bytes;
      for (let y = Math.max(top, cut.yMin); y <= Math.min(bottom, cut.yMax); y++) {
        const from = (y - top) * lineBytes + before + (cut.xMin - part.dataWindow.xMin) * bytes;
        target.set(raw.subarray(from, from + rowBytes), (y - cut.yMin) * rowBytes);
      }
    });
    before += bytes * width;
  }
}

function noteMissing(missing: [number, number][], top: number, bottom: number): void {
  const last = missing.at(-1);
  if (last && last[1] === top - 1) last[1] = bottom;
  else missing.push([top, bottom]);
}
