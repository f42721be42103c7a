import { viewingSchema, type ShotChange } from '@june-haze/contract';
import { granted, type TaskRunner } from '../compute/ask.ts';
import type { Db } from '../database/connect.ts';
import { colourKey, requireItem } from '../library/items.ts';
import { forgetBalances } from './standingBalances.ts';
import { requireShot, type ShotRow } from './shotRows.ts';

interface ColourPlaces {
  readonly pool: TaskRunner;
  readonly libraryFolder: string;
}

/**
 * Changes a shot's name, rate, places, colours or what is compared. The row is locked from reading to writing, so changes that come together are all kept.
 * Throws a RequestError: 404 for a shot that is gone, 400 with its sentence for colours that cannot be.
 */
export async function changeShot(
  places: ColourPlaces & { readonly db: Db },
  id: string,
  change: ShotChange,
): Promise<void> {
  await places.db
    .transaction()
    .execute(async (t) => changeLocked(t, places, await requireShot(t, id, 'locked'), change));
}

/** The same inside a transaction that has the shot's row locked. */
export async function changeLocked(db: Db, places: ColourPlaces, shot: ShotRow, change: ShotChange): Promise<void> {
  const colours = await settled(db, places, shot, change);
  await db
    .updateTable('shots')
    .set({
      ...(change.name ? { name: change.name } : {}),
      ...(change.rate ? { rate: change.rate } : {}),
      ...(change.match ? { match: JSON.stringify({ ...shot.match, ...change.match }) } : {}),
      ...(change.places ? { places: JSON.stringify(change.places) } : {}),
      ...colours,
      updated_at: new Date(),
    })
    .where('id', '=', shot.id)
    .execute();
}

/** What a change of colours stores; nothing when it touches none, so that a shot whose config is broken can still be renamed. */
async function settled(db: Db, { pool, libraryFolder }: ColourPlaces, shot: ShotRow, change: ShotChange) {
  const { config, variables, workingSpace, viewing } = change;
  if ([config, variables, workingSpace, viewing].every((v) => v === undefined)) return {};
  const wanted = {
    ...shot,
    config_id: config === undefined ? shot.config_id : config,
    // Another config has other variables.
    variables: variables ?? (config === undefined || config === shot.config_id ? shot.variables : {}),
    viewing: { ...viewingSchema.parse(shot.viewing), ...viewing },
  };
  if (wanted.config_id !== null) await requireItem(db, wanted.config_id);
  const result = granted(
    await pool.run('settleColours', {
      colour: { key: await colourKey(db, wanted), folder: libraryFolder },
      workingSpace: workingSpace ?? shot.working_space,
      viewing: wanted.viewing,
      fresh: config !== undefined,
    }),
  );
  // A balance is a statement about one working space.
  if (result.workingSpace !== shot.working_space || wanted.config_id !== shot.config_id || variables !== undefined)
    await forgetBalances(db, shot.id);
  return {
    working_space: result.workingSpace,
    config_id: wanted.config_id,
    variables: JSON.stringify(wanted.variables),
    viewing: JSON.stringify(result.viewing),
  };
}
