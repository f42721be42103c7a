import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ComputePool } from '../src/compute/pool.ts';
import type { Connection } from '../src/database/connect.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { describeSource } from '../src/intake/sourceState.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { proveBalance } from '../src/shots/balance.ts';
import { rebuildLedger, saveLedger } from '../src/shots/ledger.ts';
import { createShot, requireShot, requireSource } from '../src/shots/shots.ts';
import { landingFacts } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

// What is kept of a proof, and when. The numbers themselves are core's, and have their own tests.
let connection: Connection;
let folder: string;
let shot: string;
let source: string;
const found = { difference: { max: 0, mean: 0 }, at: [3, 4], balanced: true };

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
  const ledger = rebuildLedger(describeSource(await requireSource(db, source)), 'components');
  await saveLedger(db, shot, 0, ledger, 'built');
});

/** Balances, and does `meanwhile` before the pixels are through. */
async function balance(meanwhile: () => Promise<unknown> = () => Promise.resolve()) {
  const run = async () => {
    await meanwhile();
    return { balance: found };
  };
  const pool = { run } as unknown as ComputePool;
  const media = new MediaFolders([join(folder, 'media')]);
  await proveBalance({ db: connection.db, pool, media, places: { libraryFolder: folder } }, shot, 1001);
  return (await requireShot(connection.db, shot)).balance;
}
const set = (table: 'shots' | 'sources', id: string, change: object) =>
  connection.db.updateTable(table).set(change).where('id', '=', id).execute();

test('a proof is kept with its frame and the ledger it speaks of', async () => {
  const { ledger_head: revision } = await requireShot(connection.db, shot);
  expect(await balance()).toMatchObject({ ...found, frame: 1001, revision });
});

test.each([
  ['a declared space', () => set('sources', source, { declared_space: 'Linear Rec.709' })],
  ['a reading', () => set('sources', source, { reading: JSON.stringify({ alpha: 'straight' }) })],
  ['the working space', () => set('shots', shot, { working_space: 'Linear Rec.709' })],
  ['the ledger', () => saveLedger(connection.db, shot, 1, { version: 1, entries: [] }, 'emptied')],
])('a proof is not kept when %s changed under it', async (_what, change) => {
  expect(await balance(change)).toBeNull();
});
