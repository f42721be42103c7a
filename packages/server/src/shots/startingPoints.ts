import {
  dataRoles,
  mend,
  rebuildLedger,
  rebuildWays,
  renderOverRender,
  startWords,
  type BalanceFault,
  type LedgerDocument,
  type RebuildWay,
} from '@june-haze/core';
import { viewingSchema, type Source, type StartingPoint } from '@june-haze/contract';
import { randomUUID } from 'node:crypto';
import { describeSource } from '../intake/sourceState.ts';
import { faultsOf } from './balanceFaults.ts';
import { frameOfLedger, type LedgerPlaces } from './frameOfLedger.ts';
import { requireShot, type ShotRow } from './shotRows.ts';

/** A ledger to begin with, before it is tried. */
interface Beginning {
  readonly way: RebuildWay | 'over';
  readonly render?: string;
  readonly document: LedgerDocument;
  /** What it differed in from what its roles say, to balance. */
  readonly mended: readonly BalanceFault[];
}

/**
 * The ways that a shot's ledger can begin, each tried on a frame: its picture, and how it balances. Passes that would count twice are left
 * out, what is missing is added, where that balances; both are said.
 */
export async function startingPoints(context: LedgerPlaces, shotId: string, frame: number): Promise<StartingPoint[]> {
  const shot = await requireShot(context.db, shotId);
  const rows = await context.db.selectFrom('sources').selectAll().where('shot_id', '=', shotId).orderBy('id').execute();
  // Those that came in most passes are what a shot is built from.
  const renders = rows
    .map((row) => describeSource(row))
    .filter(isRender)
    .sort((a, b) => b.passes.length - a.passes.length);
  const over = renderOverRender(renders, randomUUID);
  const begun = await Promise.all(
    rebuildWays.flatMap((way) => renders.map((render) => beginning(context, shot, render, way, frame))),
  );
  const ways = begun.filter((b) => b !== undefined);
  const at = ways.filter((b) => b.way !== 'beauty').length;
  const all = over ? ways.toSpliced(at, 0, { way: 'over', document: over, mended: [] }) : ways;
  return Promise.all(all.map((b) => tried(context, shot, b, renders.length > 1, frame)));
}

const isRender = ({ reading, passes }: Source): boolean =>
  reading.use === 'plate' && passes.some((p) => p.role === 'beauty' || !dataRoles.has(p.role));

async function beginning(
  context: LedgerPlaces,
  shot: ShotRow,
  render: Source,
  way: RebuildWay,
  frame: number,
): Promise<Beginning | undefined> {
  const document = rebuildLedger(render, way, randomUUID);
  const plain = document && { way, render: render.name, document, mended: [] };
  if (!plain || way === 'beauty' || !document.balanceAgainst) return plain;
  // What cannot be evaluated is said when it is tried.
  const found = await faultsOf(context, shot, document, frame).catch(() => undefined);
  // Exposures are somebody's decision: they are offered beside the balance, not taken for granted here.
  if (!found?.whole || found.faults.some((f) => f.kind === 'exposure')) return plain;
  const mended = found.faults.reduce((d, fault) => mend(d, fault, render.id, randomUUID), document);
  return { ...plain, mended: found.faults, document: { ...mended, entries: mended.entries.filter((e) => e.enabled) } };
}

async function tried(
  context: LedgerPlaces,
  shot: ShotRow,
  { way, render, document, mended }: Beginning,
  several: boolean,
  frame: number,
): Promise<StartingPoint> {
  const of = several && render !== undefined ? { of: render } : {};
  try {
    const { plan, files, width, height, colour } = await frameOfLedger(context, shot, document, frame);
    const viewing = viewingSchema.parse(shot.viewing);
    const task = { plan, files, width, height, colour, viewing, workingSpace: shot.working_space };
    const { balance, picture } = await context.pool.run('tryLedger', task);
    const said = startWords(way, document, balance, mended);
    // A beauty against itself is no proof.
    const figures =
      balance && way !== 'beauty' ? { figures: { ...balance, at: [...balance.at] as [number, number] } } : {};
    return { ...said, ...of, ...figures, document, picture };
  } catch (error) {
    const { title } = startWords(way, document, undefined, []);
    return { title, ...of, document, words: `It could not be tried on frame ${frame}: ${(error as Error).message}` };
  }
}
