import { rebuildLedger, walkEntries, type LedgerDocument, type RebuildWay } from '@june-haze/core';
import type { LedgerState, Source } from '@june-haze/contract';
import { randomUUID } from 'node:crypto';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';

const stale =
  'The ledger was changed elsewhere since this page last saw it; it has been loaded again, repeat the change.';

/** The ledger in force. Revisions are only ever added; undo and redo move the head along their parents. */
export async function ledgerState(db: Db, shotId: string): Promise<LedgerState> {
  const row = await db
    .selectFrom('shots')
    .innerJoin('ledger_revisions as r', (j) =>
      j.onRef('r.shot_id', '=', 'shots.id').onRef('r.number', '=', 'shots.ledger_head'),
    )
    .where('shots.id', '=', shotId)
    .select(['r.number', 'r.parent', 'r.document', 'r.summary'])
    .executeTakeFirstOrThrow();
  const next = await childOf(db, shotId, row.number);
  return {
    revision: row.number,
    document: row.document,
    canUndo: row.parent !== null,
    canRedo: next !== undefined,
    summary: row.summary,
  };
}

/** The newest revision made from this one: where redo goes. */
async function childOf(db: Db, shotId: string, parent: number): Promise<number | undefined> {
  const row = await db
    .selectFrom('ledger_revisions')
    .select('number')
    .where('shot_id', '=', shotId)
    .where('parent', '=', parent)
    .orderBy('number', 'desc')
    .limit(1)
    .executeTakeFirst();
  return row?.number;
}

/** Locks a shot until the transaction ends. Throws a 404 or 409 RequestError when it is gone or its head is not `base`. */
async function lockHead(t: Db, shotId: string, base: number): Promise<void> {
  const shot = await t
    .selectFrom('shots')
    .select('ledger_head')
    .where('id', '=', shotId)
    .forUpdate()
    .executeTakeFirst();
  if (!shot) throw new RequestError(404, 'This shot is no longer on the shelf.');
  if (shot.ledger_head !== base) throw new RequestError(409, stale);
}

async function moveHead(t: Db, shotId: string, to: number): Promise<void> {
  await t.updateTable('shots').set({ ledger_head: to, updated_at: new Date() }).where('id', '=', shotId).execute();
}

/** Adds a revision on top of `base`. Throws a 409 RequestError when the head has moved on. */
export async function saveLedger(
  db: Db,
  shotId: string,
  base: number,
  document: LedgerDocument,
  summary: string,
): Promise<void> {
  const ids = [...walkEntries(document.entries)].map((e) => e.id);
  if (new Set(ids).size !== ids.length) throw new RequestError(400, 'Two entries of the ledger carry the same id.');
  await db.transaction().execute(async (t) => {
    await lockHead(t, shotId, base);
    const { number } = await t
      .selectFrom('ledger_revisions')
      .select((eb) => eb(eb.fn.max('number'), '+', 1).as('number'))
      .where('shot_id', '=', shotId)
      .executeTakeFirstOrThrow();
    await t
      .insertInto('ledger_revisions')
      .values({ shot_id: shotId, number, parent: base, document: JSON.stringify(document), summary })
      .execute();
    await moveHead(t, shotId, number);
  });
}

/** Moves the head one step back or forward. Throws a 409 RequestError when it moved meanwhile or there is no step. */
export async function stepLedger(db: Db, shotId: string, base: number, direction: 'undo' | 'redo'): Promise<void> {
  await db.transaction().execute(async (t) => {
    await lockHead(t, shotId, base);
    const target =
      direction === 'redo'
        ? await childOf(t, shotId, base)
        : (
            await t
              .selectFrom('ledger_revisions')
              .select('parent')
              .where('shot_id', '=', shotId)
              .where('number', '=', base)
              .executeTakeFirst()
          )?.parent;
    if (target === undefined || target === null) throw new RequestError(409, `There is nothing to ${direction}.`);
    await moveHead(t, shotId, target);
  });
}

/** A ledger that rebuilds a source's beauty from its components, light groups, or the beauty itself. Throws a 400 RequestError for a source without such passes. */
export function rebuildSource(source: Source, by: RebuildWay): LedgerDocument {
  const document = rebuildLedger(source, by, randomUUID);
  if (document) return document;
  const wanted = { lights: 'light groups', beauty: 'beauty pass', components: 'light components' }[by];
  throw new RequestError(400, `${source.name} has no ${wanted} to build from.`);
}
