import { inThisThread } from './inThisThread.ts';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { tmpdir } from 'node:os';
import type { Connection } from '../src/database/connect.ts';
import { changeShot } from '../src/shots/changeShot.ts';
import { createShot, requireShot } from '../src/shots/shotRows.ts';
import { plainViewing } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
beforeAll(async () => {
  connection = await openTestDatabase();
});
afterAll(() => connection.close());

test('changes of a shot that come together are all kept', async () => {
  const { db } = connection;
  const id = await createShot(db, 'Landing');
  const viewing = { ...plainViewing, exposure: 2 };
  let other: Promise<void> | undefined;
  // The viewing is under way as the working space is changed.
  await db.transaction().execute(async (t) => {
    await t
      .updateTable('shots')
      .set({ viewing: JSON.stringify(viewing) })
      .where('id', '=', id)
      .execute();
    other = changeShot({ db, pool: inThisThread, libraryFolder: tmpdir() }, id, { workingSpace: 'Linear Rec.709' });
    await new Promise((resolve) => setTimeout(resolve, 200));
  });
  await other;
  expect(await requireShot(db, id)).toMatchObject({ working_space: 'Linear Rec.709', viewing: { exposure: 2 } });
});

test('a shot that is gone, a working space that is not linear: refused, nothing changed', async () => {
  const { db } = connection;
  const gone = changeShot({ db, pool: inThisThread, libraryFolder: tmpdir() }, '00000000-0000-4000-8000-000000000000', {
    name: 'Kettle',
  });
  await expect(gone).rejects.toMatchObject({ status: 404 });
  const id = await createShot(db, 'Landing');
  const encoded = changeShot({ db, pool: inThisThread, libraryFolder: tmpdir() }, id, {
    name: 'Kettle',
    workingSpace: 'sRGB',
  });
  await expect(encoded).rejects.toMatchObject({ status: 400 });
  expect(await requireShot(db, id)).toMatchObject({ name: 'Landing', working_space: 'ACEScg' });
});
