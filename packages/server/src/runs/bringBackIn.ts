import { basename, dirname, join } from 'node:path';
import { joinedPattern } from '@june-haze/core';
import { hasFileEach, holdsPictures, sourceReadingSchema, wordsOfPasses } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { bringIn } from '../intake/bringIn.ts';
import { wholeRecipe } from './wholeRecipe.ts';

/**
 * Brings the files that a run wrote into its shot, as a source whose space their own tags say: light as a plate, pictures as a reference that is
 * shown and never summed. Returns the shot's and the source's ids. Throws a RequestError where the files are not all there.
 */
export async function bringBackIn(context: Context, runId: string): Promise<{ shotId: string; sourceId: string }> {
  const { db, pool, media, places, checks } = context;
  const run = await db
    .selectFrom('runs')
    .innerJoin('outputs', 'outputs.id', 'runs.output_id')
    .where('runs.id', '=', runId)
    .select(['runs.state', 'runs.recipe', 'outputs.shot_id'])
    .executeTakeFirst();
  if (run?.state !== 'done') throw new RequestError(409, 'Only files that were all written are brought in again.');
  const { pattern, settings } = wholeRecipe(run.recipe);
  const folder = await media.placeOf(join(places.outputFolder, dirname(pattern)));
  if (folder === undefined) throw new RequestError(404, `The files of ${pattern} are not there any more.`);
  const where = { db, pool, media, libraryFolder: places.libraryFolder };
  const names = hasFileEach(settings)
    ? wordsOfPasses(settings).map((word) => basename(pattern).replaceAll('{pass}', word))
    : [basename(pattern)];
  const { ids } = await bringIn(where, run.shot_id, folder, [joinedPattern(names)]);
  const sourceId = ids[0]!;
  const reading = sourceReadingSchema.parse({
    use: holdsPictures(settings) ? 'reference' : 'plate',
    // A movie's first frame has no number of its own, and numbers of files may be others than the frames'.
    ...(settings.kind === 'movie' || settings.offset ? { firstFrame: settings.firstFrame } : {}),
  });
  await db
    .updateTable('sources')
    .set({ reading: JSON.stringify(reading) })
    .where('id', '=', sourceId)
    .execute();
  checks.begin(sourceId);
  return { shotId: run.shot_id, sourceId };
}
