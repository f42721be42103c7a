import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { LedgerDocument } from '@june-haze/core';
import type { Connection } from '../src/database/connect.ts';
import { ledgerState, rebuildSource, saveLedger, stepLedger } from '../src/shots/ledger.ts';
import { createShot } from '../src/shots/shotRows.ts';
import { landingSource } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
let shot: string;
beforeAll(async () => {
  connection = await openTestDatabase();
});
afterAll(() => connection.close());
beforeEach(async () => {
  shot = await createShot(connection.db, 'Landing');
});

const fills = (...ids: string[]): LedgerDocument => ({
  version: 1,
  entries: ids.map((id) => ({
    id,
    name: id,
    kind: 'fill',
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [],
    colour: [0, 0, 0],
    alpha: 1,
  })),
});
const save = (base: number, ...ids: string[]) => saveLedger(connection.db, shot, base, fills(...ids), ids.join());
const step = (base: number, direction: 'undo' | 'redo') => stepLedger(connection.db, shot, base, direction);
const ids = async () => (await ledgerState(connection.db, shot)).document.entries.map((e) => e.id).join('');
const revisions = async () =>
  (await connection.db.selectFrom('ledger_revisions').select('number').where('shot_id', '=', shot).execute()).map(
    (r) => r.number,
  );

describe('ledger revisions', () => {
  test('undo and redo walk the same way back and forth', async () => {
    await save(0, 'a');
    await save(1, 'a', 'b');
    await step(2, 'undo');
    expect(await ids()).toBe('a');
    await step(1, 'undo');
    expect(await ledgerState(connection.db, shot)).toMatchObject({ revision: 0, canUndo: false, canRedo: true });
    await step(0, 'redo');
    await step(1, 'redo');
    expect(await ids()).toBe('ab');
    expect(await ledgerState(connection.db, shot)).toMatchObject({ canUndo: true, canRedo: false });
  });

  test('a change after an undo begins a new branch; nothing is ever taken away', async () => {
    await save(0, 'a');
    await save(1, 'b');
    await step(2, 'undo');
    await save(1, 'c');
    expect(await ids()).toBe('c');
    await step(3, 'undo');
    await step(1, 'redo');
    expect(await ids()).toBe('c');
    expect(await revisions()).toEqual([0, 1, 2, 3]);
  });

  test('a stale base is refused with 409, whoever is first wins', async () => {
    await save(0, 'a');
    await expect(save(0, 'b')).rejects.toMatchObject({ status: 409 });
    await expect(step(0, 'undo')).rejects.toMatchObject({ status: 409 });
    const race = await Promise.allSettled(['b', 'c', 'd', 'e'].map((id) => save(1, id)));
    expect(race.filter((r) => r.status === 'fulfilled')).toHaveLength(1);
    expect(await revisions()).toEqual([0, 1, 2]);
  });

  test('there is a sentence when there is nothing to undo or redo', async () => {
    await expect(step(0, 'undo')).rejects.toThrow('There is nothing to undo.');
    await expect(step(0, 'redo')).rejects.toThrow('There is nothing to redo.');
  });

  test('two entries with one id are refused', async () => {
    await expect(save(0, 'a', 'a')).rejects.toMatchObject({ status: 400 });
  });

  test('a shot that is gone is a 404', async () => {
    const gone = 'a3f1c2de-0000-4000-8000-00000000dead';
    await expect(saveLedger(connection.db, gone, 0, fills(), '')).rejects.toMatchObject({ status: 404 });
  });
});

describe('building from a source', () => {
  test.each([
    ['components', ['diffuse_direct', 'specular_direct']],
    ['lights', ['light_sun']],
    ['beauty', ['beauty']],
  ] as const)('%s', (by, wanted) => {
    const { entries, balanceAgainst, alphaFrom } = rebuildSource(landingSource(), by);
    expect(entries.map((e) => e.kind === 'pass' && e.pass)).toEqual(wanted);
    expect(balanceAgainst?.pass).toBe('beauty');
    // Alpha comes once, from the beauty.
    expect(alphaFrom).toEqual(balanceAgainst);
  });

  test('a source without such passes is refused by name', () => {
    expect(() => rebuildSource(landingSource({ passes: [] }), 'lights')).toThrow(
      'landing.####.exr has no light groups',
    );
  });
});
