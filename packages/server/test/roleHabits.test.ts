import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Connection } from '../src/database/connect.ts';
import { applyRoleHabits, correctRole } from '../src/intake/roleHabits.ts';
import { createShot, requireSource } from '../src/shots/shotRows.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { landingFacts } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
beforeAll(async () => {
  connection = await openTestDatabase();
});
afterAll(() => connection.close());
const rolesOf = (facts: typeof landingFacts) => Object.fromEntries(facts.passes.map((p) => [p.name, p.role]));

test('a corrected role is kept, and taken for the next source with the same names', async () => {
  const { db } = connection;
  const shot = await createShot(db, 'Landing');
  const id = await addSource(db, shot, 'media/landing', 'landing.####.exr', { facts: landingFacts, guess: 'ACEScg' });
  await correctRole(db, await requireSource(db, id), 'light_sun', 'emission');
  await correctRole(db, await requireSource(db, id), 'light_sun', 'volume');
  expect(rolesOf((await requireSource(db, id)).facts)).toMatchObject({ light_sun: 'volume', depth: 'depth' });
  expect(rolesOf(await applyRoleHabits(db, landingFacts))).toMatchObject({ light_sun: 'volume', beauty: 'beauty' });
});

test('two corrections that were begun together are both kept', async () => {
  const { db } = connection;
  const shot = await createShot(db, 'Landing');
  const id = await addSource(db, shot, 'media/landing', 'landing.####.exr', { facts: landingFacts, guess: 'ACEScg' });
  const source = await requireSource(db, id);
  await correctRole(db, source, 'light_sun', 'emission');
  await correctRole(db, source, 'depth', 'volume');
  expect(rolesOf((await requireSource(db, id)).facts)).toMatchObject({ light_sun: 'emission', depth: 'volume' });
});

test('a pass that is not there is refused', async () => {
  const { db } = connection;
  const shot = await createShot(db, 'Kettle');
  const id = await addSource(db, shot, 'media/kettle', 'kettle.####.exr', { facts: landingFacts, guess: 'ACEScg' });
  await expect(correctRole(db, await requireSource(db, id), 'mist', 'volume')).rejects.toMatchObject({ status: 404 });
});
