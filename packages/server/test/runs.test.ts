import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeWorkerUtils } from 'graphile-worker';
import type { ComputePool } from '../src/compute/pool.ts';
import type { WriteTask } from '../src/compute/writeFrame.ts';
import type { Connection } from '../src/database/connect.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { Runs } from '../src/runs/runs.ts';
import { ledgerState, rebuildLedger, saveLedger } from '../src/shots/ledger.ts';
import { describeSource } from '../src/intake/sourceState.ts';
import { createShot, readShot, requireShot, requireSource } from '../src/shots/shots.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { landingFacts, masterSettings, plainViewing } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
let folder: string;
let runs: Runs;
let shot: string;
let output: string;
let changes: number;
/** What the stand-in for the compute threads does with a frame. */
let write: (task: WriteTask) => Promise<unknown>;

beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-runs-'));
  mkdirSync(join(folder, 'media/landing'), { recursive: true });
  // Frame 1003 is missing on disk.
  for (const frame of [1001, 1002, 1004]) writeFileSync(join(folder, `media/landing/landing.${frame}.exr`), '');
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  changes = 0;
  runs = makeRuns();
  await runs.start();
  shot = await createShot(connection.db, 'Landing');
  const id = await addSource(connection.db, shot, 'media/landing', 'landing.####.exr', {
    facts: landingFacts,
    guess: 'ACEScg',
  });
  const source = describeSource(await requireSource(connection.db, id));
  await saveLedger(connection.db, shot, 0, rebuildLedger(source, 'components'), 'built');
  ({ id: output } = await connection.db
    .insertInto('outputs')
    .values({ shot_id: shot, settings: JSON.stringify(masterSettings) })
    .returning('id')
    .executeTakeFirstOrThrow());
});
afterEach(() => runs.stop());

function makeRuns(): Runs {
  const pool = { run: (_name: string, task: WriteTask) => write(task) } as unknown as ComputePool;
  const media = new MediaFolders([join(folder, 'media')]);
  const places = {
    outputFolder: join(folder, 'output'),
    proofFolder: join(folder, 'proofs'),
    libraryFolder: join(folder, 'library'),
    uploadFolder: join(folder, 'uploads'),
  };
  return new Runs(connection, pool, media, places, () => changes++);
}
const recipe = async () => ({
  document: (await ledgerState(connection.db, shot)).document,
  workingSpace: 'ACEScg',
  viewing: plainViewing,
  rate: 24,
  settings: masterSettings,
  pattern: 'landing/x.####.exr',
  width: 32,
  height: 18,
});
const latest = async () => (await readShot(connection.db, await requireShot(connection.db, shot))).runs[0]!;
async function finished() {
  for (let i = 0; i < 200; i++) {
    const run = await latest();
    if (run.state !== 'running') return run;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error('the run does not end');
}
const declare = (space: string) =>
  connection.db.updateTable('sources').set({ declared_space: space }).where('shot_id', '=', shot).execute();
const readBack = { tagged: {}, ignoring: {}, tags: '', proved: true };

describe('runs', () => {
  test('a missing frame fails by name, the others are written, the run says so', async () => {
    write = () => Promise.resolve({ bytes: 7, milliseconds: 12, readBack });
    await runs.begin(output, { overwrite: false });
    const run = await finished();
    expect(run.state).toBe('failed');
    expect(run.frames.map((f) => [f.frame, f.state])).toEqual([
      [1001, 'done'],
      [1002, 'done'],
      [1003, 'failed'],
      [1004, 'done'],
    ]);
    expect(run.frames[2]!.message).toBe('landing.####.exr: frame 1003 is missing.');
    expect(run.frames[0]).toMatchObject({ bytes: 7, milliseconds: 12 });
    expect(changes).toBeGreaterThanOrEqual(5);
  });

  test('the recipe is frozen: a change of ledger or declared space meanwhile does not reach the run', async () => {
    const plans: string[] = [];
    let release = () => {};
    const gate = new Promise<void>((done) => (release = done));
    write = async (task) => {
      await gate;
      plans.push(JSON.stringify(task.plan));
      return { bytes: 1, milliseconds: 1, readBack };
    };
    await runs.begin(output, { overwrite: false });
    await saveLedger(connection.db, shot, 1, { version: 1, entries: [] }, 'emptied');
    await declare('Linear Rec.709');
    release();
    await finished();
    // Three frames of the four are there; the last of them began after the changes.
    expect(plans).toHaveLength(3);
    expect(new Set(plans).size).toBe(1);
    // From ACEScg to ACEScg there is nothing to convert.
    expect(plans[0]).toContain('"input":0,"colour":[]');
    expect((await latest()).outdated).toBe(true);
  });

  test('files are called outdated when they would be written otherwise now, and only then', async () => {
    write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
    const { db } = connection;
    const change = (values: object) => db.updateTable('shots').set(values).where('id', '=', shot).execute();
    const settings = (more: object) =>
      db
        .updateTable('outputs')
        .set({ settings: JSON.stringify({ ...masterSettings, ...more }) })
        .where('id', '=', output)
        .execute();
    const outdated = async () => (await latest()).outdated;
    await runs.begin(output, { settings: { ...masterSettings, lastFrame: 1001 }, overwrite: false });
    await finished();
    expect(await outdated()).toBe(false);
    // What is only seen is in no EXR.
    await change({ viewing: JSON.stringify({ ...plainViewing, view: 'Untoned', exposure: 2 }) });
    expect(await outdated()).toBe(false);
    await settings({ compression: 'piz' });
    expect(await outdated()).toBe(true);
    await settings({});
    await change({ working_space: 'Linear Rec.709' });
    expect(await outdated()).toBe(true);
    await change({ working_space: 'ACEScg' });
    await declare('Linear Rec.709');
    expect(await outdated()).toBe(true);
    await declare('ACEScg');
    expect(await outdated()).toBe(false);
    const proof = async () => (await readShot(db, await requireShot(db, shot))).proofs.output;
    expect(await proof()).toEqual({ state: 'proved', figure: '1 frame read back' });
    await saveLedger(db, shot, 1, { version: 1, entries: [] }, 'emptied');
    expect(await outdated()).toBe(true);
    expect(await proof()).toEqual({ state: 'unproved', figure: 'changed since written' });
  });

  test('a cancelled run leaves out what has not begun; the frames in hand are finished', async () => {
    let release = () => {};
    const gate = new Promise<void>((done) => (release = done));
    write = async () => {
      await gate;
      return { bytes: 1, milliseconds: 1, readBack };
    };
    const id = await runs.begin(output, { overwrite: false });
    const until = async (what: (states: string[]) => boolean) => {
      while (!what((await latest()).frames.map((f) => f.state))) await new Promise((done) => setTimeout(done, 20));
    };
    await until((states) => states.filter((s) => s === 'writing').length === 2);
    await runs.cancel(id);
    release();
    await until((states) => !states.includes('writing'));
    const run = await latest();
    expect(run.state).toBe('cancelled');
    expect(run.frames.filter((f) => f.state === 'done')).toHaveLength(2);
    expect(run.frames.every((f) => ['done', 'cancelled'].includes(f.state))).toBe(true);
    expect(run.frames.some((f) => f.state === 'cancelled')).toBe(true);
    await expect(runs.cancel(id)).rejects.toMatchObject({ status: 409 });
  });

  test('files that are there are not replaced unless it is said', async () => {
    write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
    mkdirSync(join(folder, 'output/landing'), { recursive: true });
    const there = join(folder, 'output/landing/landing_master_acescg.1002.exr');
    writeFileSync(there, 'kept');
    await expect(runs.begin(output, { overwrite: false })).rejects.toThrow('is already there');
    await runs.begin(output, { overwrite: true });
    await finished();
    rmSync(there);
  });

  test('a second run of one output waits for the first', async () => {
    let release = () => {};
    const gate = new Promise<void>((done) => (release = done));
    write = async () => {
      await gate;
      return { bytes: 1, milliseconds: 1, readBack };
    };
    await runs.begin(output, { overwrite: false });
    await expect(runs.begin(output, { overwrite: false })).rejects.toMatchObject({ status: 409 });
    release();
    await finished();
  });

  test('jobs of a process that was killed are taken up again by the next', async () => {
    await runs.stop();
    write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
    const before = makeRuns();
    await before.start();
    await before.stop(); // the queue's tables are there, nobody works
    const utils = await makeWorkerUtils({ pgPool: connection.pool });
    const { id } = await connection.db
      .insertInto('runs')
      .values({ output_id: output, state: 'running', recipe: JSON.stringify(await recipe()), finished_at: null })
      .returning('id')
      .executeTakeFirstOrThrow();
    await connection.db
      .insertInto('run_frames')
      .values({
        run_id: id,
        frame: 1001,
        state: 'waiting',
        message: null,
        milliseconds: null,
        bytes: null,
        read_back: null,
      })
      .execute();
    await utils.addJob('write-frame', { runId: id, frame: 1001 });
    await utils.release();
    await connection.pool.query(
      "update graphile_worker._private_jobs set locked_by = 'worker-killed', locked_at = now()",
    );
    runs = makeRuns();
    await runs.start();
    expect((await finished()).state).toBe('done');
  });

  test('an empty ledger is refused', async () => {
    await saveLedger(connection.db, shot, 1, { version: 1, entries: [] }, 'emptied');
    await expect(runs.begin(output, { overwrite: false })).rejects.toThrow('nothing to write');
  });
});
