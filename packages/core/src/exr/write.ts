import { concat, encodeAttribute, encodeUtf8 } from './attributes.ts';
import { packChunk, writableCompressions } from './codecs.ts';
import type { Plane } from './read.ts';
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
  type SampleType,
} from './types.ts';

export interface PartToWrite {
  /** Needed, and unique, when there is more than one part. */
  readonly name?: string;
  readonly compression: Compression;
  readonly dataWindow: Box;
  readonly displayWindow: Box;
  readonly channels: readonly { readonly name: string; readonly type: SampleType }[];
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

/**
 * Writes a scan-line EXR file, single- or multi-part, asking for lines a few chunks at a time.
 * Throws a RangeError for a codec that cannot be written and for parts without distinct names.
 */
export async function writeExr(
  sink: ByteSink,
  parts: readonly PartToWrite[],
  lines: LineSource,
  codec: ByteCodec,
): Promise<void> {
  const multiPart = parts.length > 1;
  const names = new Set(parts.map((p) => p.name));
  if (multiPart && (names.size !== parts.length || names.has(undefined))) {
    throw new RangeError('Every part of a multi-part file needs a name of its own.');
  }
  const longNames = parts.some((p) => p.channels.some((c) => encodeUtf8(c.name).length > 31));
  const version = 2 | (multiPart ? 0x1000 : 0) | (longNames ? 0x400 : 0);
  const start = new Uint8Array(8);
  new DataView(start.buffer).setInt32(0, 20000630, true);
  new DataView(start.buffer).setInt32(4, version, true);
  const header = concat([
    start,
    ...parts.map((p) => encodeHeader(p, multiPart)),
    ...(multiPart ? [Uint8Array.of(0)] : []),
  ]);
  await sink.write(0, header);
  const counts = parts.map(chunkCount);
  let position = header.length + counts.reduce((a, b) => a + b, 0) * 8;
  const table = new DataView(new ArrayBuffer(position - header.length));
  let entry = 0;
  for (const [index, part] of parts.entries()) {
    for (let chunk = 0; chunk < counts[index]!; chunk++) {
      const top = part.dataWindow.yMin + chunk * linesPerChunk[part.compression];
      const bottom = Math.min(top + linesPerChunk[part.compression] - 1, part.dataWindow.yMax);
      const packed = packChunk(
        part.compression,
        gatherChunk(part, await lines(index, top, bottom), bottom - top + 1),
        codec,
      );
      const lead = new DataView(new ArrayBuffer(multiPart ? 12 : 8));
      if (multiPart) lead.setInt32(0, index, true);
      lead.setInt32(lead.byteLength - 8, top, true);
      lead.setInt32(lead.byteLength - 4, packed.length, true);
      table.setUint32(entry * 8, position >>> 0, true);
      table.setUint32(entry * 8 + 4, Math.floor(position / 2 ** 32), true);
      entry++;
      await sink.write(position, concat([new Uint8Array(lead.buffer), packed]));
      position += lead.byteLength + packed.length;
    }
  }
  await sink.write(header.length, new Uint8Array(table.buffer));
}

const chunkCount = (p: PartToWrite) => Math.ceil(boxHeight(p.dataWindow) / linesPerChunk[p.compression]);

function encodeHeader(part: PartToWrite, multiPart: boolean): Uint8Array {
  if (!writableCompressions.includes(part.compression)) {
    throw new RangeError(`Files cannot be packed with ${part.compression.toUpperCase()} yet.`);
  }
  const channels = [...part.channels].sort(byName);
  const required: Record<string, ExrAttribute> = {
    ...part.attributes,
    channels: {
      type: 'chlist',
      value: channels.map((c) => ({ ...c, xSampling: 1, ySampling: 1, perceptuallyLinear: false })),
    },
    compression: { type: 'compression', value: compressions.indexOf(part.compression) },
    dataWindow: { type: 'box2i', value: part.dataWindow },
    displayWindow: { type: 'box2i', value: part.displayWindow },
    lineOrder: { type: 'lineOrder', value: 0 },
    pixelAspectRatio: part.attributes?.pixelAspectRatio ?? { type: 'float', value: 1 },
    screenWindowCenter: { type: 'v2f', value: [0, 0] },
    screenWindowWidth: { type: 'float', value: 1 },
  };
  if (multiPart) {
    required.name = { type: 'string', value: part.name! };
    required.type = { type: 'string', value: 'scanlineimage' };
    required.chunkCount = { type: 'int', value: chunkCount(part) };
  }
  const pieces = Object.entries(required).flatMap(([name, attribute]) => {
    const bytes = encodeAttribute(attribute);
    const size = new Uint8Array(4);
    new DataView(size.buffer).setInt32(0, bytes.length, true);
    return [encodeUtf8(name), Uint8Array.of(0), encodeUtf8(attribute.type), Uint8Array.of(0), size, bytes];
  });
  return concat([...pieces, Uint8Array.of(0)]);
}

/** Lays lines out as a chunk: per line, all channels in name order. */
function gatherChunk(part: PartToWrite, planes: readonly Plane[], lineCount: number): Uint8Array {
  const width = boxWidth(part.dataWindow);
  const order = part.channels.map((c, i) => ({ ...c, i })).sort(byName);
  const lineBytes = order.reduce((n, c) => n + sampleBytes[c.type], 0) * width;
  const raw = new Uint8Array(lineBytes * lineCount);
  let before = 0;
  for (const { type, i } of order) {
    const rowBytes = width * sampleBytes[type];
    const plane = planes[i]!;
    if (plane.byteLength < rowBytes * lineCount) throw new RangeError('A plane is shorter than its lines.');
    const bytes = new Uint8Array(plane.buffer, plane.byteOffset, plane.byteLength);
    for (let y = 0; y < lineCount; y++)
      raw.set(bytes.subarray(y * rowBytes, (y + 1) * rowBytes), y * lineBytes + before);
    before += rowBytes;
  }
  return raw;
}
