import {
  chunksOver,
  levelBox,
  levelCounts,
  sampleGrid,
  samplesBetween,
  tileLayout,
  type ChunkPlace,
  intersect,
} from './geometry.ts';
import { DamagedChunk, rawSize, type Unpacked } from './codec/chunk.ts';
import { unpackChunk } from './codec/unpack.ts';
import { newPlane, type Plane } from './plane.ts';
import { isStoredInLines, readStoredLines } from './readStored.ts';
import {
  ExrError,
  sampleBytes,
  type Box,
  type ByteCodec,
  type ExrChannel,
  type ExrFile,
  type ExrPart,
} from './types.ts';

export interface ReadOptions {
  /** In the level's coordinates; the whole level when left out. */
  readonly region?: Box;
  /** Level of a tiled part; [0, 0] is the picture. */
  readonly level?: readonly [x: number, y: number];
  /** Planes to read into, as `newPlane` makes them for the region. */
  readonly into?: readonly Plane[];
}

export interface ReadResult {
  /** What was read: the asked region cut to the data window. */
  readonly region: Box;
  /** In the order asked for. A sub-sampled channel has fewer samples than the region has pixels. */
  readonly planes: readonly Plane[];
  /** First and last lines (inclusive) that the file does not hold whole; their samples are 0. */
  readonly missing: readonly (readonly [number, number])[];
}

/** Chunks are fetched together up to this many bytes: a picture of one-line chunks is not a thousand requests. */
const fetchBytes = 4 << 20;
/** No more than this is allocated for one reading; whoever wants more brings the planes. */
const largestRead = 1 << 30;
/** No chunk unpacks to more than this. */
const largestChunk = 1 << 30;

/**
 * Reads some channels of one part over a region, touching only that region's chunks; what was not asked for is unpacked no
 * further than its codec demands. Damaged or absent chunks are reported in `missing` and do not stop the rest.
 * Throws an ExrError for a part, level, channel or kind of picture that cannot be read.
 */
export async function readChannels(
  file: ExrFile,
  partIndex: number,
  names: readonly string[],
  codec: ByteCodec,
  options: ReadOptions = {},
): Promise<ReadResult> {
  const part = readablePart(file, partIndex);
  const channels = names.map((name) => findChannel(file, part, name));
  const level = options.level ?? [0, 0];
  const whole = wholeLevel(file, part, level);
  const cut = intersect(options.region ?? whole, whole);
  if (!cut) throw new ExrError(file.source.name, 'the region asked for lies outside the data window.');
  const planes = options.into ?? newPlanes(file, channels, cut);
  const wanted = part.channels.map((c) => channels.includes(c));
  const missing: [number, number][] = [];
  const lose = ({ box }: ChunkPlace) => missing.push([Math.max(box.yMin, cut.yMin), Math.min(box.yMax, cut.yMax)]);
  const places = chunksOver(part, cut, level);
  const largest = places.reduce((n, { box }) => Math.max(n, rawSize(part.channels, box)), 0);
  if (largest > largestChunk) throw new ExrError(file.source.name, 'its chunks are larger than 1 GiB each.');
  if (isStoredInLines(file, part, cut) && new Set(names).size === names.length) {
    (await readStoredLines(file, part, places, channels, planes, cut)).forEach(lose);
    return { region: cut, planes, missing: mergeLines(missing) };
  }
  for await (const { place, packed } of packedChunks(file, part, places, largest)) {
    const unpacked = packed && tryUnpack(part, place, packed, wanted, codec);
    if (!unpacked) lose(place);
    else channels.forEach((c, i) => copyRows(c, part.channels.indexOf(c), unpacked, place.box, cut, planes[i]!));
  }
  return { region: cut, planes, missing: mergeLines(missing) };
}

function findChannel(file: ExrFile, part: ExrPart, name: string): ExrChannel {
  const channel = part.channels.find((c) => c.name === name);
  if (!channel) throw new ExrError(file.source.name, `part ${part.index} has no channel named "${name}".`);
  return channel;
}

/** The part, or an ExrError that says by name what about it cannot be read. */
function readablePart(file: ExrFile, index: number): ExrPart {
  const part = file.parts[index];
  const name = file.source.name;
  if (!part) throw new ExrError(name, `there is no part ${index}; the file has ${file.parts.length}.`);
  if (part.type.startsWith('deep')) throw new ExrError(name, 'deep pixels cannot be read, only their header.');
  if (part.type !== 'scanlineimage' && part.type !== 'tiledimage')
    throw new ExrError(name, `pixels stored as "${part.type}" are not known.`);
  return part;
}

function wholeLevel(file: ExrFile, part: ExrPart, [x, y]: readonly [number, number]): Box {
  const layout = tileLayout(part);
  const [across, down] = layout ? levelCounts(layout, part.dataWindow) : [1, 1];
  const square = layout?.levels !== 'ripmap';
  if (!(x >= 0 && y >= 0 && x < across && y < down && (!square || x === y)))
    throw new ExrError(file.source.name, `part ${part.index} has no level ${x}, ${y}.`);
  return levelBox(layout, part.dataWindow, x, y);
}

function newPlanes(file: ExrFile, channels: readonly ExrChannel[], cut: Box): Plane[] {
  const bytes = channels.reduce((n, c) => n + samplesOf(c, cut) * sampleBytes[c.type], 0);
  if (bytes > largestRead)
    throw new ExrError(
      file.source.name,
      `${Math.round(bytes / 2 ** 20)} MiB are too much to read at once; ask for a region.`,
    );
  return channels.map((c) => newPlane(c, samplesOf(c, cut)));
}

function samplesOf(channel: ExrChannel, box: Box): number {
  const { width, height } = sampleGrid(channel, box);
  return width * height;
}

interface PackedChunk {
  readonly place: ChunkPlace;
  /** Undefined when the file does not hold the chunk whole, or holds another in its place. */
  readonly packed: Uint8Array | undefined;
}

/** The chunks' packed bytes in the order they lie in the file, neighbours fetched together. */
async function* packedChunks(
  file: ExrFile,
  part: ExrPart,
  places: readonly ChunkPlace[],
  largest: number,
): AsyncGenerator<PackedChunk> {
  const lead = (file.multiPart ? 4 : 0) + 4 * places[0]!.says.length + 4;
  const { size } = file.source;
  const start = (p: ChunkPlace) => part.offsets[p.index]!;
  const present: ChunkPlace[] = [];
  for (const place of places) {
    if (Number.isNaN(start(place)) || start(place) + lead > size) yield { place, packed: undefined };
    else present.push(place);
  }
  present.sort((a, b) => start(a) - start(b));
  // A chunk reaches to the next one that is asked for, and no further than its largest packed size.
  const reach = (i: number) =>
    Math.min(start(present[i]!) + lead + largest, i + 1 < present.length ? start(present[i + 1]!) : size, size);
  for (let first = 0; first < present.length;) {
    const from = start(present[first]!);
    let end = first;
    while (end + 1 < present.length && reach(end) === start(present[end + 1]!) && reach(end + 1) - from <= fetchBytes)
      end++;
    const bytes = await file.source.read(from, reach(end) - from);
    for (let i = first; i <= end; i++) {
      const at = start(present[i]!) - from;
      const place = present[i]!;
      yield { place, packed: openChunk(file, part, place, bytes.subarray(at, reach(i) - from)) };
    }
    first = end + 1;
  }
}

function openChunk(file: ExrFile, part: ExrPart, place: ChunkPlace, bytes: Uint8Array): Uint8Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = file.multiPart ? 4 : 0;
  if (bytes.length < at + 4 * place.says.length + 4) return undefined;
  if (file.multiPart && view.getInt32(0, true) !== part.index) return undefined;
  for (const said of place.says) {
    if (view.getInt32(at, true) !== said) return undefined;
    at += 4;
  }
  const length = view.getInt32(at, true);
  at += 4;
  return length >= 0 && at + length <= bytes.length ? bytes.subarray(at, at + length) : undefined;
}

function tryUnpack(
  part: ExrPart,
  { box }: ChunkPlace,
  packed: Uint8Array,
  wanted: readonly boolean[],
  codec: ByteCodec,
): Unpacked | undefined {
  try {
    return unpackChunk({ compression: part.compression, channels: part.channels, wanted, box, packed, codec });
  } catch (error) {
    if (error instanceof DamagedChunk) return undefined;
    throw error;
  }
}

/** Copies what a chunk holds of a channel into its plane over `cut`. */
function copyRows(channel: ExrChannel, index: number, chunk: Unpacked, box: Box, cut: Box, plane: Plane): void {
  const rows = chunk.channels[index]!;
  const { xSampling, ySampling, type } = channel;
  const bytes = sampleBytes[type];
  const target = new Uint8Array(plane.buffer, plane.byteOffset, plane.byteLength);
  const both = intersect(box, cut)!;
  const rowBytes = samplesBetween(both.xMin, both.xMax, xSampling) * bytes;
  const planeRow = samplesBetween(cut.xMin, cut.xMax, xSampling) * bytes;
  const skipped = samplesBetween(box.xMin, both.xMin - 1, xSampling) * bytes;
  const across = samplesBetween(cut.xMin, both.xMin - 1, xSampling) * bytes;
  const count = samplesBetween(both.yMin, both.yMax, ySampling);
  let from = rows.at + samplesBetween(box.yMin, both.yMin - 1, ySampling) * rows.stride + skipped;
  let to = samplesBetween(cut.yMin, both.yMin - 1, ySampling) * planeRow + across;
  if (rowBytes === rows.stride && rowBytes === planeRow) {
    target.set(chunk.bytes.subarray(from, from + count * rowBytes), to);
    return;
  }
  for (let r = 0; r < count; r++, from += rows.stride, to += planeRow)
    target.set(chunk.bytes.subarray(from, from + rowBytes), to);
}

function mergeLines(lines: [number, number][]): [number, number][] {
  const merged: [number, number][] = [];
  for (const [top, bottom] of lines.sort((a, b) => a[0] - b[0])) {
    const last = merged.at(-1);
    if (last && top <= last[1] + 1) last[1] = Math.max(last[1], bottom);
    else merged.push([top, bottom]);
  }
  return merged;
}
