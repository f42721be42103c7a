import {
  ColourFileError,
  compilePlan,
  PlanError,
  UnknownNameError,
  walkEntries,
  type LedgerDocument,
  type Plan,
  type PlanSource,
  type ShotColour,
} from '@june-haze/core';
import type { Selectable } from 'kysely';
import type { FrameFiles } from '../compute/evaluateFrame.ts';
import type { FrameFile } from '../intake/frameFiles.ts';
import type { Db } from '../database/connect.ts';
import type { Database, DeclaredSource } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { asDeclared } from './declared.ts';
import { frameFile } from '../intake/frameFiles.ts';

type SourceRow = Selectable<Database['sources']>;

export function planSource(row: SourceRow): PlanSource {
  const { declared_space: space, facts, reading } = row;
  return {
    id: row.id,
    name: row.pattern,
    space: space ?? 'Linear Rec.709',
    passes: facts.passes,
    alpha: reading.alpha ?? facts.alpha,
  };
}

/** Compiles a shot's ledger, its sources as they are declared, or were by `declared`. A ledger that names what is gone becomes a 400 RequestError with its sentence. */
export async function planOf(
  db: Db,
  colour: ShotColour,
  shotId: string,
  document: LedgerDocument,
  workingSpace: string,
  declared: readonly DeclaredSource[] = [],
): Promise<{ plan: Plan; rows: SourceRow[] }> {
  const now = await db.selectFrom('sources').selectAll().where('shot_id', '=', shotId).execute();
  const rows = asDeclared(now, declared);
  try {
    return { plan: compilePlan(document, rows.map(planSource), workingSpace, colour), rows };
  } catch (error) {
    if (error instanceof PlanError || error instanceof UnknownNameError || error instanceof ColourFileError)
      throw new RequestError(400, error.message);
    throw error;
  }
}

/** The files that hold a frame of each part that the ledger uses. */
export async function frameFiles(
  media: MediaFolders,
  document: LedgerDocument,
  rows: readonly SourceRow[],
  frame: number,
): Promise<FrameFiles> {
  const files: Record<string, Record<number, FrameFile>> = {};
  for (const [sourceId, pass] of usedPasses(document)) {
    const row = rows.find((r) => r.id === sourceId);
    const part = row?.facts.passes.find((p) => p.name === pass)?.part;
    if (!row || part === undefined || files[sourceId]?.[part]) continue;
    const file = await frameFile(media, row, part, frame);
    files[sourceId] = { ...files[sourceId], [part]: file };
  }
  return files;
}

/** Sources and passes that a ledger names, alpha and the balance's beauty included. */
function usedPasses(document: LedgerDocument): [sourceId: string, pass: string][] {
  const entries = [...walkEntries(document.entries)].flatMap((e): [string, string][] =>
    e.kind === 'pass'
      ? [[e.sourceId, e.pass], ...(e.alphaFrom === undefined ? [] : [[e.sourceId, e.alphaFrom] as [string, string]])]
      : [],
  );
  const { balanceAgainst: b } = document;
  return b ? [...entries, [b.sourceId, b.pass]] : entries;
}
