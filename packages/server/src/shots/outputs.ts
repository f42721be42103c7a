import { existsSync, readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import {
  filesOfFrame,
  folderOfShot,
  isOneFile,
  outputPattern,
  outputSettingsSchema,
  type NamedShot,
  type OutputSettings,
  type Viewing,
} from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import type { ShotRow } from './shotRows.ts';

/** A shot's row as its files' names have it, with the size of its pictures. */
export const namedShot = (
  row: Pick<ShotRow, 'id' | 'name' | 'working_space' | 'viewing' | 'rate'>,
  size: { readonly width: number; readonly height: number },
): NamedShot => ({
  id: row.id,
  name: row.name,
  workingSpace: row.working_space,
  viewing: row.viewing,
  rate: row.rate,
  width: size.width,
  height: size.height,
});

/** Why a shot's files would lie among another's: the names of both lead to one folder. Undefined when they do not. */
export async function folderClash(
  db: Db,
  shot: { readonly id: string; readonly name: string },
): Promise<string | undefined> {
  const others = await db.selectFrom('shots').select(['id', 'name']).where('id', '!=', shot.id).execute();
  const folder = folderOfShot(shot);
  const other = others.find((o) => folderOfShot(o) === folder);
  return other && `The shot ${other.name} writes into the folder "${folder}" too: give one of the two another name.`;
}

/**
 * Why an output's files would lie among another's: the names of two shots lead to one folder, or those of two outputs, of whatever shots, to the
 * same files. Undefined when they do not.
 */
export async function nameClash(
  db: Db,
  shot: NamedShot,
  output: { readonly id: string; readonly settings: OutputSettings },
): Promise<string | undefined> {
  const other = await folderClash(db, shot);
  if (other !== undefined) return other;
  const { settings } = output;
  const own = outputPattern(shot, settings);
  const all = await db
    .selectFrom('outputs')
    .innerJoin('shots', 'shots.id', 'outputs.shot_id')
    .where('outputs.id', '!=', output.id)
    .select(['shots.id', 'shots.name', 'shots.working_space', 'shots.viewing', 'shots.rate', 'outputs.settings'])
    .execute();
  for (const row of all) {
    const its = outputSettingsSchema.parse(row.settings);
    // Sizes of other shots are not known here; where they stand in the names they are taken to be alike.
    if (outputPattern(namedShot(row, shot), its) !== own || !overlap(its, settings)) continue;
    const whose = row.id === shot.id ? 'Another output' : `An output of the shot ${row.name}`;
    return `${whose}, ${its.name}, writes files of these names for the same frames: give one another name.`;
  }
  return undefined;
}

const overlap = (a: OutputSettings, b: OutputSettings): boolean =>
  isOneFile(a) ||
  (a.firstFrame + a.offset <= b.lastFrame + b.offset && b.firstFrame + b.offset <= a.lastFrame + a.offset);

/** The viewing that goes into an output's files: looks only where the output asks for them. */
export function writtenViewing(viewing: Viewing, settings: OutputSettings): Viewing {
  return settings.bakeLook ? viewing : { ...viewing, look: null, lookFile: null };
}

/** What the viewing's look is called, or undefined when the view stands alone. */
export function lookName({ look, lookFile }: Viewing): string | undefined {
  return [lookFile?.name, look || undefined].filter((x) => x !== undefined).join(' and ') || undefined;
}

/** The frames of an output whose files are there already: one look into the folder, however many frames there are. */
export function filesInTheWay(outputFolder: string, pattern: string, settings: OutputSettings): string[] {
  const { firstFrame, lastFrame, step } = settings;
  const folder = join(outputFolder, dirname(pattern));
  const there = new Set(existsSync(folder) ? readdirSync(folder) : []);
  const names: string[] = [];
  if (!pattern.includes('#')) return there.has(basename(pattern)) ? [basename(pattern)] : [];
  for (let frame = firstFrame; there.size > 0 && frame <= lastFrame; frame += step) {
    for (const file of filesOfFrame({ pattern, settings }, frame))
      if (there.has(basename(file))) names.push(basename(file));
  }
  return names;
}
