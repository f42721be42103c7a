import { builtinColour, dataRoles, ledgerOfMatte } from '@june-haze/core';
import type { ChosenPass } from '@june-haze/contract';
import type { MatteToWrite, PassesToWrite, PassToWrite } from '../compute/passesToWrite.ts';
import type { RunRecipe } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import { frameFile } from '../intake/frameFiles.ts';
import type { SourceRow } from '../intake/sourceState.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { frameFiles, planOf, planSourceOf } from '../shots/plan.ts';
import type { PlanPlaces } from './makeRecipe.ts';

/** Where a chosen pass lies for a frame. Throws a RequestError that names what is gone, is no EXR, or is not there for the frame. */
async function passToWrite(
  media: MediaFolders,
  rows: readonly SourceRow[],
  chosen: ChosenPass,
  frame: number,
): Promise<PassToWrite> {
  const row = rows.find((r) => r.id === chosen.sourceId);
  if (!row) throw new RequestError(400, `The pass "${chosen.pass}" is of a source that is no longer in the shot.`);
  const { passes, space } = planSourceOf(row);
  const pass = passes.find((p) => p.name === chosen.pass);
  if (!pass) throw new RequestError(400, `${row.pattern} has no pass "${chosen.pass}".`);
  const file = await frameFile(media, row, pass.part, frame);
  if (file.kind !== 'exr') throw new RequestError(400, `${file.name}: only passes of EXR files are packed anew.`);
  if (file.black)
    throw new RequestError(400, `${row.pattern}: frame ${frame} is not there, and a pass is as it came or not at all.`);
  return {
    name: pass.name,
    owner: row.pattern.replace(/^.*\//, '').replace(/[._-]*#+.*$|\.\w+$/, '') || 'source',
    path: file.path,
    fileName: file.name,
    part: pass.part - file.firstPart,
    channels: pass.channels,
    space,
    isData: dataRoles.has(pass.role),
  };
}

/** The passes and mattes of a frame, and where they go. Throws as `passToWrite` does, and as a matte that cannot be made. */
export async function passesOfFrame(
  { db, pool, media, libraryFolder }: PlanPlaces,
  shotId: string,
  { settings, document, workingSpace, declared, width, height, colour }: RunRecipe,
  rows: readonly SourceRow[],
  frame: number,
  paths: readonly string[],
): Promise<PassesToWrite> {
  const passes: PassToWrite[] = [];
  for (const chosen of settings.passes) passes.push(await passToWrite(media, rows, chosen, frame));
  const mattes: MatteToWrite[] = [];
  for (const name of settings.mattes) {
    const { plan, rows: own } = await planOf(
      db,
      pool,
      { key: colour ?? builtinColour, folder: libraryFolder },
      shotId,
      ledgerOfMatte(name, document.mattes ?? {}),
      workingSpace,
      { declared: declared ?? [], frame, size: { width, height } },
    );
    mattes.push({ name, plan, files: await frameFiles(media, plan, own, frame) });
  }
  return { passes, mattes, paths };
}
