import { concat, encodeAttribute, encodeUtf8 } from './attributes.ts';
import { mostAsItLies, packBand, type BandToPack, type PackedBand } from './codec/packBand.ts';
import type { Plane } from './plane.ts';
import {
  boxHeight,
  boxWidth,
  compressions,
  linesPerChunk,
  sampleBytes,
  type Box,
  type ByteCodec,
  type ByteSink,
  type Compression,
  type ExrAttribute,
  type ExrChannel,
  type SampleType,
} from './types.ts';

export interface PartToWrite {
  /** Needed, and unique, when there is more than one part. */
  readonly name?: string;
  readonly compression: Compression;
  readonly dataWindow: Box;
  readonly displayWindow: Box;
  readonly channels: readonly {
    readonly name: string;
    readonly type: SampleType;
    readonly perceptuallyLinear?: boolean;
  }[];
  /** Tiles of this size, one level; whole lines when left out. */
  readonly tiles?: { readonly width: number; readonly height: number };
  /** Further attributes: chromaticities, colour identity, frame rate … */
  readonly attributes?: Readonly<Record<string, ExrAttribute>>;
}

/** Samples for some whole lines of one part: one plane per channel of the part, in the part's own order. */
export type LineSource = (part: number, top: number, bottom: number) => Promise<readonly Plane[]> | readonly Plane[];

/** Channels are stored in the order of their names' bytes (OpenEXR File Layout, "chlist"). */
function byName(a: { name: string }, b: { name: string }): number {
  const [x, y] = [encodeUtf8(a.name), encodeUtf8(b.name)];
  for (let i = 0; i < Math.min(x.length, y.length); i++) if (x[i] !== y[i]) return x[i]! - y[i]!;
  return x.length - y.length;
}

/** A part's channels in stored order, and where each stands in the caller's order. */
function storedChannels(part: PartToWrite): { channel: ExrChannel; given: number }[] {
  return part.channels
    .map((c, given) => ({
      channel: { xSampling: 1, ySampling: 1, perceptuallyLinear: false, ...c },
      given,
    }))
    .sort((a, b) => byName(a.channel, b.channel));
}

export interface WriteOptions {
  /** Packs some lines elsewhere, in a worker thread; here and now, chunk by chunk, when left out. */
  readonly pack?: (band: BandToPack) => Promise<PackedBand>;
  /** How many bands may be under way at once. */
  readonly ahead?: number;
}

/** Chunks of scan lines go to another thread together up to so many bytes before packing: handing over a single line takes longer than packing it. */
const bytesElsewhere = 3 << 19;

/**
 * Writes an EXR file of scan lines or tiles, single- or multi-part, asking for lines a chunk (or a row of tiles) at a time, or for
 * some chunks' where they are packed elsewhere.
 * Throws a RangeError for parts without distinct names and for planes that are too short.
 */
export async function writeExr(
  sink: ByteSink,
  parts: readonly PartToWrite[],
  lines: LineSource,
  codec: ByteCodec,
  { pack, ahead = 1 }: WriteOptions = {},
): Promise<void> {
  const multiPart = parts.length > 1;
  const names = new Set(parts.map((p) => p.name));
  if (multiPart && (names.size !== parts.length || names.has(undefined))) {
    throw new RangeError('Every part of a multi-part file needs a name of its own.');
  }
  const header = encodeHeaders(parts, multiPart);
  await sink.write(0, header);
  let position = header.length + parts.reduce((n, p) => n + chunkCount(p), 0) * 8;
  const table = new DataView(new ArrayBuffer(position - header.length));
  let entry = 0;
  const sinking = new GatheringSink(sink, position);
  const underWay: Promise<PackedBand>[] = [];
  const writeFirst = async () => {
    const { pieces, sizes } = await underWay[0]!;
    underWay.shift();
    for (const size of sizes) {
      table.setUint32(entry * 8, position >>> 0, true);
      table.setUint32(entry * 8 + 4, Math.floor(position / 2 ** 32), true);
      entry++;
      position += size;
    }
    for (const piece of pieces) if (!sinking.take(piece)) await sinking.add(piece);
  };
  try {
    for (const [index, part] of parts.entries()) {
      const stored = storedChannels(part);
      // What is not packed is not worth another thread.
      const elsewhere = part.compression === 'none' ? undefined : pack;
      for (const band of bandsOf(part, elsewhere ? bytesElsewhere : 0)) {
        const planes = await lines(index, band.yMin, band.yMax);
        while (underWay.length >= ahead) await writeFirst();
        const asked = bandToPack(part, stored, band, planes, multiPart ? [index] : []);
        const packed = elsewhere ? elsewhere(asked) : Promise.resolve(packBand(asked, codec));
        // Its error is met where it is waited for.
        packed.catch(() => undefined);
        underWay.push(packed);
        // Lines that are given next may lie where these do.
        while (!elsewhere && underWay.length) await writeFirst();
      }
    }
    while (underWay.length) await writeFirst();
    await sinking.flush();
  } finally {
    await sinking.rest();
  }
  await sink.write(header.length, new Uint8Array(table.buffer));
}

function bandToPack(
  part: PartToWrite,
  stored: ReturnType<typeof storedChannels>,
  band: Box,
  planes: readonly Plane[],
  inPart: readonly number[],
): BandToPack {
  return {
    compression: part.compression,
    channels: stored.map((s) => s.channel),
    band,
    chunks: chunksOf(part, band).map(({ box, says }) => ({ box, head: [...inPart, ...says] })),
    rows: stored.map((s) => rowsOf(part, planes[s.given]!, s.channel.type, band)),
  };
}

/** So many bytes go to the sink at once: chunks of a line are small. */
const mostGathered = 1 << 22;

/** What is larger goes to the sink by itself: copying it first costs more than one more call. */
const worthGathering = mostAsItLies;

/**
 * Gathers bytes that follow each other, and passes them on in large pieces, one of them at a time: while it is being written the next is gathered.
 * What is added is copied, or, where that is not worth it, must stay as it is until the next is passed on.
 */
class GatheringSink {
  private readonly sink: ByteSink;
  private position: number;
  private held = new Uint8Array(mostGathered);
  private spare = new Uint8Array(mostGathered);
  private count = 0;
  private writing: Promise<void> = Promise.resolve();

  constructor(sink: ByteSink, position: number) {
    this.sink = sink;
    this.position = position;
  }

  async add(bytes: Uint8Array): Promise<void> {
    await this.pass();
    if (!this.take(bytes)) await this.begin(bytes);
  }

  /** Adds bytes if there is nothing to wait for. */
  take(bytes: Uint8Array): boolean {
    if (this.count + bytes.length > mostGathered || bytes.length > worthGathering) return false;
    this.held.set(bytes, this.count);
    this.count += bytes.length;
    return true;
  }

  /** Once nothing is being written, whether it went well or not. */
  async rest(): Promise<void> {
    await this.writing.catch(() => undefined);
  }

  /** Once all is written. */
  async flush(): Promise<void> {
    await this.pass();
    await this.writing;
  }

  private async pass(): Promise<void> {
    if (!this.count) return;
    await this.begin(this.held.subarray(0, this.count));
    [this.held, this.spare, this.count] = [this.spare, this.held, 0];
  }

  private async begin(bytes: Uint8Array): Promise<void> {
    await this.writing;
    this.writing = this.sink.write(this.position, bytes);
    // Its error is met where it is waited for.
    this.writing.catch(() => undefined);
    this.position += bytes.length;
  }
}

const bandHeight = (p: PartToWrite) => p.tiles?.height ?? linesPerChunk[p.compression];
const chunkCount = (p: PartToWrite) =>
  Math.ceil(boxHeight(p.dataWindow) / bandHeight(p)) *
  (p.tiles ? Math.ceil(boxWidth(p.dataWindow) / p.tiles.width) : 1);

/** The lines of one chunk, or of one row of tiles; of as many chunks of lines as have no more than so many bytes. */
function bandsOf(part: PartToWrite, most: number): Box[] {
  const { dataWindow, channels, tiles } = part;
  const lineBytes = channels.reduce((n, c) => n + sampleBytes[c.type], 0) * boxWidth(dataWindow);
  const chunks = tiles ? 1 : Math.max(1, Math.floor(most / (lineBytes * bandHeight(part))));
  const height = bandHeight(part) * chunks;
  return Array.from({ length: Math.ceil(boxHeight(dataWindow) / height) }, (_, i) => {
    const yMin = dataWindow.yMin + i * height;
    return { ...dataWindow, yMin, yMax: Math.min(yMin + height - 1, dataWindow.yMax) };
  });
}

/** The chunks of a band and what each one's own header says. */
function chunksOf(part: PartToWrite, band: Box): { box: Box; says: number[] }[] {
  const { tiles, dataWindow } = part;
  if (!tiles) {
    const height = bandHeight(part);
    return Array.from({ length: Math.ceil(boxHeight(band) / height) }, (_, i) => {
      const yMin = band.yMin + i * height;
      return { box: { ...band, yMin, yMax: Math.min(yMin + height - 1, band.yMax) }, says: [yMin] };
    });
  }
  return Array.from({ length: Math.ceil(boxWidth(band) / tiles.width) }, (_, i) => {
    const xMin = band.xMin + i * tiles.width;
    const box = { ...band, xMin, xMax: Math.min(xMin + tiles.width - 1, band.xMax) };
    return { box, says: [i, Math.floor((band.yMin - dataWindow.yMin) / tiles.height), 0, 0] };
  });
}

/** A plane's bytes in a band. */
function rowsOf(part: PartToWrite, plane: Plane, type: SampleType, band: Box): Uint8Array {
  const size = boxWidth(part.dataWindow) * sampleBytes[type] * boxHeight(band);
  if (plane.byteLength < size) throw new RangeError('A plane is shorter than its lines.');
  return new Uint8Array(plane.buffer, plane.byteOffset, size);
}

function encodeHeaders(parts: readonly PartToWrite[], multiPart: boolean): Uint8Array {
  const long = (name: string) => encodeUtf8(name).length > 31;
  const longNames = parts.some(
    (p) => p.channels.some((c) => long(c.name)) || Object.keys(p.attributes ?? {}).some(long),
  );
  const tiled = !multiPart && parts[0]!.tiles !== undefined;
  const version = 2 | (tiled ? 0x200 : 0) | (multiPart ? 0x1000 : 0) | (longNames ? 0x400 : 0);
  return concat([
    new Uint8Array(Int32Array.of(20000630, version).buffer),
    ...parts.map((p) => encodeHeader(p, multiPart)),
    ...(multiPart ? [Uint8Array.of(0)] : []),
  ]);
}

function encodeHeader(part: PartToWrite, multiPart: boolean): Uint8Array {
  const { tiles } = part;
  const attributes: Record<string, ExrAttribute> = {
    pixelAspectRatio: { type: 'float', value: 1 },
    screenWindowCenter: { type: 'v2f', value: [0, 0] },
    screenWindowWidth: { type: 'float', value: 1 },
    ...part.attributes,
    channels: { type: 'chlist', value: storedChannels(part).map((s) => s.channel) },
    compression: { type: 'compression', value: compressions.indexOf(part.compression) },
    dataWindow: { type: 'box2i', value: part.dataWindow },
    displayWindow: { type: 'box2i', value: part.displayWindow },
    lineOrder: { type: 'lineOrder', value: 0 },
  };
  for (const made of ['tiles', 'chunkCount', 'type', 'name', 'version']) delete attributes[made];
  if (tiles) attributes.tiles = { type: 'tiledesc', value: { xSize: tiles.width, ySize: tiles.height, mode: 0 } };
  if (part.name !== undefined) attributes.name = { type: 'string', value: part.name };
  if (multiPart) {
    attributes.type = { type: 'string', value: tiles ? 'tiledimage' : 'scanlineimage' };
    attributes.chunkCount = { type: 'int', value: chunkCount(part) };
  }
  const pieces = Object.entries(attributes).flatMap(([name, attribute]) => {
    const bytes = encodeAttribute(attribute);
    const size = new Uint8Array(Int32Array.of(bytes.length).buffer);
    return [encodeUtf8(name), Uint8Array.of(0), encodeUtf8(attribute.type), Uint8Array.of(0), size, bytes];
  });
  return concat([...pieces, Uint8Array.of(0)]);
}
