import { inThisThread } from './inThisThread.ts';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { viewingSchema } from '@june-haze/contract';
import {
  keyInForce,
  lutDisplay,
  readBundle,
  stepsOf,
  writeBundle,
  type Entry,
  type LedgerDocument,
} from '@june-haze/core';
import type { Connection } from '../src/database/connect.ts';
import { examine } from '../src/library/examine.ts';
import { addItem, changeItem, colourKey, listItems, removeItem } from '../src/library/items.ts';
import { bundlePath, colourOf, contentId, storeBundle } from '../src/library/store.ts';
import { writtenViewing } from '../src/shots/outputs.ts';
import { saveLedger } from '../src/shots/ledger.ts';
import { planOf } from '../src/shots/plan.ts';
import { createShot, requireShot } from '../src/shots/shotRows.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { landingFacts, masterSettings, plainViewing } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
let folder: string;
const bytes = (text: string) => new TextEncoder().encode(text);
const table = 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n';
const config = (more = '') => `ocio_profile_version: 2
roles: {aces_interchange: ap0, default: ap0}
displays: {wall: [!<View> {name: halved, colorspace: half}]}
colorspaces:
  - !<ColorSpace> {name: ap0}
  - !<ColorSpace> {name: half, from_scene_reference: !<FileTransform> {src: luts/half.cube}}
${more}`;
const zip = (text = config()) =>
  writeBundle(
    new Map([
      ['tern/config.ocio', bytes(text)],
      ['tern/luts/half.cube', bytes(table)],
    ]),
  );

beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-library-'));
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  await connection.db.updateTable('shots').set({ config_id: null }).execute();
  await connection.db.deleteFrom('library_items').execute();
});
const add = async (name: string, content: Uint8Array) => {
  const { files, ...about } = examine(name, content);
  return addItem(connection.db, name, { ...about, id: await storeBundle(folder, files) });
};
const list = () => listItems(connection.db);

describe('bringing in', () => {
  test('a config with its LUTs is kept by content: the same again is the same item, a change is a new version', async () => {
    const first = await add('tern.zip', zip());
    expect(await add('again.zip', zip())).toBe(first);
    const second = await add('tern.zip', zip(config('looks: [!<Look> {name: dusk, process_space: ap0}]\n')));
    expect(second).not.toBe(first);
    expect((await list()).map((i) => [i.kind, i.name, i.version, i.facts.problems.length])).toEqual([
      ['config', 'tern', 1, 0],
      ['config', 'tern', 2, 0],
    ]);
    expect(existsSync(bundlePath(folder, first))).toBe(true);
  });

  test('what is broken in it is listed, by name and place', async () => {
    await add('alone.ocio', bytes(config()));
    const [item] = await list();
    expect(item!.facts.problems.join()).toMatch(/alone\.ocio, line 6: the file "luts\/half\.cube" is missing/);
  });

  test.each([
    ['notes.txt', bytes('hello'), /notes\.txt: this is no colour config, LUT or CDL/],
    ['half.cube', bytes('LUT_1D_SIZE 2\n0 0 0\n'), /half\.cube.*2 rows of values are needed, 1 are there/],
    ['broken.zip', Uint8Array.of(0x50, 0x4b, 3, 4, 9, 9), /broken\.zip: this is no zip archive/],
    ['outside.zip', writeBundle(new Map([['../../x.cube', bytes(table)]])), /leads outside the archive/],
    ['old.ocio', bytes('ocio_profile_version: 9\n'), /profile version "9" cannot be read/],
  ])('%s is refused in a sentence and nothing is kept', async (name, content, sentence) => {
    await expect(add(name, content)).rejects.toThrow(sentence);
    expect(await list()).toEqual([]);
  });

  test('an archive that claims to unpack to gigabytes is refused before it is unpacked', () => {
    const bomb = writeBundle(new Map([['config.ocio', new Uint8Array(2_000_000)]]));
    // The claimed size stands in the central directory, 24 bytes after its signature.
    const at = bomb.findIndex((b, i) => b === 0x50 && bomb[i + 1] === 0x4b && bomb[i + 2] === 1 && bomb[i + 3] === 2);
    new DataView(bomb.buffer, bomb.byteOffset).setUint32(at + 24, 0x7fffffff, true);
    expect(() => readBundle(bomb, 'bomb.zip')).toThrow(/unpacks to more than a config can hold/);
  });

  test('the id does not depend on the order of files', () => {
    const a = new Map([
      ['a', bytes('1')],
      ['b', bytes('2')],
    ]);
    const b = new Map([
      ['b', bytes('2')],
      ['a', bytes('1')],
    ]);
    expect(contentId(a)).toBe(contentId(b));
  });
});

describe('in use', () => {
  test('a shot’s config gives its views; it cannot be removed while it is used', async () => {
    const id = await add('tern.zip', zip());
    const shot = await createShot(connection.db, 'Landing');
    await connection.db.updateTable('shots').set({ config_id: id }).where('id', '=', shot).execute();
    const key = await colourKey(connection.db, await requireShot(connection.db, shot));
    const colour = colourOf({ key, folder });
    expect(colour.displays()).toEqual([{ name: 'wall', views: ['halved'] }]);
    // ACEScg is built in: it reaches the config through ACES2065-1.
    expect(colour.knows('ACEScg')).toBe(true);
    expect(colour.linearTwin('ap0')?.name).toBe('ACES2065-1');
    expect(colour.whyNotWorking('half')).toMatch(/half is not linear/);
    expect((await list())[0]!.usedBy).toMatchObject([{ shotId: shot, how: 'its config' }]);
    await expect(removeItem(connection.db, folder, id)).rejects.toThrow(/used by Landing/);
  });

  test('a technical LUT is a space; a creative one is not', async () => {
    const id = await add('half.cube', bytes(table));
    const shot = await requireShot(connection.db, await createShot(connection.db, 'Landing'));
    expect((await colourKey(connection.db, shot)).conversions).toEqual([]);
    await changeItem(connection.db, id, { use: { as: 'conversion', to: 'Linear Rec.709' } });
    const key = await colourKey(connection.db, shot);
    expect(key.conversions).toEqual([{ id, name: 'half.cube', to: 'Linear Rec.709' }]);
    const colour = colourOf({ key, folder });
    expect(colour.knows('half.cube')).toBe(true);
    expect(colour.conversion('half.cube', 'Linear Rec.709').map((s) => s.kind)).toEqual(['channels']);
    // While a source is declared in it, it stays what it is.
    const facts = { ...landingFacts };
    const source = await addSource(connection.db, shot.id, 'media', 'plate.####.exr', {
      facts: facts,
      guess: 'half.cube',
    });
    expect((await list())[0]!.usedBy).toMatchObject([{ shotId: shot.id, how: 'declared space of plate.####.exr' }]);
    await expect(changeItem(connection.db, id, { use: { as: 'look', space: 'ACEScct' } })).rejects.toThrow(
      /plate\.####\.exr is declared in the space of half\.cube/,
    );
    await expect(removeItem(connection.db, folder, id)).rejects.toThrow(/used by Landing/);
    await connection.db.deleteFrom('sources').where('id', '=', source).execute();
    await removeItem(connection.db, folder, id);
    expect(existsSync(bundlePath(folder, id))).toBe(false);
  });

  test('a show LUT is a view; while a shot is seen through it, it stays what it is', async () => {
    const { db } = connection;
    const id = await add('show.cube', bytes(table));
    const other = await add('other.cube', bytes(table.replace('0.5 0.5 0.5', '0.6 0.6 0.6')));
    const use = { as: 'view', from: 'ACEScct', encoding: 'bt1886' } as const;
    const shot = await createShot(db, 'Landing');
    const before = await colourKey(db, await requireShot(db, shot));
    expect(before.views).toBeUndefined();
    await changeItem(db, id, { use });
    await expect(changeItem(db, other, { name: 'Show.cube', use })).rejects.toThrow(/is a view already/);
    const viewing = viewingSchema.parse({ display: lutDisplay, view: 'show.cube', exposure: 0 });
    await db
      .updateTable('shots')
      .set({ viewing: JSON.stringify(viewing) })
      .where('id', '=', shot)
      .execute();
    const key = await colourKey(db, await requireShot(db, shot));
    expect(key.views).toEqual([{ id, name: 'show.cube', from: 'ACEScct', encoding: 'bt1886' }]);
    expect(keyInForce(key, plainViewing)).toEqual(before);
    expect(colourOf({ key, folder }).view('ACEScg', viewing).length).toBeGreaterThan(0);
    expect((await list()).find((i) => i.id === id)!.usedBy).toMatchObject([{ shotId: shot, how: 'its view' }]);
    for (const change of [{ use: { as: 'look', space: 'ACEScct' } } as const, { name: 'renamed.cube' }])
      await expect(changeItem(db, id, change)).rejects.toThrow(/Landing is seen through show\.cube/);
    await expect(removeItem(db, folder, id)).rejects.toThrow(/used by Landing/);
    await db.deleteFrom('shots').where('id', '=', shot).execute();
    await changeItem(db, id, { name: 'renamed.cube' });
  });

  test('a look baked by an adjustment opens with the shot, shows where it is used and cannot be removed', async () => {
    const { db } = connection;
    const id = await add('half.cube', bytes(table));
    const shot = await createShot(db, 'Landing');
    const mist: Entry = {
      id: 'mist',
      kind: 'fill',
      name: 'Mist',
      enabled: true,
      operation: 'over',
      mix: 1,
      colour: [0.5, 0.5, 0.5],
      alpha: 1,
      adjustments: [
        { kind: 'look', enabled: true, look: null, lookFile: { id, name: 'half.cube', space: 'Linear Rec.709' } },
      ],
    };
    const document: LedgerDocument = { version: 1, entries: [mist] };
    const { ledger_head: base } = await requireShot(db, shot);
    // Before it is kept, its look is found for the document that is asked about.
    expect((await colourKey(db, await requireShot(db, shot), document)).looks).toEqual([id]);
    await saveLedger(db, shot, base, document, 'a mist');
    const key = await colourKey(db, await requireShot(db, shot));
    expect(key.looks).toEqual([id]);
    const { plan } = await planOf(db, inThisThread, { key, folder }, shot, document, 'Linear Rec.709');
    expect([...stepsOf(plan)][0]).toMatchObject({
      picture: { kind: 'fill' },
      changes: [{ steps: [{ kind: 'channels' }] }],
    });
    expect((await list())[0]!.usedBy).toMatchObject([{ shotId: shot, how: 'baked into Mist' }]);
    await expect(removeItem(db, folder, id)).rejects.toThrow(/used by Landing/);
    // Taken from the Library all the same, the entry says so and the shot still opens.
    await db.deleteFrom('library_items').where('id', '=', id).execute();
    const later = { key: await colourKey(db, await requireShot(db, shot)), folder };
    await expect(planOf(db, inThisThread, later, shot, document, 'Linear Rec.709')).rejects.toThrow(
      /Entry "Mist".*"half\.cube"/,
    );
  });

  test('a shot gives a config’s variables values of its own', async () => {
    const { db } = connection;
    const text = config()
      .replace('ocio_profile_version: 2', 'ocio_profile_version: 2\nenvironment: {CUBE: half}')
      .replace('luts/half.cube', 'luts/$CUBE.cube');
    const files = new Map([
      ['config.ocio', bytes(text)],
      ['luts/half.cube', bytes(table)],
      ['luts/none.cube', bytes('LUT_1D_SIZE 2\n0 0 0\n1 1 1\n')],
    ]);
    const id = await add('tern.zip', writeBundle(files));
    const shot = await createShot(db, 'Landing');
    const seen = async (variables: Record<string, string>) => {
      await db
        .updateTable('shots')
        .set({ config_id: id, variables: JSON.stringify(variables) })
        .where('id', '=', shot)
        .execute();
      const colour = colourOf({ key: await colourKey(db, await requireShot(db, shot)), folder });
      return {
        variables: colour.config!.variables(),
        table: colour.conversion('half', 'ap0').flatMap((s) => (s.kind === 'channels' ? s.each : [s])),
      };
    };
    expect((await seen({})).variables).toEqual([{ name: 'CUBE', value: 'half', declared: true }]);
    const other = await seen({ CUBE: 'none' });
    expect(other.variables).toEqual([{ name: 'CUBE', value: 'none', declared: true }]);
    expect(other.table).not.toEqual((await seen({})).table);
    await expect(seen({ CUBE: 'gone' })).rejects.toThrow(/luts\/gone\.cube/);
  });

  test('looks are left out of files unless the output asks for them', () => {
    const viewing = viewingSchema.parse({
      ...plainViewing,
      look: '+dusk',
      lookFile: { id: 'x', space: 'ACEScct', name: 'x' },
    });
    expect(writtenViewing(viewing, masterSettings)).toMatchObject({ look: null, lookFile: null });
    expect(writtenViewing(viewing, { ...masterSettings, bakeLook: true })).toEqual(viewing);
  });

  test('viewings stored before there were looks or levels are still read', () => {
    expect(viewingSchema.parse({ display: 'sRGB', view: 'Untoned', exposure: 1 })).toEqual({
      display: 'sRGB',
      view: 'Untoned',
      exposure: 1,
      black: 0,
      white: 1,
      gamma: 1,
      look: null,
      lookFile: null,
    });
  });
});
