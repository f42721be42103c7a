import { compilePlan, PlanError, walkEntries, type LedgerDocument, type Plan, type PlanSource } from '@june-haze/core';
import type { Selectable } from 'kysely';
import type { FrameFiles } from '../compute/evaluateFrame.ts';
import type { Db } from '../database/connect.ts';
import type { Database } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';

type SourceRow = Selectable<Database['sources']>;

export function planSource(row: SourceRow): PlanSource {
  return { id: row.id, name: row.pattern, space: row.declared_space ?? 'Linear Rec.709', passes: row.facts.passes };
}

/** Compiles a shot's ledger. A ledger that names what is gone becomes a 400 RequestError with its sentence. */
export async function planOf(
  db: Db,
  shotId: string,
  document: LedgerDocument,
  workingSpace: string,
): Promise<{ plan: Plan; rows: SourceRow[] }> {
  const rows = await db.selectFrom('sources').selectAll().where('shot_id', '=', shotId).execute();
  try {
    return { plan: compilePlan(document, rows.map(planSource), workingSpace), rows };
  } catch (error) {
    if (error instanceof PlanError) throw new RequestError(400, error.message);
    throw error;
  }
}

/** The files that hold a frame of each source the ledger uses. */
export async function frameFiles(
  media: MediaFolders,
  document: LedgerDocument,
  rows: readonly SourceRow[],
  frame: number,
): Promise<FrameFiles> {
  const used = new Set([...walkEntries(document.entries)].flatMap((e) => (e.kind === 'pass' ? [e.sourceId] : [])));
  if (document.balanceAgainst) used.add(document.balanceAgainst.sourceId);
  const files: Record<string, { path: string; name: string }> = {};
  for (const row of rows.filter((r) => used.has(r.id))) {
    const path = await media.frameFile(row.folder, row.pattern, frame).catch((error: unknown) => {
      if (error instanceof RequestError && error.status === 404)
        throw new RequestError(404, `${row.pattern}: frame ${frame} is missing.`);
      throw error;
    });
    files[row.id] = { path, name: path.split('/').at(-1)! };
  }
  return files;
}
