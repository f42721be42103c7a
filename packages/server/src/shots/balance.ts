import { isDeepStrictEqual } from 'node:util';
import type { BalanceProof } from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Context } from '../context.ts';
import type { Db } from '../database/connect.ts';
import type { Database } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import { colourKey } from '../library/items.ts';
import { colourOf } from '../library/store.ts';
import { frameFiles, planOf } from './plan.ts';
import { readShot, requireShot, type ShotRow } from './shots.ts';

type BalancePlaces = Pick<Context, 'db' | 'pool' | 'media'> & { readonly places: { readonly libraryFolder: string } };

/** What says which files are read and how, beside what the plan holds of a source. */
const readings = (rows: readonly Selectable<Database['sources']>[]) =>
  new Map(rows.map(({ id, folder, pattern, reading }) => [id, { folder, pattern, reading }]));

/**
 * Balances the ledger against its beauty over one frame, and keeps the proof unless the shot changed meanwhile: a proof speaks of the
 * ledger, spaces, readings and config it was computed from. Throws a 400 RequestError without a beauty to balance against.
 */
export async function proveBalance(context: BalancePlaces, shotId: string, frame: number): Promise<BalanceProof> {
  const { db, media, places, pool } = context;
  const row = await requireShot(db, shotId);
  const { ledger, width, height } = await readShot(db, row);
  const planNow = async (by: Db, shot: ShotRow) => {
    const colour = colourOf({ key: await colourKey(by, shot, ledger.document), folder: places.libraryFolder });
    return planOf(by, colour, shot.id, ledger.document, shot.working_space);
  };
  const { plan, rows } = await planNow(db, row);
  if (!plan.balance) throw new RequestError(400, 'The ledger has no beauty pass to balance against.');
  const files = await frameFiles(media, plan, rows, frame);
  const { balance } = await pool.run('balanceFrame', { plan, files, width, height });
  const proof: BalanceProof = { ...balance!, at: [...balance!.at], frame, revision: ledger.revision };
  await db.transaction().execute(async (t) => {
    const shot = await requireShot(t, shotId, 'locked');
    if (shot.ledger_head !== ledger.revision) return;
    const now = await planNow(t, shot);
    if (!isDeepStrictEqual([now.plan, readings(now.rows)], [plan, readings(rows)])) return;
    await t
      .updateTable('shots')
      .set({ balance: JSON.stringify(proof) })
      .where('id', '=', shotId)
      .execute();
  });
  return proof;
}
