import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { contentPrint, stateOf } from '@june-haze/files';
import type { ComputePool } from '../src/compute/pool.ts';
import * as tasks from '../src/compute/worker.ts';
import type { Connection } from '../src/database/connect.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { FileWatch } from '../src/intake/fileWatch.ts';
import { stampSource } from '../src/intake/fileStamps.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { createShot, requireShot, requireSource } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { landingFacts, masterSettings, plainViewing } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
let folder: string;
beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-watch-'));
  mkdirSync(join(folder, 'media/landing'), { recursive: true });
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});

const wait = (milliseconds: number) => new Promise((done) => setTimeout(done, milliseconds));

function makeWatch(told: string[]): FileWatch {
  const pool = {
    run: async (name: keyof typeof tasks, task: never) => (tasks[name] as (t: never) => unknown)(task),
  } as unknown as ComputePool;
  const places = {
    db: connection.db,
    pool,
    media: new MediaFolders([join(folder, 'media')]),
    outputFolder: join(folder, 'output'),
    checks: { begin: () => undefined },
  };
  return new FileWatch(places, (s) => told.push(s));
}

test('a file that is rendered again is noticed within seconds where a shot is open, and told once', async () => {
  const { db } = connection;
  const path = join(folder, 'media/landing/landing.1001.exr');
  const then = new Date(1_780_000_000_000);
  writeFileSync(path, 'before');
  utimesSync(path, then, then);
  const shot = await createShot(db, 'Landing');
  const id = await addSource(db, shot, 'media/landing', 'landing.####.exr', { facts: landingFacts, guess: 'ACEScg' });
  const known = { source_id: id, file: 'landing.1001.exr', frame: 1001, bytes: 6, modified_at: then.getTime() };
  await db
    .insertInto('source_files')
    .values({ ...known, changed_at: null, print: null })
    .execute();
  await stampSource(db, id);
  await db.updateTable('sources').set({ checked_at: new Date() }).where('id', '=', id).execute();
  const before = (await requireSource(db, id)).stamp;

  const told: string[] = [];
  const watch = makeWatch(told);
  watch.start();
  writeFileSync(path, 'after it was rendered again');
  await wait(1500);
  // Nobody looks at the shot.
  expect(told).toEqual([]);
  watch.look(shot);
  for (let i = 0; i < 50 && !told.length; i++) await wait(100);
  expect(told).toEqual([shot]);
  const row = await requireSource(db, id);
  expect(row.stamp).not.toBe(before);
  expect(row.facts.findings.map((f) => [f.kind, f.frames])).toEqual([['changed-files', [1001]]]);
  await wait(2600);
  expect(told).toHaveLength(1);
  await watch.stop();
});

test('a written file that somebody replaces is noticed: the run says so, and no longer when the file is back', async () => {
  const { db } = connection;
  const shot = await createShot(db, 'Kettle');
  const settings = { ...masterSettings, firstFrame: 1001, lastFrame: 1002 };
  const { id: output } = await db
    .insertInto('outputs')
    .values({ shot_id: shot, settings: JSON.stringify(settings) })
    .returning('id')
    .executeTakeFirstOrThrow();
  const recipe = {
    document: { version: 1, entries: [] },
    workingSpace: 'ACEScg',
    viewing: plainViewing,
    settings,
    pattern: 'k/k.####.exr',
  };
  const { id: run } = await db
    .insertInto('runs')
    .values({ output_id: output, state: 'done', recipe: JSON.stringify(recipe), finished_at: new Date() })
    .returning('id')
    .executeTakeFirstOrThrow();
  mkdirSync(join(folder, 'output/k'), { recursive: true });
  const path = (frame: number) => join(folder, `output/k/k.${frame}.exr`);
  for (const frame of [1001, 1002]) {
    writeFileSync(path(frame), `frame ${frame}`);
    const state = (await stateOf(path(frame)))!;
    const written = { ...state, print: await contentPrint(path(frame), state.bytes) };
    await db
      .insertInto('run_frames')
      .values({ run_id: run, frame, state: 'done', written: JSON.stringify(written) } as never)
      .execute();
  }
  const told: string[] = [];
  const watch = makeWatch(told);
  watch.look(shot);
  watch.start();
  const since = async () => (await readShot(db, await requireShot(db, shot))).runs[0]!.changedSince;
  const toldAfter = async (count: number) => {
    for (let i = 0; i < 60 && told.length < count; i++) await wait(100);
    expect(told).toHaveLength(count);
  };
  await wait(800);
  expect([told, (await since()).includes('its files on disk')]).toEqual([[], false]);
  writeFileSync(path(1002), 'frame 1003');
  await toldAfter(1);
  expect(await since()).toContain('its files on disk');
  // The same bytes again are the same file.
  writeFileSync(path(1002), 'frame 1002');
  const { modifiedAt } = (
    await db.selectFrom('run_frames').select('written').where('frame', '=', 1002).executeTakeFirstOrThrow()
  ).written!;
  utimesSync(path(1002), new Date(modifiedAt), new Date(modifiedAt));
  await toldAfter(2);
  expect(await since()).not.toContain('its files on disk');
  rmSync(path(1001));
  await toldAfter(3);
  expect(await since()).toContain('its files on disk');
  await watch.stop();
});
