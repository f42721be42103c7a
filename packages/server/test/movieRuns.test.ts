import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { MoviePart, MovieTask } from '../src/compute/movieTasks.ts';
import type { WriteTask } from '../src/compute/writeTask.ts';
import { writtenFrame } from '../src/runs/writtenFrame.ts';
import type { Runs } from '../src/runs/runs.ts';
import { requireShot } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { landingFacts, masterSettings } from './landing.ts';
import { addLanding, openRunsPlace, runsOf, runUntil, type RunsPlace } from './runsPlace.ts';

// What becomes of runs that pause, are taken up again, and end with a movie. The compute threads are a stand-in: they write files of a few bytes.

let place: RunsPlace;
let runs: Runs;
let shot: string;
let output: string;
let encode: (task: MovieTask) => Promise<void>;
let write: (task: WriteTask) => Promise<void>;
let encoded: MovieTask[];
let frames: string[];
/** What lies there and is not what was written. */
let changedOnDisk: { file: string; now: string | null }[];

beforeAll(async () => {
  place = await openRunsPlace();
});
afterAll(() => place.close());
beforeEach(async () => {
  [encoded, frames, changedOnDisk] = [[], [], []];
  write = async () => {};
  encode = async (task) => writeFileSync(task.path, 'a movie');
  runs = runsOf(place, answer, () => {});
  await runs.start();
  // Frames 1001 and 1002 are there.
  ({ shot, output } = await addLanding(place, { kind: 'movie', lastFrame: 1002 }));
});
afterEach(() => runs.stop());

const figures = { maxCode: 3, meanCode: 1, at: [0, 0], deltaE: { mean: 0, p95: 0, p99: 0, max: 1 } };
const readBackOf = (frame: number) => ({
  tagged: { ...figures, maxCode: frame },
  ignoring: figures,
  tags: 'tags',
  alpha: null,
  judged: 'within',
  proved: true,
});
const written = { bytes: 7, modifiedAt: 1, changedAt: 1, print: 'print' };
const clipping = { below: 0, above: 0, notFinite: 0 };

async function answer(name: string, task: never): Promise<unknown> {
  if (name === 'writeOneFrame') {
    const { path, pictures } = task as WriteTask;
    await write(task);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, 'a frame');
    frames.push(path);
    const aside = path.endsWith('.ppm');
    const done = aside ? { readBack: null, written: null } : { readBack: readBackOf(1), written };
    return { bytes: 100, milliseconds: 1, ...done, clipping: pictures ? clipping : undefined };
  }
  if (name === 'encodeMovieFile') {
    encoded.push(task);
    return encode(task);
  }
  if (name === 'proveMovieFrames') {
    const { first, count } = task as MoviePart;
    return Array.from({ length: count }, (_, i) => readBackOf(first + i));
  }
  if (name === 'writtenFile') return written;
  if (name === 'findChangedFiles') return changedOnDisk;
  throw new Error(`${name} was not expected`);
}

const until = (...states: string[]) => runUntil(place, shot, (run) => states.includes(run.state));
const proof = async () =>
  (await readShot(place.connection.db, await requireShot(place.connection.db, shot))).proofs.output;
const landing = () => join(place.folder, 'output/landing');
/** A movie's frames go once its run is over. */
async function framesGone(): Promise<void> {
  const hidden = () => readdirSync(landing()).filter((name) => name.startsWith('.'));
  for (let i = 0; i < 200 && hidden().length; i++) await new Promise((resume) => setTimeout(resume, 20));
}

test('when all frames are there the movie is put together of them, each is read back, and they go', async () => {
  const id = await runs.begin(output, { overwrite: false });
  const run = await until('done', 'failed');
  expect(run).toMatchObject({ id, state: 'done', message: null });
  expect(run.frames.map((f) => [f.state, f.bytes, f.readBack?.tagged.maxCode])).toEqual([
    ['done', 7, 0],
    ['done', 0, 1],
  ]);
  expect(encoded).toHaveLength(1);
  expect(encoded[0]).toMatchObject({
    path: join(landing(), 'landing_master_srgb.mp4'),
    frames: { folder: join(landing(), `.${id}`), count: 2 },
    // 1001 frames at 24: 41 s and 17 frames.
    timecode: '00:00:41:17',
    picturesFolder: join(place.folder, 'proofs', id),
  });
  expect(frames.map((f) => f.split('/').at(-1)).sort()).toEqual(['0000000.ppm', '0000001.ppm']);
  await framesGone();
  expect(readdirSync(landing())).toEqual(['landing_master_srgb.mp4']);
  expect(await proof()).toEqual({ state: 'proved', figure: '2 frames read back' });
  // A frame of it is looked at by its place in the movie.
  expect(await writtenFrame(place.connection.db, join(place.folder, 'output'), id, 1002)).toMatchObject({
    kind: 'movie',
    movieFrame: 1,
    path: join(landing(), 'landing_master_srgb.mp4'),
  });
  // It would be replaced by the next run only where that is said.
  await expect(runs.begin(output, { overwrite: false })).rejects.toThrow('landing_master_srgb.mp4 is already there');
});

test('a movie that cannot be put together fails with its sentence, keeps its frames, and is put together later', async () => {
  encode = () => Promise.reject(new Error('landing_master_srgb.mp4: the disk is full; make room and write it again.'));
  const id = await runs.begin(output, { overwrite: true });
  const run = await until('done', 'failed');
  expect([run.state, run.message]).toEqual([
    'failed',
    'landing_master_srgb.mp4: the disk is full; make room and write it again.',
  ]);
  expect(await proof()).toEqual({ state: 'fails', figure: 'not put together' });
  await expect(writtenFrame(place.connection.db, place.folder, id, 1001)).rejects.toThrow('is not written yet');
  encode = async (task) => writeFileSync(task.path, 'a movie');
  await runs.change(id, 'again');
  expect(await until('done', 'failed')).toMatchObject({ state: 'done', message: null });
  // No frame was made twice.
  expect(frames).toHaveLength(2);
  await framesGone();
  expect(existsSync(join(landing(), `.${id}`))).toBe(false);
});

test('of frames that fail no movie is made; what failed is written again, and then it is', async () => {
  let refuse = true;
  write = (task) =>
    refuse && task.path.endsWith('0000001.ppm') ? Promise.reject(new Error('a frame is damaged.')) : Promise.resolve();
  const id = await runs.begin(output, { overwrite: true });
  const run = await until('done', 'failed');
  expect(run.frames.map((f) => [f.state, f.message])).toEqual([
    ['done', null],
    ['failed', 'a frame is damaged.'],
  ]);
  expect(encoded).toEqual([]);
  refuse = false;
  await runs.change(id, 'again');
  expect(await until('done', 'failed')).toMatchObject({ state: 'done' });
  expect(frames.map((f) => f.slice(-11))).toEqual(['0000000.ppm', '0000001.ppm']);
  await expect(runs.change(id, 'again')).rejects.toThrow('There is nothing left of this run to write again.');
});

test('an output from before there were sizes and steps is written as it was meant', async () => {
  const { name, kind, sampleType, compression, firstFrame, bakeLook } = { ...masterSettings, kind: 'png' };
  const old = { name, kind, sampleType, compression, firstFrame, lastFrame: 1002, bakeLook };
  const { db } = place.connection;
  await db
    .updateTable('outputs')
    .set({ settings: JSON.stringify(old) })
    .where('id', '=', output)
    .execute();
  await runs.begin(output, { overwrite: true });
  expect((await until('done', 'failed')).frames.map((f) => f.state)).toEqual(['done', 'done']);
});

test('a run that is paused finishes what is in hand, takes nothing more, and goes on where it stopped', async () => {
  let release = () => {};
  const gate = new Promise<void>((done) => (release = done));
  write = () => gate;
  const id = await runs.begin(output, { overwrite: true });
  await runUntil(place, shot, (run) => run.frames.every((f) => f.state === 'writing'));
  await runs.change(id, 'pause');
  expect(await proof()).toEqual({ state: 'unproved', figure: 'paused at 0' });
  release();
  const held = await runUntil(place, shot, (run) => run.frames.every((f) => f.state === 'done'));
  expect([held.state, encoded.length]).toEqual(['paused', 0]);
  // One run of an output at a time, a paused one too.
  await expect(runs.begin(output, { overwrite: true })).rejects.toThrow('being written already');
  await expect(runs.change(id, 'pause')).rejects.toMatchObject({ status: 409 });
  await runs.change(id, 'resume');
  expect(await until('done', 'failed')).toMatchObject({ state: 'done' });
  await expect(runs.change(id, 'resume')).rejects.toThrow('This run is not paused.');
});

test('a run that was stopped is taken up again, but not once another was begun; that one clears its frames away', async () => {
  let release = () => {};
  let gate = new Promise<void>((done) => (release = done));
  write = () => gate;
  const id = await runs.begin(output, { overwrite: true });
  await runUntil(place, shot, (run) => run.frames.every((f) => f.state === 'writing'));
  await runs.change(id, 'cancel');
  release();
  await runUntil(place, shot, (run) => run.frames.every((f) => f.state === 'done'));
  expect(readdirSync(join(landing(), `.${id}`))).toHaveLength(2);
  gate = Promise.resolve();
  const other = await runs.begin(output, { overwrite: true });
  await framesGone();
  expect(existsSync(join(landing(), `.${id}`))).toBe(false);
  expect((await until('done')).id).toBe(other);
  await expect(runs.change(id, 'again')).rejects.toThrow('written again since');
});

test('a movie’s frame is tried as a movie of one frame, and leaves nothing but its pictures and the movie to look at', async () => {
  const tried = await runs.tryFrames(output, { frame: 1002, count: 1 });
  expect(tried).toMatchObject({ frame: 1002, bytes: 7, clipping, readBack: { proved: true }, whole: 'whole.mp4' });
  expect(encoded[0]).toMatchObject({ frames: { count: 1 }, timecode: '00:00:41:18' });
  expect(existsSync(encoded[0]!.path)).toBe(false);
  expect(readdirSync(join(place.folder, 'proofs/tried', output))).toEqual(['whole.mp4']);
});

test('of several frames that are tried the one furthest off speaks for all; one that fails leaves nothing', async () => {
  const tried = await runs.tryFrames(output, { frame: 1001, count: 2 });
  expect(tried).toMatchObject({ frame: 1001, count: 2, milliseconds: expect.any(Number), readBack: { proved: true } });
  // Two frames of a millisecond each, and what putting them together took; the second is further off.
  expect(tried.milliseconds).toBeGreaterThan(2);
  expect(tried.readBack.tagged.maxCode).toBe(1);
  expect(encoded[0]).toMatchObject({ frames: { count: 2 } });
  await expect(runs.tryFrames(output, { frame: 1002, count: 2 })).rejects.toThrow('frame 1003 is missing');
  expect(readdirSync(join(place.folder, 'proofs/tried', output))).toEqual(['whole.mp4']);
  expect((await proof()).figure).toBe('not written');
});

test('every second frame: the movie has those alone, in another size, and each is found by its place', async () => {
  ({ shot, output } = await addLanding(place, {
    kind: 'movie',
    lastFrame: 1004,
    firstFrame: 1002,
    step: 2,
    width: 17,
  }));
  const id = await runs.begin(output, { overwrite: true });
  const run = await until('done', 'failed');
  expect(run.frames.map((f) => [f.frame, f.state, f.readBack?.tagged.maxCode])).toEqual([
    [1002, 'done', 0],
    [1004, 'done', 1],
  ]);
  const { width, height } = landingFacts;
  expect(encoded[0]).toMatchObject({
    frames: { count: 2 },
    width: 17,
    height: 2 * Math.round((height * 17) / width / 2),
    timecode: '00:00:41:18',
  });
  const folder = join(place.folder, 'output');
  expect(await writtenFrame(place.connection.db, folder, id, 1004)).toMatchObject({ movieFrame: 1 });
});

test('frames that a killed process left are swept away at the next start, but for those of a run that may go on', async () => {
  encode = () => Promise.reject(new Error('no movie today.'));
  const id = await runs.begin(output, { overwrite: true });
  await until('failed');
  const gone = join(landing(), '.0b7f3c52-0000-4000-8000-000000000000');
  mkdirSync(gone, { recursive: true });
  await runs.stop();
  runs = runsOf(place, answer, () => {});
  await runs.start();
  expect([existsSync(gone), existsSync(join(landing(), `.${id}`))]).toEqual([false, true]);
});

test('frames that would be the same again are not written again; those whose files are others are, and all when anything changed', async () => {
  ({ shot, output } = await addLanding(place, { kind: 'exr', lastFrame: 1002 }));
  const { db } = place.connection;
  const { id: source_id } = await db
    .selectFrom('sources')
    .select('id')
    .where('shot_id', '=', shot)
    .executeTakeFirstOrThrow();
  const file = (frame: number) => ({
    source_id,
    frame,
    file: `landing.${frame}.exr`,
    bytes: 1,
    modified_at: 1,
    print: 'a',
  });
  await db
    .insertInto('source_files')
    .values([file(1001), file(1002)])
    .execute();
  const write = async () => {
    frames = [];
    const id = await runs.begin(output, { overwrite: true });
    const run = await runUntil(place, shot, (r) => r.id === id && r.state !== 'running');
    expect(run.frames.map((f) => [f.state, f.bytes, f.readBack?.proved])).toEqual(Array(2).fill(['done', 100, true]));
    expect(run.state).toBe('done');
    return frames.map((f) => f.slice(-8));
  };
  expect((await write()).sort()).toEqual(['1001.exr', '1002.exr']);
  expect(await write()).toEqual([]);
  changedOnDisk = [{ file: 'landing/landing_master_acescg.1002.exr', now: null }];
  expect(await write()).toEqual(['1002.exr']);
  changedOnDisk = [];
  await db.updateTable('source_files').set({ print: 'b' }).where('frame', '=', 1001).execute();
  expect((await write()).sort()).toEqual(['1001.exr', '1002.exr']);
  await db.updateTable('shots').set({ rate: 25 }).where('id', '=', shot).execute();
  expect(await write()).toHaveLength(2);
});
