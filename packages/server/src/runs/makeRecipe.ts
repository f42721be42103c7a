import {
  documentOfOutput,
  outputPattern,
  sourcesOfOutput,
  viewingSchema,
  type OutputSettings,
} from '@june-haze/contract';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { RunRecipe } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import { colourKey } from '../library/items.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { declaredOf } from '../shots/declared.ts';
import { ledgerState } from '../shots/ledger.ts';
import { namedShot, writtenViewing } from '../shots/outputs.ts';
import { planOf } from '../shots/plan.ts';
import type { ShotRow } from '../shots/shotRows.ts';
import { readShot } from '../shots/shots.ts';

/** What ledgers are compiled and files found with. */
export interface PlanPlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
  readonly libraryFolder: string;
}

/** All that the files of an output depend on, as it is now. Throws a 400 RequestError where there is nothing to write. */
export async function makeRecipe(
  { db, pool, libraryFolder }: PlanPlaces,
  shot: ShotRow,
  settings: OutputSettings,
): Promise<RunRecipe> {
  const ledger = await ledgerState(db, shot.id);
  const document = documentOfOutput(settings, ledger.document);
  const colour = await colourKey(db, shot);
  const { width, height } = await readShot(db, shot);
  const { rows } = await planOf(
    db,
    pool,
    { key: colour, folder: libraryFolder },
    shot.id,
    document,
    shot.working_space,
    {
      size: { width, height },
    },
  );
  if (settings.kind !== 'passes' && (!rows.length || !document.entries.length))
    throw new RequestError(400, 'The ledger is empty: there is nothing to write.');
  if (settings.lastFrame < settings.firstFrame) throw new RequestError(400, 'The range runs backwards.');
  return {
    document,
    workingSpace: shot.working_space,
    viewing: writtenViewing(viewingSchema.parse(shot.viewing), settings),
    colour,
    declared: await declaredOf(db, sourcesOfOutput(settings, document), rows, [
      settings.firstFrame,
      settings.lastFrame,
    ]),
    rate: settings.rate ?? shot.rate,
    settings,
    pattern: outputPattern(namedShot(shot, { width, height }), settings),
    width,
    height,
  };
}
