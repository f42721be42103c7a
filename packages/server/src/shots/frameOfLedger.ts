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

/** A ledger, compiled for a frame of a shot, over the sources that it may read. */
export interface PlanOfLedger {
  readonly plan: Plan;
  readonly rows: SourceRow[];
  readonly width: number;
  readonly height: number;
  readonly colour: ColourPlace;
}

/** With the files that hold the frame. */
export interface FrameOfLedger extends PlanOfLedger {
  readonly files: FrameFiles;
}

type Options = Pick<CompileOptions, 'leaveOutFaults'>;

/** Compiles any ledger for one frame of a shot; touches no file. Throws a 400 RequestError with the sentence of what cannot be evaluated. */
export async function planOfLedger(
  { db, pool, places }: Omit<LedgerPlaces, 'media'>,
  shot: ShotRow,
  document: LedgerDocument,
  frame: number,
  options: Options = {},
): Promise<PlanOfLedger> {
  const { width, height } = await readShot(db, shot);
  const colour = { key: await colourKey(db, shot, document), folder: places.libraryFolder };
  const { plan, rows } = await planOf(db, pool, colour, shot.id, document, shot.working_space, {
    ...options,
    frame,
    size: { width, height },
  });
  return { plan, rows, width, height, colour };
}

/** The same, with the files that hold the frame. Throws their own errors too. */
export async function frameOfLedger(
  context: LedgerPlaces,
  shot: ShotRow,
  document: LedgerDocument,
  frame: number,
  options: Options = {},
): Promise<FrameOfLedger> {
  const compiled = await planOfLedger(context, shot, document, frame, options);
  return { ...compiled, files: await frameFiles(context.media, compiled.plan, compiled.rows, frame) };
}
