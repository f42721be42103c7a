import { join } from 'node:path';
import { fileKindOf, filesOfFrame, placeOfFrame } from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import { isId, RequestError } from '../errors.ts';
import { wholeRecipe } from './wholeRecipe.ts';
import type { FrameFile } from '../intake/frameFiles.ts';

/** The file of a frame that a run wrote, to be looked at again. Throws a RequestError where it was not written or another lies in its place. */
export async function writtenFrame(db: Db, outputFolder: string, runId: string, frame: number): Promise<FrameFile> {
  const run = isId(runId)
    ? await db.selectFrom('runs').select(['recipe', 'state']).where('id', '=', runId).executeTakeFirst()
    : undefined;
  if (!run) throw new RequestError(404, 'This run is no longer kept; write the output again.');
  const recipe = wholeRecipe(run.recipe);
  const { settings } = recipe;
  // A contact sheet is no frame.
  if (settings.kind === 'sheet') throw new RequestError(404, 'A contact sheet has no frames to look at.');
  const kind = fileKindOf(settings);
  const written = await db
    .selectFrom('run_frames')
    .select(['state', 'replaced'])
    .where('run_id', '=', runId)
    .where('frame', '=', frame)
    .executeTakeFirst();
  const [name] = filesOfFrame(recipe, frame) as [string];
  const movie = settings.kind === 'movie';
  if (written?.state !== 'done' || (movie && run.state !== 'done'))
    throw new RequestError(404, `${name}: frame ${frame} is not written yet.`);
  if (written.replaced) throw new RequestError(409, `${name} is not the file that was written: somebody replaced it.`);
  return {
    path: join(outputFolder, name),
    name,
    firstPart: 0,
    kind: kind === 'aces' || kind === 'passes' ? 'exr' : kind,
    movieFrame: movie ? placeOfFrame(settings, frame) : 0,
    range: null,
    width: 0,
    height: 0,
    black: false,
  };
}
