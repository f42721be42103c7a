import { viewingSchema, type SetUp } from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import { changeLocked } from './changeShot.ts';
import { createShot, requireShot } from './shotRows.ts';

type ColourPlaces = Parameters<typeof changeLocked>[1];

/** All set-ups, by name. */
export async function listSetUps(db: Db): Promise<SetUp[]> {
  const rows = await db
    .selectFrom('set_ups')
    .leftJoin('library_items as i', 'i.id', 'set_ups.config_id')
    .selectAll('set_ups')
    .select('i.name as config_name')
    .orderBy('set_ups.name')
    .execute();
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    config: row.config_id,
    configName: row.config_name,
    variables: row.variables,
    workingSpace: row.working_space,
    viewing: viewingSchema.parse(row.viewing),
    rate: row.rate,
  }));
}

/** Keeps a shot's colours and rate under a name; one of that name becomes this. Exposure is each shot's own: it is not kept. */
export async function keepSetUp(db: Db, name: string, shotId: string): Promise<void> {
  const shot = await requireShot(db, shotId);
  const kept = {
    config_id: shot.config_id,
    variables: JSON.stringify(shot.variables),
    working_space: shot.working_space,
    viewing: JSON.stringify({ ...viewingSchema.parse(shot.viewing), exposure: 0 }),
    rate: shot.rate,
  };
  await db
    .insertInto('set_ups')
    .values({ name, ...kept })
    .onConflict((c) => c.column('name').doUpdateSet(kept))
    .execute();
}

export async function removeSetUp(db: Db, id: string): Promise<void> {
  await db.deleteFrom('set_ups').where('id', '=', id).execute();
}

/** Makes a shot that starts from a set-up, or from the built-in colours at 24. All of it or nothing: 404 for a set-up that is gone. */
export async function beginShot(db: Db, places: ColourPlaces, name: string, setUpId: string | null): Promise<string> {
  if (setUpId === null) return createShot(db, name);
  const setUp = (await listSetUps(db)).find((s) => s.id === setUpId);
  if (!setUp) throw new RequestError(404, 'This set-up is no longer there: choose another.');
  const id = await createShot(db, name);
  try {
    await db.transaction().execute(async (t) => {
      const { config, variables, workingSpace, viewing, rate } = setUp;
      // The config first: what it offers is what the others are chosen from.
      await changeLocked(t, places, await requireShot(t, id, 'locked'), { config, variables });
      await changeLocked(t, places, await requireShot(t, id, 'locked'), { workingSpace, viewing, rate });
    });
  } catch (error) {
    await db.deleteFrom('shots').where('id', '=', id).execute();
    throw error;
  }
  return id;
}
