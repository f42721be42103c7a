import { statfs } from 'node:fs/promises';
import type { Selectable } from 'kysely';
import { outputPattern, outputSettingsSchema, type OutputSettings, type PreCheckItem } from '@june-haze/contract';
import type { ComputePool } from '../../compute/pool.ts';
import type { Db } from '../../database/connect.ts';
import type { Database } from '../../database/tables.ts';
import { isId, RequestError } from '../../errors.ts';
import type { RunPlaces } from '../../runs/runPlaces.ts';
import { namedShot, nameClash } from '../outputs.ts';
import { requireShot } from '../shotRows.ts';
import { readShot } from '../shots.ts';
import { preCheck } from './preCheck.ts';

/** What the list before writing is made with. */
export interface CheckPlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly places: RunPlaces;
}

type OutputRow = Selectable<Database['outputs']>;

export interface CheckedOutput {
  readonly output: OutputRow;
  readonly settings: OutputSettings;
  readonly items: PreCheckItem[];
  /** Files that are there and would be replaced. */
  readonly existing: number;
}

/** An output by its id. Throws a 404 RequestError where there is none. */
export async function requireOutput(db: Db, id: string): Promise<OutputRow> {
  const row = isId(id) ? await db.selectFrom('outputs').selectAll().where('id', '=', id).executeTakeFirst() : undefined;
  if (!row) throw new RequestError(404, 'This output is no longer in the shot.');
  return row;
}

/** What a person should know before an output is written as it is set now, or of other frames of it. */
export async function checkOutput(
  { db, pool, places }: CheckPlaces,
  id: string,
  range: Partial<Pick<OutputSettings, 'firstFrame' | 'lastFrame'>> = {},
): Promise<CheckedOutput> {
  const output = await requireOutput(db, id);
  const row = await requireShot(db, output.shot_id);
  const shot = await readShot(db, row);
  // Settings that are younger than the output have their usual values.
  const settings = outputSettingsSchema.parse({ ...output.settings, ...range });
  const colours = await pool.run('writingColours', {
    colour: { key: shot.colour, folder: places.libraryFolder },
    workingSpace: shot.workingSpace,
    viewing: shot.viewing,
  });
  const named = namedShot(row, shot);
  const checked = preCheck(shot, settings, outputPattern(named, settings), places.outputFolder, colours, {
    clash: await nameClash(db, named, { id: output.id, settings }),
    free: await freeBytes(places.outputFolder),
    accepted: output.accepted,
    last: shot.runs.find((r) => r.outputId === id),
    threads: pool.threads,
  });
  return { ...checked, output, settings };
}

/** What is free where a folder lies; undefined where the file system does not say. */
const freeBytes = (folder: string): Promise<number | undefined> =>
  statfs(folder).then(
    ({ bavail, bsize }) => bavail * bsize,
    () => undefined,
  );
