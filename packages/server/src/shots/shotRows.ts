import { viewingSchema } from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Db } from '../database/connect.ts';
import type { Database } from '../database/tables.ts';
import { isId, RequestError } from '../errors.ts';
import type { SourceRow } from '../intake/sourceState.ts';

export type ShotRow = Selectable<Database['shots']>;

/** A shot's row; `locked`, inside a transaction, until that ends. Throws a 404 RequestError when it is gone. */
export async function requireShot(db: Db, id: string, locked?: 'locked'): Promise<ShotRow> {
  const query = db.selectFrom('shots').selectAll().where('id', '=', id);
  const row = isId(id) ? await (locked ? query.forUpdate() : query).executeTakeFirst() : undefined;
  if (!row) throw new RequestError(404, 'This shot is no longer on the shelf.');
  return row;
}

export async function requireSource(db: Db, id: string): Promise<SourceRow> {
  const row = isId(id) ? await db.selectFrom('sources').selectAll().where('id', '=', id).executeTakeFirst() : undefined;
  if (!row) throw new RequestError(404, 'This source is no longer in the shot.');
  return row;
}

export async function createShot(db: Db, name: string, demo = false): Promise<string> {
  return db.transaction().execute(async (t) => {
    const viewing = JSON.stringify(viewingSchema.parse({ display: 'sRGB', view: 'ACES SDR', exposure: 0 }));
    const { id } = await t
      .insertInto('shots')
      .values({
        name,
        working_space: 'ACEScg',
        viewing,
        config_id: null,
        rate: 24,
        ledger_head: 0,
        demo,
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    const document = JSON.stringify({ version: 1, entries: [] });
    await t
      .insertInto('ledger_revisions')
      .values({ shot_id: id, number: 0, parent: null, document, summary: 'empty' })
      .execute();
    return id;
  });
}

export async function touchShot(db: Db, id: string): Promise<void> {
  await db.updateTable('shots').set({ updated_at: new Date() }).where('id', '=', id).execute();
}
