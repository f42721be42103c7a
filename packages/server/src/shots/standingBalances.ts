import { isDeepStrictEqual } from 'node:util';
import type { BalanceProof } from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import { stampsOfFrames } from '../intake/fileStamps.ts';
import type { SourceRow } from '../intake/sourceState.ts';

/** Balances are statements about one working space and what is declared: none holds when that changes. */
export async function forgetBalances(db: Db, shotId: string): Promise<void> {
  await db.deleteFrom('balances').where('shot_id', '=', shotId).execute();
}

/** The balances that hold: of this revision, and of files that are what they were. */
export async function standingBalances(
  db: Db,
  shotId: string,
  revision: number,
  rows: readonly SourceRow[],
): Promise<BalanceProof[]> {
  const kept = await db
    .selectFrom('balances')
    .selectAll()
    .where('shot_id', '=', shotId)
    .where('revision', '=', revision)
    .orderBy('frame')
    .execute();
  const standing: BalanceProof[] = [];
  for (const { frame, files, proof } of kept) {
    const was = JSON.parse(files) as Record<string, string>;
    const sources = rows.filter((r) => r.id in was);
    if (isDeepStrictEqual(await stampsOfFrames(db, sources, frame, frame), was)) standing.push(proof);
  }
  return standing;
}
