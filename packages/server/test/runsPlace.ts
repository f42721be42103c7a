import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { OutputSettings, Run, ServerEvent } from '@june-haze/contract';
import type { Connection } from '../src/database/connect.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { describeSource } from '../src/intake/sourceState.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { queueLogger } from '../src/runs/queueLog.ts';
import { Runs } from '../src/runs/runs.ts';
import { rebuildSource, saveLedger } from '../src/shots/ledger.ts';
import { createShot, requireShot, requireSource } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { poolHere } from './inThisThread.ts';
import { landingFacts, masterSettings } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

/** A process is silent after a second here. */
const quickPulse = { beat: 100, silence: 1000 };

/** A database and folders for runs: of the source, frame 1003 is missing on disk. */
export interface RunsPlace {
  readonly connection: Connection;
  readonly folder: string;
  close(): Promise<void>;
}

export async function openRunsPlace(): Promise<RunsPlace> {
  const connection = await openTestDatabase();
  const folder = mkdtempSync(join(tmpdir(), 'june-runs-'));
  mkdirSync(join(folder, 'media/landing'), { recursive: true });
  for (const frame of [1001, 1002, 1004]) writeFileSync(join(folder, `media/landing/landing.${frame}.exr`), '');
  const close = async () => {
    await connection.close();
    rmSync(folder, { recursive: true });
  };
  return { connection, folder, close };
}

/** Runs whose compute threads are a stand-in: `answer` gets the task's name and the task. */
export function runsOf(
  { connection, folder }: RunsPlace,
  answer: (name: string, task: never) => unknown,
  tell: (event: ServerEvent) => void,
): Runs {
  const media = new MediaFolders([join(folder, 'media')]);
  const places = {
    outputFolder: join(folder, 'output'),
    proofFolder: join(folder, 'proofs'),
    libraryFolder: join(folder, 'library'),
    uploadFolder: join(folder, 'uploads'),
  };
  const log = queueLogger(join(folder, 'log/queue.log'));
  return new Runs(connection, poolHere(answer), media, places, tell, log, quickPulse);
}

/** A shot of the one source, built, with an output; the shots that were there go, since those of one name would write into one folder. */
export async function addLanding(
  { connection: { db } }: RunsPlace,
  settings: Partial<OutputSettings> = {},
): Promise<{ shot: string; output: string }> {
  await db.deleteFrom('shots').execute();
  const shot = await createShot(db, 'Landing');
  const source = await addSource(db, shot, 'media/landing', 'landing.####.exr', {
    facts: landingFacts,
    guess: 'ACEScg',
  });
  const described = describeSource(await requireSource(db, source));
  await saveLedger(db, shot, 0, rebuildSource(described, 'components'), 'built');
  const { id } = await db
    .insertInto('outputs')
    .values({ shot_id: shot, settings: JSON.stringify({ ...masterSettings, ...settings }) })
    .returning('id')
    .executeTakeFirstOrThrow();
  return { shot, output: id };
}

/** The last run of a shot, as pages see it. */
export const latestRun = async ({ connection: { db } }: RunsPlace, shot: string): Promise<Run> =>
  (await readShot(db, await requireShot(db, shot))).runs[0]!;

/** The last run, once it is as it must be; throws when it does not become so. */
export async function runUntil(place: RunsPlace, shot: string, as: (run: Run) => boolean): Promise<Run> {
  for (let i = 0; i < 500; i++) {
    const run = await latestRun(place, shot);
    if (as(run)) return run;
    await new Promise((done) => setTimeout(done, 20));
  }
  throw new Error(`the run does not become so: ${JSON.stringify(await latestRun(place, shot))}`);
}
