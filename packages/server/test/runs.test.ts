import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { sql } from 'kysely';
import type { ServerEvent } from '@june-haze/contract';
import type { WriteTask } from '../src/compute/writeTask.ts';
import type { Connection } from '../src/database/connect.ts';
import { Runs } from '../src/runs/runs.ts';
import { ledgerState, saveLedger } from '../src/shots/ledger.ts';
import { requireShot } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { masterSettings, plainViewing } from './landing.ts';
import { addLanding, latestRun, openRunsPlace, runsOf, runUntil, type RunsPlace } from './runsPlace.ts';

let place: RunsPlace;
let connection: Connection;
let folder: string;
let runs: Runs;
let shot: string;
let output: string;
let told: ServerEvent[];
/** What the stand-in for the compute threads does with a frame. */
let write: (task: WriteTask) => Promise<unknown>;

beforeAll(async () => {
  place = await openRunsPlace();
  ({ connection, folder } = place);
});
afterAll(() => place.close());
beforeEach(async () => {
  told = [];
  runs = makeRuns();
  await runs.start();
  ({ shot, output } = await addLanding(place));
});
afterEach(() => runs.stop());

const makeRuns = () =>
  runsOf(
    place,
    (_name, task: WriteTask) => write(task),
    (event) => told.push(event),
  );
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
const latest = () => latestRun(place, shot);
const finished = () => runUntil(place, shot, (run) => run.state !== 'running');
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
    // Each written frame is told by itself; only the beginning and the end make the page fetch the shot.
    expect(told.map((e) => e.kind).sort()).toEqual(['frame', 'frame', 'frame', 'shot', 'shot']);
    expect(told.find((e) => e.kind === 'frame' && e.frame.state === 'done')).toMatchObject({
      shotId: shot,
      runId: run.id,
      frame: { bytes: 7, message: null },
      proof: { state: 'unproved', figure: expect.stringMatching(/^writing \d of 4$/) },
    });
  });

  const one = (frame: number) => ({ frame, count: 1 });
  test('a frame that is tried is written aside, read back and gone; no run comes of it', async () => {
    let task: WriteTask | undefined;
    const clipping = { below: 0, above: 0.25, notFinite: 0 };
    write = (of) => {
      task = of;
      mkdirSync(dirname(of.path), { recursive: true });
      writeFileSync(of.path, 'as a run would write it');
      return Promise.resolve({ bytes: 23, milliseconds: 12, readBack, written: {}, clipping });
    };
    expect(await runs.tryFrames(output, one(1002))).toEqual({
      ...{ frame: 1002, count: 1, bytes: 23, milliseconds: 12, readBack, clipping, whole: null },
    });
    expect(task).toMatchObject({ settings: { kind: 'exr' }, pictures: join(folder, 'proofs/tried', output) });
    expect(task!.path.startsWith(join(folder, 'proofs/tried', output))).toBe(true);
    expect(existsSync(task!.path)).toBe(false);
    expect((await readShot(connection.db, await requireShot(connection.db, shot))).runs).toEqual([]);
    // What is wrong with it is a sentence, and leaves nothing.
    write = () => Promise.reject(new Error('There is no room on the disk.'));
    await expect(runs.tryFrames(output, one(1001))).rejects.toThrow('no room on the disk');
    await expect(runs.tryFrames(output, one(1003))).rejects.toThrow('frame 1003 is missing');
  });

  test('frames that end in the same moment: the last of them ends the run', async () => {
    // Whoever ends a frame waits here, with its change made and not yet kept.
    await sql`create function meet() returns trigger language plpgsql as
      'begin if new.state = ''done'' then perform pg_advisory_xact_lock_shared(4711); end if; return null; end'`.execute(
      connection.db,
    );
    await sql`create trigger meet after update on run_frames for each row execute function meet()`.execute(
      connection.db,
    );
    const waiting = () =>
      sql<{
        n: number;
      }>`select count(*)::int as n from pg_locks where not granted and database = (select oid from pg_database where datname = current_database())`.execute(
        connection.db,
      );
    try {
      write = () => Promise.resolve({ bytes: 7, milliseconds: 12, readBack });
      const two = JSON.stringify({ ...masterSettings, firstFrame: 1001, lastFrame: 1002 });
      await connection.db.updateTable('outputs').set({ settings: two }).where('id', '=', output).execute();
      await connection.db.connection().execute(async (one) => {
        await sql`select pg_advisory_lock(4711)`.execute(one);
        await runs.begin(output, { overwrite: true });
        for (let i = 0; i < 200 && (await waiting()).rows[0]!.n < 2; i++) await new Promise((go) => setTimeout(go, 20));
        expect((await waiting()).rows[0]!.n).toBeGreaterThanOrEqual(2);
        await sql`select pg_advisory_unlock(4711)`.execute(one);
      });
      await finished();
      // Had none ended it, both would have been told, and the run ended by the next look through all runs.
      expect(told.filter((e) => e.kind === 'frame')).toHaveLength(1);
    } finally {
      await sql`drop function meet cascade`.execute(connection.db);
    }
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
    expect(plans[0]).toContain('{"kind":"input","input":0},"changes":[]');
    expect((await latest()).changedSince).toEqual(['the ledger']);
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
    const since = async () => (await latest()).changedSince;
    await runs.begin(output, { settings: { ...masterSettings, lastFrame: 1001 }, overwrite: false });
    await finished();
    expect(await since()).toEqual([]);
    // What is only seen is in no EXR.
    await change({ viewing: JSON.stringify({ ...plainViewing, view: 'Untoned', exposure: 2 }) });
    expect(await since()).toEqual([]);
    await settings({ compression: 'piz' });
    expect(await since()).toEqual(['the output']);
    await settings({});
    await change({ working_space: 'Linear Rec.709' });
    expect(await since()).toEqual(['the working space']);
    await change({ working_space: 'ACEScg' });
    await declare('Linear Rec.709');
    expect(await since()).toEqual(['what landing.####.exr is declared as']);
    await declare('ACEScg');
    expect(await since()).toEqual([]);
    const proof = async () => (await readShot(db, await requireShot(db, shot))).proofs.output;
    expect(await proof()).toEqual({ state: 'proved', figure: '1 frame read back' });
    await saveLedger(db, shot, 1, { version: 1, entries: [] }, 'emptied');
    expect(await since()).toEqual(['the ledger']);
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
    await runs.change(id, 'cancel');
    release();
    await until((states) => !states.includes('writing'));
    const run = await latest();
    expect(run.state).toBe('cancelled');
    expect(run.frames.filter((f) => f.state === 'done')).toHaveLength(2);
    expect(run.frames.every((f) => ['done', 'cancelled'].includes(f.state))).toBe(true);
    expect(run.frames.some((f) => f.state === 'cancelled')).toBe(true);
    await expect(runs.change(id, 'cancel')).rejects.toMatchObject({ status: 409 });
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

  test('outputs whose names lead to the same files are refused before anything is written, unless their frames differ', async () => {
    const other = async (change: object) =>
      (
        await connection.db
          .insertInto('outputs')
          .values({ shot_id: shot, settings: JSON.stringify({ ...masterSettings, ...change }) })
          .returning('id')
          .executeTakeFirstOrThrow()
      ).id;
    const begin = (id: string) => runs.begin(id, { overwrite: true });
    const same = await other({ name: 'Master' });
    await expect(begin(same)).rejects.toThrow(/Another output, Master, writes files of these names/);
    await expect(begin(output)).rejects.toMatchObject({ status: 409 });
    await connection.db.deleteFrom('outputs').where('id', '=', same).execute();
    await other({ firstFrame: 2001, lastFrame: 2002 });
    await other({ kind: 'png' });
    write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
    await begin(output);
    await finished();
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

  test('a frame that takes longer than a process may be silent is written once: its process says that it lives', async () => {
    const begun: string[] = [];
    write = async ({ path }) => {
      begun.push(path);
      await new Promise((done) => setTimeout(done, 2600));
      return { bytes: 1, milliseconds: 1, readBack };
    };
    // A process must have been heard for a while before it judges others.
    await new Promise((done) => setTimeout(done, 1200));
    await connection.db
      .updateTable('outputs')
      .set({ settings: JSON.stringify({ ...masterSettings, lastFrame: 1001 }) })
      .execute();
    // One frame: the process's other worker is free to take it again.
    await runs.begin(output, { overwrite: true });
    expect(await finished()).toMatchObject({ state: 'done' });
    expect(begun).toHaveLength(1);
    const { rows } = await connection.pool.query('select attempts from graphile_worker.jobs where attempts > 1');
    expect(rows).toEqual([]);
  });

  describe('after a kill', () => {
    /** A run as a process leaves it that dies between these steps. */
    async function leave(states: string[], jobs: 'held' | 'none' | 'given up') {
      await runs.stop();
      write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
      const { id } = await connection.db
        .insertInto('runs')
        .values({ output_id: output, state: 'running', recipe: JSON.stringify(await recipe()), finished_at: null })
        .returning('id')
        .executeTakeFirstOrThrow();
      for (const [i, state] of states.entries()) {
        const frame = 1001 + i;
        await connection.pool.query('insert into run_frames (run_id, frame, state) values ($1, $2, $3)', [
          id,
          frame,
          state,
        ]);
        if (jobs === 'none' || state === 'done') continue;
        await connection.pool.query(
          `select graphile_worker.add_job('write-frame', json_build_object('runId', $1::text, 'frame', $2::int),
             job_key := $1::text || '/' || $2::int, max_attempts := 2)`,
          [id, frame],
        );
      }
      if (jobs === 'held')
        await connection.pool.query(
          "update graphile_worker._private_jobs set locked_by = 'worker-killed', locked_at = now() - interval '1 minute'",
        );
      if (jobs === 'given up')
        await connection.pool.query('update graphile_worker._private_jobs set attempts = max_attempts');
      runs = makeRuns();
      await runs.start();
      return id;
    }

    test('jobs in dead hands are taken up again, in mid-frame too', async () => {
      await leave(['done', 'writing'], 'held');
      const run = await finished();
      expect([run.state, run.frames.map((f) => f.state)]).toEqual(['done', ['done', 'done']]);
    });

    test('frames that no job was queued for are queued', async () => {
      await leave(['waiting', 'waiting'], 'none');
      expect((await finished()).state).toBe('done');
    });

    test('a run that only lacks its end is ended', async () => {
      await leave(['done', 'failed'], 'none');
      expect((await finished()).state).toBe('failed');
    });

    test('frames that were given up fail by name', async () => {
      await leave(['done', 'waiting'], 'given up');
      const run = await finished();
      expect(run.state).toBe('failed');
      expect(run.frames[1]!.message).toMatch(/begun 2 times and never finished/);
    });
  });

  test('frames of an output that goes before others are taken before those that were queued earlier', async () => {
    await runs.stop();
    const begin = async (priority: 'first' | 'usual' | 'last') => {
      const settings = { ...masterSettings, name: priority, lastFrame: 1002, priority };
      const { id } = await connection.db
        .insertInto('outputs')
        .values({ shot_id: shot, settings: JSON.stringify(settings) })
        .returning('id')
        .executeTakeFirstOrThrow();
      return runs.begin(id, { overwrite: true });
    };
    const [last, usual, first] = [await begin('last'), await begin('usual'), await begin('first')];
    const { rows } = await sql<{ key: string }>`
      select key from graphile_worker.jobs order by priority, run_at, id`.execute(connection.db);
    const queued = rows.map((r) => r.key).filter((k) => [last, usual, first].some((id) => k.startsWith(id)));
    expect(queued).toEqual([first, usual, last].flatMap((id) => [`${id}/1001`, `${id}/1002`]));
  });

  test('of starts that come together one wins, and a hundred thousand frames are queued at once', async () => {
    await runs.stop();
    const settings = { ...masterSettings, firstFrame: 1, lastFrame: 100_000 };
    const started = performance.now();
    const starts = await Promise.allSettled([1, 2, 3, 4].map(() => runs.begin(output, { settings, overwrite: true })));
    expect(performance.now() - started).toBeLessThan(60_000);
    expect(starts.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected', 'rejected', 'rejected']);
    const lost = starts.find((r) => r.status === 'rejected') as PromiseRejectedResult;
    expect(lost.reason).toMatchObject({ status: 409 });
    const count = async (from: string) =>
      Number((await connection.pool.query(`select count(*) from ${from}`)).rows[0].count);
    const won = starts.find((r) => r.status === 'fulfilled') as PromiseFulfilledResult<string>;
    expect(await count(`run_frames where run_id = '${won.value}'`)).toBe(100_000);
    expect(await count(`graphile_worker.jobs where key like '${won.value}/%'`)).toBe(100_000);
    await runs.change(won.value, 'cancel');
    expect(await count(`graphile_worker.jobs where key like '${won.value}/%'`)).toBe(0);
  });

  test('files that were rendered again are named as what changed since', async () => {
    write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
    const { db } = connection;
    const { id: source_id } = await db
      .selectFrom('sources')
      .select('id')
      .where('shot_id', '=', shot)
      .executeTakeFirstOrThrow();
    const file = (frame: number) => ({
      source_id,
      file: `landing.${frame}.exr`,
      frame,
      bytes: 1,
      modified_at: 1,
      changed_at: 1,
      print: 'a',
    });
    await db
      .insertInto('source_files')
      .values([file(1001), file(1002)])
      .execute();
    await runs.begin(output, { settings: { ...masterSettings, lastFrame: 1001 }, overwrite: true });
    await finished();
    const render = (frame: number) =>
      db
        .updateTable('source_files')
        .set({ now: 'other' })
        .where('source_id', '=', source_id)
        .where('frame', '=', frame)
        .execute();
    await render(1002);
    expect((await latest()).changedSince).toEqual([]);
    await render(1001);
    expect((await latest()).changedSince).toEqual(['files of landing.####.exr']);
  });

  test('what is learned of files while a run is under way makes nothing of it stale; files that are others by then do', async () => {
    write = () => Promise.resolve({ bytes: 1, milliseconds: 1, readBack });
    const { db } = connection;
    const { id: source_id } = await db
      .selectFrom('sources')
      .select('id')
      .where('shot_id', '=', shot)
      .executeTakeFirstOrThrow();
    const begin = async () => {
      await runs.begin(output, { settings: { ...masterSettings, lastFrame: 1001 }, overwrite: true });
      await finished();
    };
    const change = (of: { print?: string; now?: string; bytes?: number }) =>
      db.updateTable('source_files').set(of).where('source_id', '=', source_id).execute();
    // Nothing was looked at yet.
    await begin();
    const file = { source_id, frame: 1001, file: 'landing.1001.exr', bytes: 1, modified_at: 1, print: null };
    await db.insertInto('source_files').values([file]).execute();
    expect((await latest()).changedSince).toEqual([]);
    // Names were, content not.
    await begin();
    await change({ print: 'a' });
    expect((await latest()).changedSince).toEqual([]);
    await change({ bytes: 2 });
    expect((await latest()).changedSince).toEqual(['files of landing.####.exr']);
    // Content was.
    await begin();
    await change({ print: 'b' });
    expect((await latest()).changedSince).toEqual(['files of landing.####.exr']);
  });

  test('an empty ledger is refused', async () => {
    await saveLedger(connection.db, shot, 1, { version: 1, entries: [] }, 'emptied');
    await expect(runs.begin(output, { overwrite: false })).rejects.toThrow('nothing to write');
  });
});
