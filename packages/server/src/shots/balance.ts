import { asCame, changesPasses, withinPacking, type Balance, type LedgerDocument, type Plan } from '@june-haze/core';
import { isDeepStrictEqual } from 'node:util';
import type { BalanceFigures, BalanceProof } from '@june-haze/contract';
import { losesNumbers } from '@june-haze/files';
import { RequestError } from '../errors.ts';
import { stampsOfFrames } from '../intake/fileStamps.ts';
import type { SourceRow } from '../intake/sourceState.ts';
import { frameOfLedger, planOfLedger, type LedgerPlaces } from './frameOfLedger.ts';
import { ledgerState } from './ledger.ts';
import { requireShot, type ShotRow } from './shotRows.ts';

/** What says which files are read and how, beside what the plan holds of a source. */
const readings = (rows: readonly SourceRow[]) =>
  new Map(rows.map(({ id, folder, pattern, reading }) => [id, { folder, pattern, reading }]));

/**
 * Balances the ledger against its beauty over one frame, and keeps the proof unless the shot changed meanwhile: a proof speaks of the
 * ledger, spaces, readings and config it was computed from. Throws a 400 RequestError without a beauty to balance against.
 */
export async function proveBalance(context: LedgerPlaces, shotId: string, frame: number): Promise<BalanceProof> {
  const { db, pool } = context;
  const row = await requireShot(db, shotId);
  const { revision, document } = await ledgerState(db, shotId);
  const { plan, rows, files: paths, width, height } = await frameOfLedger(context, row, document, frame);
  if (!plan.balance) throw new RequestError(400, 'The ledger has no beauty pass to balance against.');
  const files = await stampsOfFrames(db, used(plan, rows), frame, frame);
  const { balance } = await pool.run('balanceFrame', { plan, files: paths, width, height });
  const plain = changesPasses(document) ? asCame(document) : undefined;
  const figures = figuresOf(balance);
  const came = plain && (await figuresAsCame(context, row, plain, frame));
  const packing = await packingOf(context, row, { document: plain ?? document, figures: came ?? figures, frame });
  const proof: BalanceProof = {
    ...figures,
    ...(came ? { asCame: came } : {}),
    ...(packing ? { packing } : {}),
    frame,
    revision,
  };
  await db.transaction().execute(async (t) => {
    const shot = await requireShot(t, shotId, 'locked');
    if (shot.ledger_head !== revision) return;
    const now = await planOfLedger({ ...context, db: t }, shot, document, frame);
    if (!isDeepStrictEqual([now.plan, readings(now.rows)], [plan, readings(rows)])) return;
    const stamps = await stampsOfFrames(t, used(now.plan, now.rows), frame, frame);
    if (!isDeepStrictEqual(stamps, files)) return;
    const kept = { revision, files: JSON.stringify(files), proof: JSON.stringify(proof) };
    await t
      .insertInto('balances')
      .values({ shot_id: shotId, frame, ...kept })
      .onConflict((c) => c.columns(['shot_id', 'frame']).doUpdateSet(kept))
      .execute();
  });
  return proof;
}

async function figuresAsCame(context: LedgerPlaces, row: ShotRow, document: LedgerDocument, frame: number) {
  const { plan, files, width, height } = await frameOfLedger(context, row, document, frame);
  const { balance } = await context.pool.run('balanceFrame', { plan, files, width, height });
  return figuresOf(balance);
}

interface Unbalanced {
  readonly document: LedgerDocument;
  readonly figures: BalanceFigures;
  readonly frame: number;
}

/** What a lossy packing takes from the total, where the render has one and the figures say that it does not balance to half rounding. */
async function packingOf(
  context: LedgerPlaces,
  row: ShotRow,
  { document, figures, frame }: Unbalanced,
): Promise<BalanceProof['packing']> {
  if (figures.balanced) return undefined;
  const { plan, rows, files, width, height } = await frameOfLedger(context, row, document, frame);
  const render = rows.find((r) => r.id === document.balanceAgainst!.sourceId);
  const { compression = '', sampleType = '' } = render?.facts ?? {};
  if (!losesNumbers(compression, sampleType)) return undefined;
  const task = { plan, files, width, height, compression, half: sampleType === 'half' };
  const loss = await context.pool.run('packingLossOf', task);
  return { codec: compression.toUpperCase(), ...loss, within: withinPacking(figures, loss) };
}

const figuresOf = (balance: Balance | undefined) => ({ ...balance!, at: [...balance!.at] as [number, number] });

/** The rows of the sources that a plan reads. */
const used = (plan: Plan, rows: readonly SourceRow[]) =>
  rows.filter((r) => plan.inputs.some((i) => i.sourceId === r.id)).sort((a, b) => (a.id < b.id ? -1 : 1));
