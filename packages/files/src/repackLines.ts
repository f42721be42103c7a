import {
  asFloats,
  boxHeight,
  boxWidth,
  numberToHalf,
  readChannels,
  rowsInBox,
  sampleBytes,
  type Box,
  type ExrFile,
  type ExrPart,
  type LineSource,
  type PackedPart,
  type Plane,
  type SampleType,
} from '@june-haze/core';
import { zlibCodec } from './zlibCodec.ts';

/** Where a channel's samples are: in a file, or made already, over a box of their own. */
export type SamplesAt =
  | { readonly file: ExrFile; readonly part: ExrPart; readonly channel: string; readonly type: SampleType }
  | { readonly plane: Plane; readonly box: Box };
type InFile = Extract<SamplesAt, { file: ExrFile }>;

/** Some channels' samples between two rows, over a box. */
export type ReadRows = (wanted: readonly SamplesAt[], box: Box, top: number, bottom: number) => Promise<Plane[]>;

/** A part is unpacked once and kept where all that is wanted of it takes no more than this; larger ones are read by rows, again for each layer. */
const mostKept = 400e6;

/**
 * Reads the samples of channels that are to be packed anew, converted only where a type is another; outside of what a part covers they are 0.
 * Throws a sentence that names a file and the lines of it that cannot be read.
 */
export function rowsOfPacked(parts: readonly PackedPart<SamplesAt>[]): ReadRows {
  const inFiles = parts.flatMap((p) => p.from).filter((f) => 'file' in f);
  const kept = new Map<ExrPart, Promise<Map<string, Plane>>>();
  const keep = (part: ExrPart) => {
    const all = inFiles.filter((f) => f.part === part);
    const bytes =
      all.reduce((n, f) => n + sampleBytes[f.type], 0) * boxWidth(part.dataWindow) * boxHeight(part.dataWindow);
    if (bytes > mostKept) return undefined;
    let planes = kept.get(part);
    if (!planes) kept.set(part, (planes = planesOf(all, part.dataWindow)));
    return planes;
  };
  return async (wanted, box, top, bottom) => {
    const read = new Map<SamplesAt, readonly [Plane, Box]>();
    const files = wanted.filter((f) => 'file' in f);
    for (const part of new Set(files.map((f) => f.part))) {
      const group = files.filter((f) => f.part === part);
      const rows = { ...part.dataWindow, ...within(part.dataWindow, top, bottom) };
      const whole = await keep(part);
      const planes = whole ?? (await planesOf(group, rows));
      for (const at of group) read.set(at, [planes.get(keyOf(at))!, whole ? part.dataWindow : rows]);
    }
    return wanted.map((at) => {
      const [plane, own] = 'plane' in at ? ([at.plane, at.box] as const) : read.get(at)!;
      return rowsInBox(plane as Float32Array, own, box, top, bottom) as Plane;
    });
  };
}

/** The lines of parts whose channels are read while they are written. */
export function linesOfPacked(parts: readonly PackedPart<SamplesAt>[], rows = rowsOfPacked(parts)): LineSource {
  return (index, top, bottom) => rows(parts[index]!.from, parts[index]!.write.dataWindow, top, bottom);
}

const keyOf = ({ channel, type }: InFile) => `${type} ${channel}`;

/** The rows of a box that are asked for; one row of it where none is, to know a plane's type by. */
function within({ yMin, yMax }: Box, top: number, bottom: number): { yMin: number; yMax: number } {
  const [first, last] = [Math.max(top, yMin), Math.min(bottom, yMax)];
  return first <= last ? { yMin: first, yMax: last } : { yMin, yMax: yMin };
}

async function planesOf(group: readonly InFile[], region: Box): Promise<Map<string, Plane>> {
  const { file, part } = group[0]!;
  const names = [...new Set(group.map((f) => f.channel))];
  const { planes, missing } = await readChannels(file, part.index, names, zlibCodec, { region });
  if (missing.length)
    throw new Error(
      `${file.source.name}: lines ${missing.map(([a, b]) => `${a}–${b}`).join(', ')} cannot be read; nothing was written.`,
    );
  return new Map(group.map((f) => [keyOf(f), convert(planes[names.indexOf(f.channel)]!, f.type)]));
}

function convert(plane: Plane, type: SampleType): Plane {
  const now = plane instanceof Uint16Array ? 'half' : plane instanceof Float32Array ? 'float' : 'uint';
  if (now === type) return plane;
  const floats = asFloats(plane);
  if (type === 'float') return floats;
  if (type === 'uint') return Uint32Array.from(floats, (v) => Math.max(0, Math.min(4294967295, Math.round(v) || 0)));
  return Uint16Array.from(floats, numberToHalf);
}
