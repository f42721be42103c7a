import { asCame, countsOf, partsDocument, type FaultsFound, type LedgerDocument } from '@june-haze/core';
import type { BalanceFaults } from '@june-haze/contract';
import { RequestError } from '../errors.ts';
import { describeSource } from '../intake/sourceState.ts';
import { frameOfLedger, type LedgerPlaces } from './frameOfLedger.ts';
import { ledgerState } from './ledger.ts';
import { requireShot, requireSource, type ShotRow } from './shotRows.ts';

/** What keeps a shot's passes, as they came, from their beauty. Throws a 400 RequestError without a beauty to balance against. */
export async function explainBalance(context: LedgerPlaces, shotId: string, frame: number): Promise<BalanceFaults> {
  const shot = await requireShot(context.db, shotId);
  const { document } = await ledgerState(context.db, shotId);
  const rebuilt = asCame(document);
  if (!rebuilt) throw new RequestError(400, 'The ledger has no beauty pass to balance against.');
  const { plan, files, width, height } = await frameOfLedger(context, shot, rebuilt, frame);
  const { balance } = await context.pool.run('balanceFrame', { plan, files, width, height });
  return {
    asCame: { ...balance!, at: [...balance!.at] },
    ...plainFaults(await faultsOf(context, shot, rebuilt, frame)),
  };
}

/** Evaluates what a rebuilt ledger is made of, and says what keeps it from its beauty; see core's `balanceFaults`. */
export async function faultsOf(
  context: LedgerPlaces,
  shot: ShotRow,
  rebuilt: LedgerDocument,
  frame: number,
): Promise<FaultsFound> {
  const render = describeSource(await requireSource(context.db, rebuilt.balanceAgainst!.sourceId));
  const parts = partsDocument(rebuilt, render);
  const { plan, files, width, height } = await frameOfLedger(context, shot, parts, frame, { leaveOutFaults: true });
  const counts = countsOf(rebuilt.entries);
  return context.pool.run('findBalanceFaults', { plan, files, width, height, passes: render.passes, counts });
}

const plainFaults = ({ faults, explained, whole }: FaultsFound) =>
  ({
    faults: faults.map((f) => (f.kind === 'missing' && f.by === undefined ? { kind: f.kind, pass: f.pass } : f)),
    explained,
    whole,
  }) as Omit<BalanceFaults, 'asCame'>;
