import { cp } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { filesOfFrame, isOneFile } from '@june-haze/contract';
import type { TaskRunner } from '../compute/ask.ts';
import type { Db } from '../database/connect.ts';
import type { RunRecipe } from '../database/tables.ts';
import { knownFiles } from './knownFiles.ts';
import { wholeRecipe } from './wholeRecipe.ts';
import type { RunPlaces } from './runPlaces.ts';

/** Frames of an earlier run that need not be written again: what they were made of is the same, and their files are what was written. */
export interface UnchangedFrames {
  readonly runId: string;
  readonly frames: readonly number[];
}

/**
 * The frames of an output's last run whose files would be written the same again: its recipe is the same to the word, hashes of all files it reads
 * included, and the files were proved and are on disk as they were then. None of what is one file. Undefined when there is none.
 */
export async function unchangedFrames(
  { db, pool, places }: { readonly db: Db; readonly pool: TaskRunner; readonly places: RunPlaces },
  outputId: string,
  recipe: RunRecipe,
): Promise<UnchangedFrames | undefined> {
  if (isOneFile(recipe.settings)) return undefined;
  const last = await db
    .selectFrom('runs')
    .select(['id', 'recipe'])
    .where('output_id', '=', outputId)
    .orderBy('started_at', 'desc')
    .limit(1)
    .executeTakeFirst();
  // What had not been looked at when the last run began cannot be known to be the same.
  const known = recipe.declared?.every((d) => d.printed) ?? false;
  if (!last || !known || !isDeepStrictEqual(plain(wholeRecipe(last.recipe)), plain(recipe))) return undefined;
  const rows = await db
    .selectFrom('run_frames')
    .select(['frame', 'written', 'read_back'])
    .where('run_id', '=', last.id)
    .where('state', '=', 'done')
    .where('written', 'is not', null)
    .execute();
  const proved = rows.filter((r) => r.read_back?.proved);
  const files = knownFiles(recipe, proved);
  const others = new Set(
    (await pool.run('findChangedFiles', { folder: places.outputFolder, files })).map((o) => o.file),
  );
  const frames = proved.map((r) => r.frame).filter((f) => !filesOfFrame(recipe, f).some((file) => others.has(file)));
  return frames.length ? { runId: last.id, frames } : undefined;
}

/** As the database gives it, without what no file depends on: what is undefined is not there. */
const plain = (recipe: RunRecipe): unknown =>
  JSON.parse(JSON.stringify({ ...recipe, accepted: undefined, settings: { ...recipe.settings, priority: undefined } }));

/** The pictures of a run's first frame, for a run that does not write it again. */
export async function keepPictures({ proofFolder }: RunPlaces, from: string, to: string): Promise<void> {
  await cp(join(proofFolder, from), join(proofFolder, to), { recursive: true }).catch(() => undefined);
}
