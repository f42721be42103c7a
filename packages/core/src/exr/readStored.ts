import { sampleGrid, type ChunkPlace } from './geometry.ts';
import type { Plane } from './plane.ts';
import { sampleBytes, type Box, type ExrChannel, type ExrFile, type ExrPart } from './types.ts';

/** A system call takes so many pieces of memory at most (IOV_MAX of POSIX systems is 1024). */
const mostPieces = 1000;

/** Whether a part's lines lie in the file as they lie in planes over `cut`, and its source can put them there. */
export function isStoredInLines(file: ExrFile, part: ExrPart, cut: Box): boolean {
  const { dataWindow, channels } = part;
  return (
    part.compression === 'none' &&
    part.type === 'scanlineimage' &&
    file.source.readInto !== undefined &&
    channels.length < mostPieces &&
    cut.xMin === dataWindow.xMin &&
    cut.xMax === dataWindow.xMax &&
    channels.every((c) => c.xSampling === 1 && c.ySampling === 1)
  );
}

/** A line's chunk: its bytes before the samples, and where its samples go. */
interface StoredLine {
  readonly place: ChunkPlace;
  readonly head: Uint8Array;
  readonly pieces: readonly Uint8Array[];
}

/**
 * Reads lines that are stored as they are: bytes go from the file into the planes with no stop between, and those of other channels into memory
 * that nobody looks at. `places` are one line each. Returns the places that the file does not hold whole; their samples are 0.
 */
export async function readStoredLines(
  file: ExrFile,
  part: ExrPart,
  places: readonly ChunkPlace[],
  channels: readonly ExrChannel[],
  planes: readonly Plane[],
  cut: Box,
): Promise<ChunkPlace[]> {
  const start = (p: ChunkPlace) => part.offsets[p.index]!;
  const bytes = part.channels.reduce((n, c) => n + lineBytes(c, cut), 0);
  const head = (file.multiPart ? 4 : 0) + 8;
  const isWhole = (p: ChunkPlace) => start(p) + head + bytes <= file.source.size;
  const missing = places.filter((p) => !isWhole(p));
  const lines = new LineRows(part, channels, planes, cut);
  const present = places.filter(isWhole).sort((a, b) => start(a) - start(b));
  for (let first = 0; first < present.length;) {
    const batch: StoredLine[] = [];
    let pieces = 0;
    for (let i = first; i < present.length; i++) {
      const place = present[i]!;
      const line = { place, head: new Uint8Array(head), pieces: lines.of(place.box.yMin) };
      pieces += 1 + line.pieces.length;
      if (i > first && (start(place) !== start(present[i - 1]!) + head + bytes || pieces > mostPieces)) break;
      batch.push(line);
    }
    await file.source.readInto!(
      start(present[first]!),
      batch.flatMap((l) => [l.head, ...l.pieces]),
    );
    for (const line of batch) {
      if (isHead(line, file, part, bytes)) continue;
      lines.clear(line.place.box.yMin);
      missing.push(line.place);
    }
    first += batch.length;
  }
  return missing;
}

const lineBytes = (channel: ExrChannel, cut: Box) => sampleGrid(channel, cut).width * sampleBytes[channel.type];

/** Where each channel's samples of a line go. */
class LineRows {
  private readonly top: number;
  /** In the file's order: a wanted channel's bytes and those of a line, or how many bytes of others lie there. */
  private readonly order: ({ readonly into: Uint8Array; readonly row: number } | number)[] = [];
  private readonly sink: Uint8Array;

  constructor(part: ExrPart, channels: readonly ExrChannel[], planes: readonly Plane[], cut: Box) {
    this.top = cut.yMin;
    let largest = 0;
    for (const channel of part.channels) {
      const at = channels.indexOf(channel);
      const row = lineBytes(channel, cut);
      const before = this.order.at(-1);
      if (at >= 0) {
        const { buffer, byteOffset, byteLength } = planes[at]!;
        this.order.push({ into: new Uint8Array(buffer, byteOffset, byteLength), row });
      } else if (typeof before === 'number') this.order[this.order.length - 1] = before + row;
      else this.order.push(row);
      const last = this.order.at(-1);
      if (typeof last === 'number') largest = Math.max(largest, last);
    }
    this.sink = new Uint8Array(largest);
  }

  of(y: number): Uint8Array[] {
    const line = y - this.top;
    return this.order.map((o) =>
      typeof o === 'number' ? this.sink.subarray(0, o) : o.into.subarray(line * o.row, (line + 1) * o.row),
    );
  }

  clear(y: number): void {
    for (const piece of this.of(y)) piece.fill(0);
  }
}

function isHead({ head, place }: StoredLine, file: ExrFile, part: ExrPart, bytes: number): boolean {
  const view = new DataView(head.buffer);
  const said = [...(file.multiPart ? [part.index] : []), ...place.says, bytes];
  return said.every((value, i) => view.getInt32(4 * i, true) === value);
}
