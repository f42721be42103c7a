import { existsSync, readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import {
  arePlainLevels,
  bakedLooks,
  findSpace,
  nameOfFrame,
  shareWords,
  sourcesOf,
  walkEntries,
} from '@june-haze/core';
import {
  holdsDeepSamples,
  holdsPictures,
  outputSettingsSchema,
  type OutputSettings,
  type PreCheckItem,
  type Shot,
  type Viewing,
} from '@june-haze/contract';
import type { WritingColours } from '../compute/colourTasks.ts';
import type { Db } from '../database/connect.ts';

/** A name as part of a file's: letters and digits of any alphabet stay, what lies between becomes a line. */
const plain = (s: string) =>
  s
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{M}\p{N}-]+/gu, '_')
    .replace(/^_+|_+$/g, '');

/** The folder that a shot's files go to, below the output folder. A name without any letter or digit gives way to the shot's id. */
export const outputFolderOf = (shot: { readonly id: string; readonly name: string }): string =>
  plain(shot.name) || `shot-${shot.id.slice(0, 8)}`;

/** What of a shot stands in the names of its files. */
interface NamedShot {
  readonly id: string;
  readonly name: string;
  readonly working_space: string;
  readonly viewing: { readonly display: string };
}

/** `shot/shot_output_space.####.ext`: what a file is and what its numbers mean stand in its name. */
export function outputPattern(shot: NamedShot, settings: OutputSettings): string {
  const spaces = {
    exr: settings.space ?? shot.working_space,
    aces: 'ACES2065-1',
    png: shot.viewing.display,
    jpeg: shot.viewing.display,
    tiff: shot.viewing.display,
  };
  const space = spaces[settings.kind];
  const extension = { exr: 'exr', aces: 'exr', png: 'png', jpeg: 'jpg', tiff: 'tif' }[settings.kind];
  const folder = outputFolderOf(shot);
  return `${folder}/${folder}_${plain(settings.name) || 'output'}_${plain(space) || 'space'}.####.${extension}`;
}

/** Why a shot's files would lie among another's: the names of both lead to one folder. Undefined when they do not. */
export async function folderClash(
  db: Db,
  shot: { readonly id: string; readonly name: string },
): Promise<string | undefined> {
  const others = await db.selectFrom('shots').select(['id', 'name']).where('id', '!=', shot.id).execute();
  const folder = outputFolderOf(shot);
  const other = others.find((o) => outputFolderOf(o) === folder);
  return other && `The shot ${other.name} writes into the folder "${folder}" too: give one of the two another name.`;
}

/**
 * Why an output's files would lie among another's: the names of two shots lead to one folder, or those of two outputs to the same frames'
 * files. Undefined when they do not.
 */
export async function nameClash(
  db: Db,
  shot: NamedShot,
  output: { readonly id: string; readonly settings: OutputSettings },
): Promise<string | undefined> {
  const other = await folderClash(db, shot);
  if (other !== undefined) return other;
  const { settings } = output;
  const beside = await db.selectFrom('outputs').selectAll().where('shot_id', '=', shot.id).execute();
  const same = beside
    .filter((o) => o.id !== output.id)
    .map((o) => outputSettingsSchema.parse(o.settings))
    .find((o) => outputPattern(shot, o) === outputPattern(shot, settings) && overlap(o, settings));
  return (
    same && `Another output, ${same.name}, writes files of these names for the same frames: give one another name.`
  );
}

const overlap = (a: OutputSettings, b: OutputSettings): boolean =>
  a.firstFrame <= b.lastFrame && b.firstFrame <= a.lastFrame;

export function outputPath(outputFolder: string, pattern: string, frame: number): string {
  return join(outputFolder, nameOfFrame(pattern, frame));
}

/** The viewing that goes into an output's files: looks only where the output asks for them. */
export function writtenViewing(viewing: Viewing, settings: OutputSettings): Viewing {
  return settings.bakeLook ? viewing : { ...viewing, look: null, lookFile: null };
}

/** What the viewing's look is called, or undefined when the view stands alone. */
export function lookName({ look, lookFile }: Viewing): string | undefined {
  return [lookFile?.name, look || undefined].filter((x) => x !== undefined).join(' and ') || undefined;
}

/** What becomes of bad frames, in the words of the list before writing. */
const onFault = {
  stop: 'will fail; the others are written.',
  hold: 'will hold the last good one.',
  black: 'will be left black.',
} as const;

/** Bytes of an output's files if none of them could be packed at all: an alpha is reckoned with. */
function largestSize({ width, height }: Shot, settings: OutputSettings): number {
  const { kind, sampleType, bits, firstFrame, lastFrame } = settings;
  const light = !holdsPictures(settings);
  const sample = light ? (kind === 'exr' && sampleType === 'float' ? 4 : 2) : holdsDeepSamples(kind) ? bits / 8 : 1;
  return width * height * (light ? 4 : 3) * sample * Math.max(0, lastFrame - firstFrame + 1);
}

const gigabytes = (bytes: number) => `${(bytes / 1e9).toFixed(bytes < 1e9 ? 2 : 1)} GB`;

/** What a source gives outside of the frames that it has. */
const beyondWords = {
  stop: 'writing fails',
  nothing: 'its rows rest',
  hold: 'its first and its last frame are held',
  loop: 'it begins again',
  thereAndBack: 'it runs there and back',
} as const;

const pacedWords = ({ reading: { speed } }: Shot['sources'][number]) =>
  [...(speed < 0 ? ['backwards'] : []), Math.abs(speed) > 1 ? 'frames are left out' : 'frames are repeated'].join(', ');

/** The frames of an output whose files are there already: one look into the folder, however many frames there are. */
export function filesInTheWay(
  outputFolder: string,
  pattern: string,
  { firstFrame, lastFrame }: Pick<OutputSettings, 'firstFrame' | 'lastFrame'>,
): string[] {
  const folder = join(outputFolder, dirname(pattern));
  const there = new Set(existsSync(folder) ? readdirSync(folder) : []);
  const names: string[] = [];
  for (let frame = firstFrame; there.size > 0 && frame <= lastFrame; frame++) {
    const name = basename(nameOfFrame(pattern, frame));
    if (there.has(name)) names.push(name);
  }
  return names;
}

/** What a person should know before files are written. */
export function preCheck(
  shot: Shot,
  settings: OutputSettings,
  pattern: string,
  outputFolder: string,
  colours: WritingColours,
  { clash, free }: { readonly clash?: string | undefined; readonly free?: number | undefined } = {},
): { items: PreCheckItem[]; existing: number } {
  const items: PreCheckItem[] = [];
  const add = (weight: PreCheckItem['weight'], text: string) => items.push({ weight, text });
  if (clash !== undefined) add('stop', clash);
  const entries = [...walkEntries(shot.ledger.document.entries)].filter((e) => e.enabled);
  const used = sourcesOf(shot.ledger.document, (e) => e.enabled);
  if (!entries.length) add('stop', 'The ledger is empty: there is nothing to write. Build the picture first.');
  if (settings.lastFrame < settings.firstFrame)
    add('stop', `The range ${settings.firstFrame}–${settings.lastFrame} runs backwards.`);
  for (const source of shot.sources.filter((s) => used.has(s.id))) {
    const inRange = (frame: number) => frame >= settings.firstFrame && frame <= settings.lastFrame;
    const absent = source.missing.filter(inRange).length;
    const damaged = source.damaged.filter((d) => inRange(d.frame)).length;
    for (const [count, what] of [
      [absent, 'missing'],
      [damaged, 'damaged'],
    ] as const)
      if (count)
        add(
          source.reading.onFault === 'stop' ? 'warning' : 'note',
          `${source.name}: ${count} ${what} ${count === 1 ? 'frame' : 'frames'} in the range ${onFault[source.reading.onFault]}`,
        );
    if (!source.still && (settings.firstFrame < source.firstFrame || settings.lastFrame > source.lastFrame)) {
      const { beyond } = source.reading;
      add(
        beyond === 'stop' ? 'warning' : 'note',
        `${source.name} has frames ${source.firstFrame}–${source.lastFrame} only; outside of them ${beyondWords[beyond]}.`,
      );
    }
    if (source.reading.speed !== 1)
      add(
        'note',
        `${source.name} runs at ${source.reading.speed} of its speed, by whole frames: ${pacedWords(source)}.`,
      );
    if (!source.confirmed)
      add('warning', `${source.name}: its space (${source.declaredSpace ?? 'none'}) is not confirmed by a person.`);
  }
  for (const { entry, look: baked } of bakedLooks(shot.ledger.document))
    add('warning', `The look ${baked} is baked into the entry ${entry}: it is in every file.`);
  const { display, view, exposure, black, white, gamma } = shot.viewing;
  const look = lookName(shot.viewing);
  if (settings.kind === 'exr' || settings.kind === 'aces') {
    const aces = settings.kind === 'aces';
    const back = aces || !settings.space ? undefined : findSpace(settings.space);
    if (!aces && settings.space && !back) add('stop', `There is no space named ${settings.space} to write in.`);
    if (aces && !colours.hasTwin)
      add('stop', `${shot.workingSpace} has no known way to ACES2065-1: the ACES container cannot be written from it.`);
    else if (!colours.hasTwin && !back)
      add('warning', `The primaries of ${shot.workingSpace} are not known: the files carry no chromaticities.`);
    if (look) add('note', `The look ${look} is shown only, not written.`);
    add(
      'note',
      back
        ? `Numbers in ${back.name}, as its source came, with chromaticities and colour identity. Alpha stays as it is; the view ${display} / ${view} is shown only, not written.`
        : `Linear numbers in ${aces ? 'ACES2065-1, in the ACES container form' : shot.workingSpace}, with chromaticities and colour identity. The view ${display} / ${view} is shown only, not written.`,
    );
    const lossy = ['b44', 'b44a', 'dwaa', 'dwab'].includes(settings.compression) && !aces;
    if (lossy)
      add(
        'note',
        `${settings.compression.toUpperCase()} loses a little on purpose; the read-back proof says how much.`,
      );
    if (settings.sampleType === 'half' || aces) add('note', 'Half float: values above 65,504 become infinite.');
  } else {
    add('note', `Through the viewing: ${display} / ${view}. Values above what the display shows are clipped.`);
    if (!colours.display)
      add('stop', `Pictures for ${display} cannot be tagged: choose a display of sRGB or Rec.709 codes.`);
    if (look && settings.bakeLook) add('warning', `The look ${look} is baked into these files.`);
    else if (look) add('note', `The look ${look} is shown only, not written; the output can ask for it.`);
    add('note', 'Alpha is dropped.');
    if (holdsDeepSamples(settings.kind)) add('note', `${settings.bits} bits a sample.`);
    if (!arePlainLevels({ black, white }))
      add('warning', `The viewing levels, ${black} to ${white}, are baked into these files.`);
    if (gamma !== 1) add('warning', `The viewing gamma of ${gamma} is baked into these files.`);
    if (exposure !== 0)
      add('warning', `The viewing exposure of ${exposure.toFixed(1)} stops is baked into these files.`);
  }
  const off = shot.balances.filter((b) => !b.balanced).map((b) => b.share);
  if (off.length) add('note', `The total differs from the beauty by ${shareWords(Math.max(...off))}, as built.`);
  const room = largestSize(shot, settings);
  if (free !== undefined && room > free)
    add(
      'warning',
      `The files may take up to ${gigabytes(room)}, and ${gigabytes(free)} are free there; a frame that is tried tells more.`,
    );
  const existing = filesInTheWay(outputFolder, pattern, settings).length;
  if (existing)
    add('warning', `${existing} ${existing === 1 ? 'file is' : 'files are'} already there and would be replaced.`);
  return { items, existing };
}
