import { filesOfFrame } from '@june-haze/contract';
import type { TaskRunner } from '../compute/ask.ts';
import type { Db } from '../database/connect.ts';
import { knownFiles } from './knownFiles.ts';
import { wholeRecipe } from './wholeRecipe.ts';

interface WrittenPlaces {
  readonly db: Db;
  readonly pool: TaskRunner;
  readonly outputFolder: string;
}

/** The last run of each output of some shots, when it is over. */
export async function lastRuns(db: Db, shots: readonly string[]): Promise<{ id: string; shotId: string }[]> {
  const rows = await db
    .selectFrom('runs')
    .innerJoin('outputs', 'outputs.id', 'runs.output_id')
    .where('outputs.shot_id', 'in', shots)
    .distinctOn('runs.output_id')
    .select(['runs.id', 'runs.state', 'outputs.shot_id as shotId'])
    .orderBy('runs.output_id')
    .orderBy('runs.started_at', 'desc')
    .execute();
  return rows.filter((r) => r.state !== 'running');
}

/**
 * Marks frames of a run whose files are not what was written: somebody replaced or removed them, so that nothing is proved of them any
 * more. Returns how many files there are, and whether a mark changed.
 */
export async function noticeReplaced(
  { db, pool, outputFolder }: WrittenPlaces,
  runId: string,
): Promise<{ files: number; changed: boolean }> {
  const run = await db.selectFrom('runs').select('recipe').where('id', '=', runId).executeTakeFirst();
  const frames = await db
    .selectFrom('run_frames')
    .select(['frame', 'written', 'replaced'])
    .where('run_id', '=', runId)
    .where('written', 'is not', null)
    .execute();
  if (!run || !frames.length) return { files: 0, changed: false };
  const recipe = wholeRecipe(run.recipe);
  const files = knownFiles(recipe, frames);
  const others = await pool.run('findChangedFiles', { folder: outputFolder, files });
  const replaced = new Set(others.map((o) => o.file));
  const isReplaced = (frame: number) => filesOfFrame(recipe, frame).some((file) => replaced.has(file));
  const moved = frames.filter((f) => isReplaced(f.frame) !== f.replaced);
  for (const mark of [true, false]) {
    const which = moved.filter((f) => f.replaced !== mark).map((f) => f.frame);
    if (which.length)
      await db
        .updateTable('run_frames')
        .set({ replaced: mark })
        .where('run_id', '=', runId)
        .where('frame', 'in', which)
        .execute();
  }
  return { files: files.length, changed: moved.length > 0 };
}
