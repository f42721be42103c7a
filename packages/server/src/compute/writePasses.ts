import {
  arrangeLayers,
  attributesForChannels,
  boxHeight,
  boxWidth,
  isManifestFile,
  openExr,
  readChannels,
  writeExr,
  type Compression,
  type ExrAttribute,
  type ExrFile,
  type ExrPart,
  type LayerToPack,
  type Layering,
  type PackedFile,
  type Plane,
  type ShotColour,
} from '@june-haze/core';
import {
  linesOfPacked,
  openSource,
  rowsOfPacked,
  type ReadRows,
  withSideManifests,
  writeWhole,
  zlibCodec,
  type FileWords,
  type SamplesAt,
} from '@june-haze/files';
import { exrTags, spaceAttribute } from './exrTags.ts';
import type { PassToWrite } from './passesToWrite.ts';

/** What passes are written with: of a shot's output or of a job's. */
export interface PassesTask {
  readonly passes: readonly PassToWrite[];
  /** A matte's plane, as halves of the task's size, when it is asked for. */
  readonly mattes: readonly { readonly name: string; readonly plane: () => Promise<Uint16Array> }[];
  /** Where the files go, in the order of the layers where each has its own. */
  readonly paths: readonly string[];
  readonly layering: Layering;
  readonly compression: Compression;
  readonly colour: ShotColour;
  readonly width: number;
  readonly height: number;
  readonly rate: number;
  /** As a count of frames; `isAsked`: it stands above the time that a pass's file came with. */
  readonly timecode: { readonly frame: number; readonly isAsked: boolean };
  readonly words: FileWords;
}

type Layer = LayerToPack<SamplesAt>;

/** How many channels and samples were written, and how many of these are not what they were made from. */
export interface PassesWritten {
  readonly channels: number;
  readonly samples: number;
  readonly other: number;
  /** Where the picture that stands for all lies in what was written; undefined where there is none. */
  readonly picture: PicturePlace | undefined;
}

/** A pass with colours: its planes as they came, and the written part that holds them. */
export interface PicturePlace {
  readonly came: readonly Plane[];
  readonly space: string;
  readonly path: string;
  readonly part: number;
  readonly channels: readonly string[];
  readonly width: number;
  readonly height: number;
}

/**
 * Writes passes as they came, sample by sample, and mattes of the ledger as halves, into one file or one for each; then decodes the files again
 * and counts what is not the same to the bit. Throws the files' own errors, and a sentence where layers do not go together.
 */
export async function writePasses(task: PassesTask): Promise<PassesWritten> {
  const { passes, mattes, paths } = task;
  return withFiles(passes, async (fileOf) => {
    const layers: Layer[] = [];
    for (const p of passes) layers.push(await passLayer(task, p, fileOf(p)));
    for (const { name, plane } of mattes) layers.push(matteLayer(task, name, await plane()));
    const files = arrangeLayers(layers, task.layering, task.compression);
    const rows = rowsOfPacked(files.flatMap((f) => f.parts));
    for (const [i, { parts }] of files.entries())
      await writeWhole(paths[i]!, (sink) =>
        writeExr(
          sink,
          parts.map((p) => p.write),
          linesOfPacked(parts, rows),
          zlibCodec,
        ),
      );
    const picture = await pictureOf(task, files, fileOf, rows);
    return { ...(await countSamples(paths, files, rows)), picture };
  });
}

/** So many rows are held against each other at once. */
const rowsAtOnce = 64;

async function countSamples(paths: readonly string[], files: readonly PackedFile<SamplesAt>[], rows: ReadRows) {
  const found = { channels: 0, samples: 0, other: 0 };
  for (const [i, { parts }] of files.entries()) {
    const source = await openSource(paths[i]!);
    try {
      const written = await openExr(source);
      for (const [index, { write, from }] of parts.entries()) {
        const { dataWindow: box, channels } = write;
        const names = channels.map((c) => c.name);
        found.channels += names.length;
        for (let yMin = box.yMin; yMin <= box.yMax; yMin += rowsAtOnce) {
          const yMax = Math.min(box.yMax, yMin + rowsAtOnce - 1);
          const { planes } = await readChannels(written, index, names, zlibCodec, { region: { ...box, yMin, yMax } });
          const came = await rows(from, box, yMin, yMax);
          came.forEach((plane, c) => {
            found.samples += plane.length;
            found.other += differing(bitsOf(plane), bitsOf(planes[c]!));
          });
        }
      }
    } finally {
      await source.close();
    }
  }
  return found;
}

function differing(a: Uint16Array | Uint32Array, b: Uint16Array | Uint32Array): number {
  let count = 0;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) count++;
  return count;
}

/** Samples as their bits: NaN is what it was too. */
const bitsOf = (plane: Plane): Uint16Array | Uint32Array =>
  plane instanceof Float32Array ? new Uint32Array(plane.buffer, plane.byteOffset, plane.length) : plane;

/** The first pass that has colours. */
async function pictureOf(
  { passes, paths }: PassesTask,
  files: readonly PackedFile<SamplesAt>[],
  fileOf: (pass: PassToWrite) => ExrFile,
  rows: ReadRows,
): Promise<PicturePlace | undefined> {
  const pass = passes.find((p) => !p.isData && p.space !== null && colours(p).length === 3);
  if (!pass) return undefined;
  const part = fileOf(pass).parts[pass.part]!;
  const wanted = colours(pass);
  for (const [i, { parts }] of files.entries())
    for (const [index, { write, from }] of parts.entries()) {
      const at = wanted.map((name) => from.findIndex((f) => 'file' in f && f.part === part && f.channel === name));
      if (at.includes(-1)) continue;
      const box = write.dataWindow;
      const came = await rows(
        at.map((c) => from[c]!),
        box,
        box.yMin,
        box.yMax,
      );
      const channels = at.map((c) => write.channels[c]!.name);
      const size = { width: boxWidth(write.dataWindow), height: boxHeight(write.dataWindow) };
      return { came, space: pass.space!, path: paths[i]!, part: index, channels, ...size };
    }
  return undefined;
}

const colours = ({ channels }: PassToWrite): string[] =>
  ['R', 'G', 'B'].flatMap((c) => channels.find((o) => o.component.toUpperCase() === c)?.name ?? []);

/** Opens the files of passes, each once, while something is done with them. */
async function withFiles<T>(
  passes: readonly PassToWrite[],
  use: (fileOf: (pass: PassToWrite) => ExrFile) => Promise<T>,
): Promise<T> {
  const open = new Map<string, { file: ExrFile; close: () => Promise<void> }>();
  try {
    for (const { path, fileName } of passes) {
      if (open.has(path)) continue;
      const source = await openSource(path, fileName);
      const close = () => source.close();
      open.set(path, {
        file: await openExr(source).catch((e: unknown) => close().then(() => Promise.reject(e as Error))),
        close,
      });
    }
    return await use((pass) => open.get(pass.path)!.file);
  } finally {
    for (const { close } of open.values()) await close();
  }
}

async function passLayer(task: PassesTask, pass: PassToWrite, file: ExrFile): Promise<Layer> {
  const part = file.parts[pass.part];
  const names = new Set(pass.channels.map((c) => c.name));
  const channels = part?.channels.filter((c) => names.has(c.name)) ?? [];
  if (!part || channels.length < names.size)
    throw new Error(`${pass.fileName}: the pass "${pass.name}" is not in this frame.`);
  const odd = channels.find((c) => c.xSampling !== 1 || c.ySampling !== 1);
  if (odd) throw new Error(`${pass.fileName}: ${odd.name} is sub-sampled, and cannot be packed anew.`);
  return {
    name: pass.name,
    owner: pass.owner,
    dataWindow: part.dataWindow,
    displayWindow: part.displayWindow,
    channels: channels.map((c) => ({ ...c, from: { file, part, channel: c.name, type: c.type } })),
    attributes: {
      ...attributesForChannels(await withNames(part, pass.path), [...names]),
      ...wordsOfPass(task, pass, part.attributes.has('timeCode')),
    },
  };
}

/** A part's attributes with the names behind IDs in them: the file that holds them lies beside another. */
async function withNames(part: ExrPart, path: string): Promise<ReadonlyMap<string, ExrAttribute>> {
  const words = [...part.attributes].flatMap(([key, { value }]) => (typeof value === 'string' ? [[key, value]] : []));
  const named = await withSideManifests(Object.fromEntries(words) as Record<string, string>, path);
  const attributes = new Map(part.attributes);
  for (const key of [...attributes.keys()].filter(isManifestFile)) {
    const manifest = key.replace(/manif_file$/, 'manifest');
    if (named[manifest] === undefined) continue;
    attributes.set(manifest, { type: 'string', value: named[manifest] });
    attributes.delete(key);
  }
  return attributes;
}

/** What a pass's file says anew: its space as it is declared, rate, owner and comments. */
function wordsOfPass(
  { colour, rate, timecode, words }: PassesTask,
  { space, isData }: Pick<PassToWrite, 'space' | 'isData'>,
  hasTime: boolean,
): Record<string, ExrAttribute> {
  const said = exrTags(
    colour,
    isData || space === null ? '' : space,
    { ...words, rate, timecode: timecode.frame },
    false,
  );
  const left = new Set(isData || space === null ? ['chromaticities', 'colorInteropID', spaceAttribute] : []);
  if (hasTime && !timecode.isAsked) left.add('timeCode');
  return Object.fromEntries(Object.entries(said).filter(([name]) => !left.has(name)));
}

function matteLayer(task: PassesTask, name: string, plane: Uint16Array): Layer {
  const box = { xMin: 0, yMin: 0, xMax: task.width - 1, yMax: task.height - 1 };
  return {
    name,
    owner: 'matte',
    dataWindow: box,
    displayWindow: box,
    channels: [{ name: `${name}.matte`, type: 'half', from: { plane: plane as Uint16Array<ArrayBuffer>, box } }],
    attributes: wordsOfPass(task, { space: null, isData: true }, false),
  };
}
