import { decodeAttribute, decodeUtf8 } from './attributes.ts';
import { chunksOver, countChunks, levelBox, levelCounts, tileLayout } from './geometry.ts';
import {
  boxHeight,
  boxWidth,
  compressions,
  ExrError,
  linesPerChunk,
  type AttributeValue,
  type Box,
  type ByteSource,
  type ExrAttribute,
  type ExrChannel,
  type ExrFile,
  type ExrPart,
} from './types.ts';

const magic = 20000630; // OpenEXR File Layout, "Magic number"
const flagTiled = 0x200;
const flagDeep = 0x800;
const flagMultiPart = 0x1000;
const largestHeader = 64 << 20;
/** No picture side beyond this: keeps sizes exact and allocations sane. */
const largestSide = 1 << 20;

/** Headers are read in blocks of so many bytes: those of forty channels and their chunk table fit. */
const blockBytes = 16384;

/** Bytes of a source read forward in growing blocks, with bounds checked. */
class Forward {
  private readonly source: ByteSource;
  private block: Uint8Array = new Uint8Array(0);
  private blockStart = 0;
  at: number;

  constructor(source: ByteSource, at: number) {
    this.source = source;
    this.at = at;
  }

  async take(length: number): Promise<Uint8Array> {
    if (length < 0 || this.at + length > this.source.size) {
      throw new ExrError(this.source.name, 'the file ends inside its header.');
    }
    const from = this.at - this.blockStart;
    if (from < 0 || from + length > this.block.length) {
      const size = Math.min(Math.max(length, blockBytes), this.source.size - this.at);
      this.block = await this.source.read(this.at, size);
      this.blockStart = this.at;
    }
    const start = this.at - this.blockStart;
    this.at += length;
    return this.block.subarray(start, start + length);
  }

  /** A zero-ended name of at most 255 bytes. */
  async name(): Promise<string> {
    const here = this.at;
    // As much as a name may take, or as much as there is: looked through at once, then stepped back to its end.
    const bytes = await this.take(Math.max(1, Math.min(256, this.source.size - here)));
    const length = bytes.indexOf(0);
    if (length >= 0) {
      this.at = here + length + 1;
      return decodeUtf8(bytes.subarray(0, length));
    }
    if (bytes.length === 256) throw new ExrError(this.source.name, 'the header holds a name longer than 255 bytes.');
    throw new ExrError(this.source.name, 'the file ends inside its header.');
  }

  async int(): Promise<number> {
    const b = await this.take(4);
    return b[0]! | (b[1]! << 8) | (b[2]! << 16) | (b[3]! << 24);
  }
}

/**
 * Reads headers and chunk tables, never pixels. Everything in the file is untrusted: sizes are checked against the
 * file before anything is allocated. Throws an ExrError that names the file and the fault.
 */
export async function openExr(source: ByteSource): Promise<ExrFile> {
  const forward = new Forward(source, 0);
  if (source.size < 8 || (await forward.int()) !== magic) {
    throw new ExrError(source.name, 'this is not an EXR file (its first four bytes say otherwise).');
  }
  const version = await forward.int();
  if ((version & 255) !== 2) throw new ExrError(source.name, `EXR version ${version & 255} is not known; 2 is.`);
  const multiPart = (version & flagMultiPart) !== 0;
  const headers: Map<string, ExrAttribute>[] = [];
  for (;;) {
    const header = await readHeader(source, forward);
    if (header.size === 0) break;
    headers.push(header);
    if (!multiPart) break;
    if (headers.length > 4096) throw new ExrError(source.name, 'the file claims more than 4,096 parts.');
  }
  if (headers.length === 0) throw new ExrError(source.name, 'the file has no header.');
  const parts: ExrPart[] = [];
  for (const [index, header] of headers.entries()) {
    const part = describePart(source.name, index, header, version);
    parts.push({ ...part, offsets: await readOffsets(source, forward, part) });
  }
  await recoverOffsets(source, parts, multiPart, forward.at);
  return { source, multiPart, parts };
}

async function readHeader(source: ByteSource, forward: Forward): Promise<Map<string, ExrAttribute>> {
  const header = new Map<string, ExrAttribute>();
  const start = forward.at;
  for (;;) {
    const name = await forward.name();
    if (name === '') return header;
    const type = await forward.name();
    const size = await forward.int();
    if (size < 0 || size > source.size - forward.at || forward.at - start > largestHeader) {
      throw new ExrError(source.name, `header attribute "${name}" claims ${size} bytes, more than the file has.`);
    }
    const bytes = await forward.take(size);
    try {
      header.set(name, { type, value: decodeAttribute(type, bytes) });
    } catch (error) {
      throw new ExrError(source.name, `header attribute "${name}" is damaged (${(error as Error).message}).`);
    }
  }
}

function describePart(
  file: string,
  index: number,
  header: Map<string, ExrAttribute>,
  version: number,
): Omit<ExrPart, 'offsets'> {
  const need = <T extends AttributeValue>(name: string, type: string): T => {
    const found = header.get(name);
    if (!found || found.type !== type) throw new ExrError(file, `the header lacks the attribute "${name}" (${type}).`);
    return found.value as T;
  };
  const dataWindow = need<Box>('dataWindow', 'box2i');
  for (const box of [dataWindow, need<Box>('displayWindow', 'box2i')]) {
    const [w, h] = [boxWidth(box), boxHeight(box)];
    if (!(w >= 1 && h >= 1 && w <= largestSide && h <= largestSide)) {
      throw new ExrError(file, `the header claims a window of ${w} x ${h} pixels.`);
    }
  }
  const compression = compressions[need<number>('compression', 'compression')];
  if (!compression) throw new ExrError(file, 'the header names a compression that does not exist.');
  const channels = need<ExrChannel[]>('channels', 'chlist');
  if (!channels.length) throw new ExrError(file, 'the header names no channel.');
  const declared = header.get('type')?.value;
  const fallback = version & flagDeep ? 'deepscanline' : version & flagTiled ? 'tiledimage' : 'scanlineimage';
  const type = typeof declared === 'string' ? declared : fallback;
  if (type === 'tiledimage') checkTiles(file, need('tiles', 'tiledesc'));
  return {
    index,
    name: String(header.get('name')?.value ?? ''),
    type,
    compression,
    dataWindow,
    displayWindow: need<Box>('displayWindow', 'box2i'),
    pixelAspect: Number(header.get('pixelAspectRatio')?.value ?? 1),
    channels,
    attributes: header,
  };
}

function checkTiles(file: string, { xSize, ySize, mode }: { xSize: number; ySize: number; mode: number }): void {
  if (!(xSize >= 1 && ySize >= 1 && xSize <= largestSide && ySize <= largestSide && (mode & 15) < 3 && mode >> 4 < 2))
    throw new ExrError(file, `the header claims tiles of ${xSize} x ${ySize} pixels, mode ${mode}.`);
}

async function readOffsets(
  source: ByteSource,
  forward: Forward,
  part: Omit<ExrPart, 'offsets'>,
): Promise<Float64Array> {
  // The count that a header may claim is not to be trusted; deep parts, whose pixels are not read, have nothing else.
  const deep = part.type.startsWith('deep');
  const count = deep ? Number(part.attributes.get('chunkCount')?.value ?? 0) : countChunks(part);
  if (!(count >= 0 && count * 8 <= source.size - forward.at)) {
    throw new ExrError(source.name, 'the file ends inside its table of chunks; nothing of the picture is readable.');
  }
  const bytes = await forward.take(count * 8);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Float64Array.from({ length: count }, (_, i) => {
    const offset = view.getUint32(i * 8, true) + view.getUint32(i * 8 + 4, true) * 2 ** 32;
    return offset >= forward.at && offset < source.size ? offset : NaN;
  });
}

/**
 * A writer that stopped early leaves its table empty, though the chunks it wrote are there: walks over them and fills the table.
 * Only for tables without a single entry; single places that point nowhere are damage and stay so.
 */
async function recoverOffsets(
  source: ByteSource,
  parts: readonly ExrPart[],
  multiPart: boolean,
  from: number,
): Promise<void> {
  const empty = parts.filter((p) => !p.type.startsWith('deep') && p.offsets.every(Number.isNaN));
  if (!empty.length || (multiPart && parts.some((p) => p.type.startsWith('deep')))) return;
  const lead = multiPart ? 4 : 0;
  for (let at = from; at + lead + 8 <= source.size;) {
    const head = await source.read(at, Math.min(lead + 20, source.size - at));
    const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
    const part = parts[multiPart ? view.getInt32(0, true) : 0];
    if (!part) return;
    const tiled = part.type === 'tiledimage';
    const sizeAt = lead + (tiled ? 16 : 4);
    if (sizeAt + 4 > head.length) return;
    const size = view.getInt32(sizeAt, true);
    const index = placeOf(part, view, lead, tiled);
    if (index === undefined || size < 0 || at + sizeAt + 4 + size > source.size) return;
    if (empty.includes(part)) part.offsets[index] = at;
    at += sizeAt + 4 + size;
  }
}

function placeOf(part: ExrPart, view: DataView, lead: number, tiled: boolean): number | undefined {
  const says = Array.from({ length: tiled ? 4 : 1 }, (_, i) => view.getInt32(lead + i * 4, true));
  const index = tiled ? tileIndex(part, says) : (says[0]! - part.dataWindow.yMin) / linesPerChunk[part.compression];
  return Number.isInteger(index) && index! >= 0 && index! < part.offsets.length ? index : undefined;
}

function tileIndex(part: ExrPart, [x, y, levelX, levelY]: readonly number[]): number | undefined {
  const layout = tileLayout(part)!;
  const level = [levelX!, levelY!] as const;
  const [across, down] = levelCounts(layout, part.dataWindow);
  if (!(levelX! >= 0 && levelX! < across && levelY! >= 0 && levelY! < down)) return undefined;
  const box = levelBox(layout, part.dataWindow, levelX!, levelY!);
  return chunksOver(part, box, level).find((c) => c.says[0] === x && c.says[1] === y)?.index;
}
