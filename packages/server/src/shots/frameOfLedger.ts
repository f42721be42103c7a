import type { CompileOptions, LedgerDocument, Plan } from '@june-haze/core';
import type { ComputePool } from '../compute/pool.ts';
import type { FrameFiles } from '../compute/evaluateFrame.ts';
import type { Db } from '../database/connect.ts';
import type { SourceRow } from '../intake/sourceState.ts';
import { colourKey } from '../library/items.ts';
import type { ColourPlace } from '../library/store.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { frameFiles, planOf } from './plan.ts';
import type { ShotRow } from './shotRows.ts';
import { readShot } from './shots.ts';

/** What ledgers are evaluated with beside the shot. */
export interface LedgerPlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
  readonly places: { readonly libraryFolder: string };
}

/** A ledger, compiled for a frame of a shot, and what it reads. */
export interface FrameOfLedger {
  readonly plan: Plan;
  readonly rows: SourceRow[];
  readonly files: FrameFiles;
  readonly width: number;
  readonly height: number;
  readonly colour: ColourPlace;
}

/** Compiles any ledger for one frame of a shot. Throws a 400 RequestError with the sentence of what cannot be evaluated. */
export async function frameOfLedger(
  { db, pool, media, places }: LedgerPlaces,
  shot: ShotRow,
  document: LedgerDocument,
  frame: number,
  options: Pick<CompileOptions, 'leaveOutFaults'> = {},
): Promise<FrameOfLedger> {
  const { width, height } = await readShot(db, shot);
  const colour = { key: await colourKey(db, shot, document), folder: places.libraryFolder };
  const size = { width, height };
  const { plan, rows } = await planOf(db, pool, colour, shot.id, document, shot.working_space, {
    ...options,
    frame,
    size,
  });
  return { plan, rows, files: await frameFiles(media, plan, rows, frame), width, height, colour };
}
