import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeBundle } from '@june-haze/core';
import type { Connection } from '../src/database/connect.ts';
import { examine } from '../src/library/examine.ts';
import { addItem, removeItem } from '../src/library/items.ts';
import { storeBundle } from '../src/library/store.ts';
import { changeShot } from '../src/shots/changeShot.ts';
import { beginShot, keepSetUp, listSetUps, removeSetUp } from '../src/shots/setUps.ts';
import { createShot, requireShot } from '../src/shots/shotRows.ts';
import { inThisThread } from './inThisThread.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
let folder: string;
const config = `ocio_profile_version: 2
roles: {aces_interchange: ap0, default: ap0}
environment: {SHOT: pier}
displays: {wall: [!<View> {name: plain, colorspace: ap0}, !<View> {name: half, colorspace: half}]}
colorspaces:
  - !<ColorSpace> {name: ap0}
  - !<ColorSpace> {name: half, from_scene_reference: !<MatrixTransform> {matrix: [0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 1]}}
`;
beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-set-ups-'));
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  for (const table of ['set_ups', 'shots', 'library_items'] as const) await connection.db.deleteFrom(table).execute();
});
const places = () => ({ pool: inThisThread, libraryFolder: folder });

/** A shot with a config of its own, seen through its second view at another rate. */
async function pier(): Promise<{ shot: string; item: string }> {
  const { db } = connection;
  const bundle = writeBundle(new Map([['pier/config.ocio', new TextEncoder().encode(config)]]));
  const { files, ...about } = examine('pier.zip', bundle);
  const item = await addItem(db, 'pier', { ...about, id: await storeBundle(folder, files) });
  const shot = await createShot(db, 'Pier');
  await changeShot({ db, ...places() }, shot, { config: item });
  const viewing = { display: 'wall', view: 'half', exposure: 1.5, gamma: 1.2 };
  await changeShot({ db, ...places() }, shot, { workingSpace: 'ap0', viewing, rate: 25 });
  return { shot, item };
}

test('a new shot has the colours and the rate of the set-up that it starts from; exposure is its own', async () => {
  const { db } = connection;
  const { shot, item } = await pier();
  await keepSetUp(db, 'Harbour', shot);
  const [setUp] = await listSetUps(db);
  expect(setUp).toMatchObject({ name: 'Harbour', config: item, configName: 'pier', workingSpace: 'ap0', rate: 25 });
  const begun = await requireShot(db, await beginShot(db, places(), 'Next', setUp!.id));
  const kept = await requireShot(db, shot);
  expect(begun).toMatchObject({ name: 'Next', config_id: item, working_space: 'ap0', rate: 25 });
  expect(begun.viewing).toEqual({ ...kept.viewing, exposure: 0 });
});

test('one of the same name becomes the new one; without a set-up a shot starts from the built-in colours', async () => {
  const { db } = connection;
  await keepSetUp(db, 'Harbour', (await pier()).shot);
  await keepSetUp(db, 'Harbour', await createShot(db, 'Plain'));
  const all = await listSetUps(db);
  expect(all).toHaveLength(1);
  expect(all[0]).toMatchObject({ config: null, workingSpace: 'ACEScg', rate: 24 });
  const plain = await requireShot(db, await beginShot(db, places(), 'Other', null));
  expect(plain).toMatchObject({ config_id: null, working_space: 'ACEScg', rate: 24 });
});

test('a config that a set-up needs stays in the Library until the set-up is gone', async () => {
  const { db } = connection;
  const { shot, item } = await pier();
  await keepSetUp(db, 'Harbour', shot);
  await db.deleteFrom('shots').execute();
  await expect(removeItem(db, folder, item)).rejects.toThrow('pier is used by the set-up Harbour');
  const [setUp] = await listSetUps(db);
  await removeSetUp(db, setUp!.id);
  await removeItem(db, folder, item);
  await expect(beginShot(db, places(), 'Late', setUp!.id)).rejects.toThrow('no longer there');
  expect(await db.selectFrom('shots').selectAll().execute()).toEqual([]);
});

test('a set-up that cannot be any more makes no shot', async () => {
  const { db } = connection;
  await keepSetUp(db, 'Harbour', (await pier()).shot);
  await db.updateTable('set_ups').set({ working_space: 'nowhere' }).execute();
  const [setUp] = await listSetUps(db);
  await expect(beginShot(db, places(), 'Broken', setUp!.id)).rejects.toThrow('nowhere');
  expect((await db.selectFrom('shots').select('name').execute()).map((s) => s.name)).toEqual(['Pier']);
});
