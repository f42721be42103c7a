import { isDeepStrictEqual } from 'node:util';
import type { BalanceProof } from '@june-haze/contract';
import type { ComputePool } from '../compute/pool.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import type { Plan } from '@june-haze/core';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import { stampsOfFrames } from '../intake/fileStamps.ts';
import type { SourceRow } from '../intake/sourceState.ts';
import { colourKey } from '../library/items.ts';
import { frameFiles, planOf } from './plan.ts';
import { requireShot, type ShotRow } from './shotRows.ts';
import { readShot } from './shots.ts';

interface BalancePlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
  readonly places: { readonly libraryFolder: string };
}

/** What says which files are read and how, beside what the plan holds of a source. */
const readings = (rows: readonly SourceRow[]) =>
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
    const colour = { key: await colourKey(by, shot, ledger.document), folder: places.libraryFolder };
    return planOf(by, pool, colour, shot.id, ledger.document, shot.working_space, {
      frame,
      size: { width, height },
    });
  };
  const { plan, rows } = await planNow(db, row);
  if (!plan.balance) throw new RequestError(400, 'The ledger has no beauty pass to balance against.');
  const files = await stampsOfFrames(db, used(plan, rows), frame, frame);
  const paths = await frameFiles(media, plan, rows, frame);
  const { balance } = await pool.run('balanceFrame', { plan, files: paths, width, height });
  const proof: BalanceProof = { ...balance!, at: [...balance!.at], frame, revision: ledger.revision };
  await db.transaction().execute(async (t) => {
    const shot = await requireShot(t, shotId, 'locked');
    if (shot.ledger_head !== ledger.revision) return;
    const now = await planNow(t, shot);
    if (!isDeepStrictEqual([now.plan, readings(now.rows)], [plan, readings(rows)])) return;
    const stamps = await stampsOfFrames(t, used(now.plan, now.rows), frame, frame);
    if (!isDeepStrictEqual(stamps, files)) return;
    const kept = { revision: ledger.revision, files: JSON.stringify(files), proof: JSON.stringify(proof) };
    await t
      .insertInto('balances')
      .values({ shot_id: shotId, frame, ...kept })
      .onConflict((c) => c.columns(['shot_id', 'frame']).doUpdateSet(kept))
      .execute();
  });
  return proof;
}

/** The rows of the sources that a plan reads. */
const used = (plan: Plan, rows: readonly SourceRow[]) =>
  rows.filter((r) => plan.inputs.some((i) => i.sourceId === r.id)).sort((a, b) => (a.id < b.id ? -1 : 1));
