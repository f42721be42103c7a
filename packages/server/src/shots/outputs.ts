import { existsSync, readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { displayCodes, nameOfFrame } from '@june-haze/core';
import {
  extensionOf,
  holdsPictures,
  outputSettingsSchema,
  type OutputSettings,
  type Viewing,
} from '@june-haze/contract';
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
  const space = holdsPictures(settings)
    ? settings.codes
      ? displayCodes[settings.codes].spaces[0]!
      : shot.viewing.display
    : settings.kind === 'aces'
      ? 'ACES2065-1'
      : (settings.space ?? shot.working_space);
  const folder = outputFolderOf(shot);
  // A movie is one file.
  const frame = settings.kind === 'movie' ? '' : '.####';
  return `${folder}/${folder}_${plain(settings.name) || 'output'}_${plain(space) || 'space'}${frame}.${extensionOf(settings)}`;
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

/** The frames of an output whose files are there already: one look into the folder, however many frames there are. */
export function filesInTheWay(
  outputFolder: string,
  pattern: string,
  { firstFrame, lastFrame, step }: Pick<OutputSettings, 'firstFrame' | 'lastFrame' | 'step'>,
): string[] {
  const folder = join(outputFolder, dirname(pattern));
  const there = new Set(existsSync(folder) ? readdirSync(folder) : []);
  const names: string[] = [];
  if (!pattern.includes('#')) return there.has(basename(pattern)) ? [basename(pattern)] : [];
  for (let frame = firstFrame; there.size > 0 && frame <= lastFrame; frame += step) {
    const name = basename(nameOfFrame(pattern, frame));
    if (there.has(name)) names.push(name);
  }
  return names;
}
