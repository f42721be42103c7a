import {
  framesInShot,
  planSource,
  type CompileOptions,
  type LedgerDocument,
  type Plan,
  type PlanSource,
} from '@june-haze/core';
import { sourceReadingSchema } from '@june-haze/contract';
import type { Selectable } from 'kysely';
import { granted, type TaskRunner } from '../compute/ask.ts';
import type { FrameFiles } from '../compute/evaluateFrame.ts';
import type { FrameFile } from '../intake/frameFiles.ts';
import type { Db } from '../database/connect.ts';
import type { Database, DeclaredSource } from '../database/tables.ts';
import type { ColourPlace } from '../library/store.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { asDeclared } from './declared.ts';
import { frameFile, offsetOf } from '../intake/frameFiles.ts';
import { alphaOf } from '../intake/sourceState.ts';

type SourceRow = Selectable<Database['sources']>;

export function planSourceOf(row: SourceRow): PlanSource {
  const { id, pattern: name, declared_space: declaredSpace, facts } = row;
  const reading = sourceReadingSchema.parse(row.reading ?? {});
  const { passes, width, height, still } = facts;
  const firstFrame = facts.firstFrame + offsetOf({ facts, reading });
  const lastFrame = firstFrame + framesInShot(facts, reading) - 1;
  const pixelAspect = reading.pixelAspect ?? facts.pixelAspect ?? 1;
  return planSource({
    ...{ id, name, declaredSpace, passes, width, height, pixelAspect, still, firstFrame, lastFrame, reading },
    alpha: alphaOf(row),
  });
}

/** Compiles a shot's ledger on a thread, its sources as they are declared, or were by `declared`. A ledger that names what is gone becomes a 400 RequestError with its sentence. */
export async function planOf(
  db: Db,
  pool: TaskRunner,
  colour: ColourPlace,
  shotId: string,
  document: LedgerDocument,
  workingSpace: string,
  { declared = [], ...options }: CompileOptions & { readonly declared?: readonly DeclaredSource[] } = {},
): Promise<{ plan: Plan; rows: SourceRow[] }> {
  const now = await db.selectFrom('sources').selectAll().where('shot_id', '=', shotId).execute();
  const rows = asDeclared(now, declared);
  const sources = rows.map(planSourceOf);
  return { plan: granted(await pool.run('compileLedger', { colour, document, sources, workingSpace, options })), rows };
}

/** The files that hold a frame of each part that a plan reads: what is switched off is not looked for. */
export async function frameFiles(
  media: MediaFolders,
  plan: Plan,
  rows: readonly SourceRow[],
  frame: number,
): Promise<FrameFiles> {
  const files: Record<string, Record<number, FrameFile>> = {};
  for (const { sourceId, part, alpha } of plan.inputs)
    for (const wanted of alpha ? [part, alpha.part] : [part]) {
      if (files[sourceId]?.[wanted]) continue;
      const file = await frameFile(
        media,
        rows.find((r) => r.id === sourceId)!,
        wanted,
        frame,
      );
      files[sourceId] = { ...files[sourceId], [wanted]: file };
    }
  return files;
}
