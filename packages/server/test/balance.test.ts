import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { poolHere } from './inThisThread.ts';
import type { Connection } from '../src/database/connect.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { describeSource } from '../src/intake/sourceState.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { proveBalance } from '../src/shots/balance.ts';
import { rebuildSource, saveLedger } from '../src/shots/ledger.ts';
import { createShot, requireShot, requireSource } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { landingFacts } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

// What is kept of a proof, and when. The numbers themselves are core's, and have their own tests.
let connection: Connection;
let folder: string;
let shot: string;
let source: string;
const found = { largest: 0, mean: 0, share: 0, overShare: 0, at: [3, 4], balanced: true };

beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-balance-'));
  mkdirSync(join(folder, 'media/landing'), { recursive: true });
  writeFileSync(join(folder, 'media/landing/landing.1001.exr'), '');
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  const { db } = connection;
  shot = await createShot(db, 'Landing');
  source = await addSource(db, shot, 'media/landing', 'landing.####.exr', { facts: landingFacts, guess: 'ACEScg' });
  const ledger = rebuildSource(describeSource(await requireSource(db, source)), 'components');
  await saveLedger(db, shot, 0, ledger, 'built');
});

/** Balances, and does `meanwhile` before the pixels are through. */
async function balance(meanwhile: () => Promise<unknown> = () => Promise.resolve(), frame = 1001) {
  const run = async () => {
    await meanwhile();
    return { balance: found };
  };
  const pool = poolHere(run);
  const media = new MediaFolders([join(folder, 'media')]);
  await proveBalance({ db: connection.db, pool, media, places: { libraryFolder: folder } }, shot, frame);
  return standing();
}
/** The balances that hold, by frame. */
async function standing() {
  return (await readShot(connection.db, await requireShot(connection.db, shot))).balances;
}
const set = (table: 'shots' | 'sources', id: string, change: object) =>
  connection.db.updateTable(table).set(change).where('id', '=', id).execute();

test('a proof is kept with its frame and the ledger it speaks of', async () => {
  const { ledger_head: revision } = await requireShot(connection.db, shot);
  expect(await balance()).toMatchObject([{ ...found, frame: 1001, revision }]);
});

test.each([
  ['a declared space', () => set('sources', source, { declared_space: 'Linear Rec.709' })],
  ['a reading', () => set('sources', source, { reading: JSON.stringify({ alpha: 'straight' }) })],
  ['the working space', () => set('shots', shot, { working_space: 'Linear Rec.709' })],
  ['the ledger', () => saveLedger(connection.db, shot, 1, { version: 1, entries: [] }, 'emptied')],
])('a proof is not kept when %s changed under it', async (_what, change) => {
  expect(await balance(change)).toEqual([]);
});

describe('each frame has its own', () => {
  const file = (frame: number, more: object = {}) => ({
    source_id: source,
    file: `landing.${frame}.exr`,
    frame,
    bytes: 10,
    modified_at: 1000,
    changed_at: 1000,
    print: 'a',
    ...more,
  });

  test('one at another frame does not undo it', async () => {
    writeFileSync(join(folder, 'media/landing/landing.1002.exr'), '');
    await balance();
    expect((await balance(undefined, 1002)).map((b) => b.frame)).toEqual([1001, 1002]);
  });

  test('one whose file was rendered again falls away, the others stay; another ledger has none', async () => {
    const { db } = connection;
    await db
      .insertInto('source_files')
      .values([file(1001), file(1002)])
      .execute();
    await balance();
    await balance(undefined, 1002);
    const again = { now: '11-2000-2000' };
    await db.updateTable('source_files').set(again).where('source_id', '=', source).where('frame', '=', 1002).execute();
    expect((await standing()).map((b) => b.frame)).toEqual([1001]);
    await saveLedger(db, shot, 1, { version: 1, entries: [] }, 'emptied');
    expect(await standing()).toEqual([]);
  });

  test('one is not kept when its file changed while it was computed', async () => {
    const { db } = connection;
    await db.insertInto('source_files').values(file(1001)).execute();
    const render = () => db.updateTable('source_files').set({ now: 'other' }).where('source_id', '=', source).execute();
    expect(await balance(render)).toEqual([]);
  });
});
