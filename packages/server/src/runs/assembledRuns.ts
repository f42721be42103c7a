import { readdir, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { sql } from 'kysely';
import { holdsStraightAlpha, isOneFile } from '@june-haze/contract';
import type { FramesAside } from '@june-haze/files';
import type { AssembledFile } from '../compute/assembleFrames.ts';
import type { Db } from '../database/connect.ts';
import type { RunRecipe } from '../database/tables.ts';
import { isId } from '../errors.ts';
import { wholeRecipe } from './wholeRecipe.ts';

/** Frames of what becomes one file until it is put together. */
export const framesAside = (outputFolder: string, recipe: RunRecipe, runId: string): FramesAside => ({
  folder: framesFolder(outputFolder, recipe, runId),
  alpha: holdsStraightAlpha(recipe.settings),
});

/** They lie hidden beside it, so that every machine that writes finds them. */
const framesFolder = (outputFolder: string, { pattern }: Pick<RunRecipe, 'pattern'>, runId: string): string =>
  join(outputFolder, dirname(pattern), `.${runId}`);

/** Removes the frames that other runs of an output left. */
export async function removeFramesOf(db: Db, outputFolder: string, outputId: string, but?: string): Promise<void> {
  const runs = await db.selectFrom('runs').select(['id', 'recipe']).where('output_id', '=', outputId).execute();
  for (const { id, recipe } of runs)
    if (id !== but && isOneFile(recipe.settings))
      await rm(framesFolder(outputFolder, recipe, id), { recursive: true, force: true });
}

/** Removes the frames of runs that are over or gone, as a killed process leaves them; those of runs that may be taken up again stay. */
export async function sweepFrames(db: Db, folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
    if (!entry.isDirectory()) continue;
    const id = entry.name.startsWith('.') ? entry.name.slice(1) : undefined;
    if (id === undefined) await sweepFrames(db, join(folder, entry.name));
    else if (isId(id)) {
      const run = await db.selectFrom('runs').select('state').where('id', '=', id).executeTakeFirst();
      if (!run || run.state === 'done') await rm(join(folder, entry.name), { recursive: true, force: true });
    }
  }
}

/** The recipe of a run that is being written; undefined when it is not any more. */
export async function runningRecipe(db: Db, runId: string): Promise<RunRecipe | undefined> {
  const run = await db
    .selectFrom('runs')
    .select('recipe')
    .where('id', '=', runId)
    .where('state', '=', 'running')
    .executeTakeFirst();
  return run && wholeRecipe(run.recipe);
}

/** Stores what became of a movie, and ends its run; false where the run does not stand as being written any more. */
export async function endAssembled(
  db: Db,
  runId: string,
  { settings }: RunRecipe,
  result: AssembledFile | Error,
): Promise<boolean> {
  return db.transaction().execute(async (t) => {
    const failed = result instanceof Error;
    const ended = await t
      .updateTable('runs')
      .set({
        state: failed ? 'failed' : 'done',
        message: failed ? result.message : null,
        finished_at: new Date(),
      })
      .where('id', '=', runId)
      .where('state', '=', 'running')
      .returning('id')
      .executeTakeFirst();
    if (!ended) return false;
    if (failed) return true;
    await sql`
      update run_frames f set bytes = 0, read_back = proof.read_back
      from jsonb_array_elements(${JSON.stringify(result.readBacks)}::jsonb) with ordinality as proof (read_back, n)
      where f.run_id = ${runId} and f.frame = ${settings.firstFrame}::int + (proof.n - 1) * ${settings.step}::int`.execute(
      t,
    );
    // The one file stands with the first frame.
    await t
      .updateTable('run_frames')
      .set({ bytes: result.bytes, written: JSON.stringify(result.written), replaced: false })
      .where('run_id', '=', runId)
      .where('frame', '=', settings.firstFrame)
      .execute();
    return true;
  });
}
