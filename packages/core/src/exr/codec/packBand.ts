import { concat } from '../attributes.ts';
import { samplesBetween } from '../geometry.ts';
import {
  boxHeight,
  boxWidth,
  sampleBytes,
  type Box,
  type ByteCodec,
  type Compression,
  type ExrChannel,
} from '../types.ts';
import { packChunk } from './pack.ts';

/** Some whole lines of a part, and the chunks that they are cut into. Plain data: it may be packed in another thread. */
export interface BandToPack {
  readonly compression: Compression;
  /** In the order they are stored. */
  readonly channels: readonly ExrChannel[];
  /** As wide as the part's data window. */
  readonly band: Box;
  /** What each chunk says before its length: its part, where there are several, and its place. */
  readonly chunks: readonly { readonly box: Box; readonly head: readonly number[] }[];
  /** By channel: its samples in the band, row after row. */
  readonly rows: readonly Uint8Array[];
}

/** A band as it lies in the file. */
export interface PackedBand {
  /** Its bytes, one piece after the other. */
  readonly pieces: readonly Uint8Array[];
  /** How long each chunk is, its head included. */
  readonly sizes: readonly number[];
}

/**
 * Packs a band chunk by chunk, each behind its head. What is not packed lies in the rows that were given (pieces up to
 * `mostAsItLies`), and is to be copied before they change.
 */
export function packBand({ compression, channels, band, chunks, rows }: BandToPack, codec: ByteCodec): PackedBand {
  const pieces: Uint8Array[] = [];
  const sizes = chunks.map(({ box, head }) => {
    const cut = rows.map((r, c) => cutRows(r, sampleBytes[channels[c]!.type], band, box));
    const packed =
      compression === 'none'
        ? linesAsTheyLie(channels, box, cut)
        : [packChunk({ compression, channels, box, rows: cut, codec })];
    const length = packed.reduce((n, p) => n + p.length, 0);
    const lead = new Uint8Array(Int32Array.of(...head, length).buffer);
    pieces.push(lead, ...packed);
    return lead.length + length;
  });
  return { pieces, sizes };
}

/** Pieces up to so many bytes may lie in memory of others; longer ones have their own. */
export const mostAsItLies = 1 << 18;

/** A chunk that is not packed: of each line every channel (OpenEXR File Layout, "Scan line data"). */
const linesAsTheyLie = (channels: readonly ExrChannel[], box: Box, rows: readonly Uint8Array[]): Uint8Array[] =>
  Array.from({ length: boxHeight(box) }, (_, y) =>
    rows.map((r, c) => {
      const length = boxWidth(box) * sampleBytes[channels[c]!.type];
      const line = r.subarray(y * length, (y + 1) * length);
      return length > mostAsItLies ? line.slice() : line;
    }),
  ).flat();

/** The same in one piece, whose memory is its own. */
export const inOnePiece = ({ pieces, sizes }: PackedBand): PackedBand => ({ pieces: [concat(pieces)], sizes });

/** A chunk's samples out of a band's. */
function cutRows(rows: Uint8Array, bytes: number, band: Box, box: Box): Uint8Array {
  const rowBytes = boxWidth(band) * bytes;
  const top = box.yMin - band.yMin;
  const end = top + boxHeight(box);
  if (boxWidth(box) === boxWidth(band)) return rows.subarray(top * rowBytes, end * rowBytes);
  const from = samplesBetween(band.xMin, box.xMin - 1, 1) * bytes;
  const length = boxWidth(box) * bytes;
  const out = new Uint8Array(length * boxHeight(box));
  for (let y = top; y < end; y++)
    out.set(rows.subarray(y * rowBytes + from, y * rowBytes + from + length), (y - top) * length);
  return out;
}
