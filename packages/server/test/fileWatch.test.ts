import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ComputePool } from '../src/compute/pool.ts';
import * as tasks from '../src/compute/worker.ts';
import type { Connection } from '../src/database/connect.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { FileWatch } from '../src/intake/fileWatch.ts';
import { stampSource } from '../src/intake/fileStamps.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { createShot, requireSource } from '../src/shots/shotRows.ts';
import { landingFacts } from './landing.ts';
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
  const pool = {
    run: async (name: keyof typeof tasks, task: never) => (tasks[name] as (t: never) => unknown)(task),
  } as unknown as ComputePool;
  const media = new MediaFolders([join(folder, 'media')]);
  const watch = new FileWatch({ db, pool, media, checks: { begin: () => undefined } }, (s) => told.push(s));
  watch.start();
  const wait = (milliseconds: number) => new Promise((done) => setTimeout(done, milliseconds));
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
