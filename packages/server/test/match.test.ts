import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { lutDisplay, writeExr, type MatchResult, type Plane } from '@june-haze/core';
import type { MatchProgressTold } from '@june-haze/contract';
import { encodePng, zlibCodec } from '@june-haze/files';
import { frame, saveAs, plainTruth } from '../../core/test/match/cases.ts';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import * as lutTasks from '../src/compute/lutTasks.ts';
import * as matchTasks from '../src/compute/matchTasks.ts';
import type { Connection } from '../src/database/connect.ts';
import { addSource } from '../src/intake/bringIn.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { examine } from '../src/library/examine.ts';
import { storeBundle } from '../src/library/store.ts';
import { changeShot } from '../src/shots/changeShot.ts';
import { carryOver } from '../src/shots/carryOver.ts';
import { ledgerState, saveLedger } from '../src/shots/ledger.ts';
import { deriveView } from '../src/shots/derivedView.ts';
import { ledgerFile, viewFile } from '../src/shots/lutFiles.ts';
import { applyRow, findReference, proveReference, undoRow, type MatchPlaces } from '../src/shots/match.ts';
import { createShot, requireShot, requireSource } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { landingFacts } from './landing.ts';
import { poolHere } from './inThisThread.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
let folder: string;
let context: MatchPlaces;
let shot: string;
let render: string;
let picture: string;

// A render of one invented frame in ACEScg, and the picture that the built-in ACES SDR view makes of it.
const light = frame(70);
const { width, height } = light;

beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-match-'));
  const media = join(folder, 'media/place');
  mkdirSync(media, { recursive: true });
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'float' as const }));
  const sink = memorySink();
  const part = { compression: 'zip' as const, dataWindow: window, displayWindow: window, channels };
  const rows = (top: number, bottom: number) =>
    [2, 1, 0].map((c) => light.planes[c]!.subarray(top * width, (bottom + 1) * width) as Plane);
  await writeExr(sink, [part], (_, top, bottom) => rows(top, bottom), zlibCodec);
  writeFileSync(join(media, 'place.1001.exr'), sink.bytes());
  writeFileSync(join(media, 'approved.png'), await encodePng(saveAs(plainTruth, light), width, height, 'srgb'));
  const tasks = { ...matchTasks, ...lutTasks } as unknown as Record<string, (task: unknown) => Promise<unknown>>;
  const pool = poolHere(async (name, task: never) => {
    if (name !== 'keepDropped') return tasks[name]!(task);
    const { name: file, path, folder: to } = task as { name: string; path: string; folder: string };
    const bytes = await (await import('node:fs/promises')).readFile(path);
    const { kind, facts, use, files } = examine(file, bytes);
    return { id: await storeBundle(to, files), kind, facts, use };
  });
  const places = { libraryFolder: join(folder, 'library') };
  context = { db: connection.db, pool, media: new MediaFolders([join(folder, 'media')]), places };
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  const { db } = connection;
  shot = await createShot(db, 'Place');
  const pass = (channelNames: string, type: 'float') => ({
    name: 'beauty',
    role: 'beauty' as const,
    part: 0,
    channels: [...channelNames].map((c) => ({ component: c, name: c, type })),
  });
  const facts = {
    ...landingFacts,
    width,
    height,
    passes: [pass('RGB', 'float')],
    alpha: 'none' as const,
    firstFrame: 1001,
    lastFrame: 1001,
    missing: [],
    damaged: [],
    still: false,
  };
  render = await addSource(db, shot, 'media/place', 'place.####.exr', { facts, guess: 'ACEScg' });
  picture = await addSource(db, shot, 'media/place', 'approved.png', {
    facts: { ...facts, fileKind: 'png', still: true, firstFrame: 1, lastFrame: 1 },
    guess: 'sRGB',
  });
  await set('sources', picture, { reading: JSON.stringify({ use: 'reference' }) });
});

const set = (table: 'shots' | 'sources', id: string, change: object) =>
  connection.db.updateTable(table).set(change).where('id', '=', id).execute();
const read = async () => readShot(connection.db, await requireShot(connection.db, shot));
const prove = async () => proveReference(context, await requireShot(connection.db, shot), (await read()).match);
const viewing = async (change: object) =>
  changeShot({ db: connection.db, pool: context.pool, libraryFolder: folder }, shot, { viewing: change });

describe('the reference proof', () => {
  test('is of the render’s beauty and the picture that is used as a reference, and stands for what it was made from', async () => {
    const before = await read();
    expect(before.match).toMatchObject({
      source: render,
      reference: picture,
      pass: 'beauty',
      frame: 1001,
      proof: null,
    });
    expect(before.proofs.match).toEqual({ state: 'unproved', figure: 'not yet compared' });
    expect(await prove()).toMatchObject({ verdict: 'identical', registration: { scale: 1, shift: [0, 0] } });
    const after = await read();
    expect(after.match.proof?.maxCode).toBeLessThanOrEqual(1);
    expect(after.proofs.match.state).toBe('proved');
  });

  test('falls away with the viewing, the declared space, the alpha, the frame’s files and the reference’s, and comes back with what it was made from', async () => {
    await prove();
    const stands = async () => (await read()).match.proof !== null;
    await viewing({ exposure: 0.1 });
    expect(await stands()).toBe(false);
    await viewing({ exposure: 0 });
    expect(await stands()).toBe(true);
    const changes: [string, object, object][] = [
      [render, { declared_space: 'Linear Rec.709' }, { declared_space: 'ACEScg' }],
      [render, { stamp: 'other files' }, { stamp: '' }],
      [picture, { stamp: 'another picture' }, { stamp: '' }],
      [render, { reading: JSON.stringify({ alpha: 'straight' }) }, { reading: '{}' }],
    ];
    for (const [id, change, back] of changes) {
      await set('sources', id, change);
      expect([change, await stands()]).toEqual([change, false]);
      await set('sources', id, back);
      expect(await stands()).toBe(true);
    }
    // Another name is no matter of pixels.
    await set('shots', shot, { name: 'Renamed' });
    expect(await stands()).toBe(true);
  });

  test('another viewing differs, and says by how much', async () => {
    await viewing({ view: 'Untoned' });
    expect(await prove()).toMatchObject({ verdict: 'differs', explained: false });
    const { proofs } = await read();
    expect(proofs.match.state).toBe('differs');
    expect(proofs.match.figure).toMatch(/^differs, CIEDE2000 \d+\.\d$/);
  });

  test('without a reference or a render it is a sentence', async () => {
    await set('sources', picture, { reading: JSON.stringify({ use: 'plate' }) });
    await expect(prove()).rejects.toMatchObject({
      status: 400,
      message: expect.stringContaining('reference') as unknown as string,
    });
    expect((await read()).proofs.match.figure).toBe('no reference');
    await connection.db.deleteFrom('sources').execute();
    await expect(prove()).rejects.toMatchObject({
      status: 400,
      message: expect.stringContaining('Intake') as unknown as string,
    });
  });

  test('a reference of a size that does not fit is refused with both sizes', async () => {
    const small = await encodePng(new Uint8Array(4 * 90 * 50).fill(128), 90, 50, 'srgb');
    writeFileSync(join(folder, 'media/place/small.png'), small);
    await set('sources', picture, { pattern: 'small.png' });
    await expect(prove()).rejects.toMatchObject({
      status: 400,
      message: expect.stringContaining('90×50') as unknown as string,
    });
  });
});

describe('the finder in a shot', () => {
  const find = async (
    told: MatchProgressTold[] = [],
    stop = new AbortController().signal,
  ): Promise<MatchResult | undefined> =>
    findReference(context, await requireShot(connection.db, shot), (await read()).match, (p) => told.push(p), stop);

  test('finds the truth whatever is declared and set, and tells how far it is', async () => {
    await viewing({ view: 'Gentle', exposure: 1 });
    await set('sources', render, { declared_space: 'Linear Rec.2020' });
    const told: MatchProgressTold[] = [];
    const result = await find(told);
    expect(result).toMatchObject({
      verdict: 'identical',
      best: { space: 'ACEScg', display: 'sRGB', view: 'ACES SDR', configId: null },
    });
    await new Promise((done) => setTimeout(done, 50));
    expect(told.length).toBeGreaterThan(5);
    expect(told.at(-1)!.tried).toBe(told.at(-1)!.count);
  });

  test('is stopped between two views', async () => {
    const stop = new AbortController();
    const told: MatchProgressTold[] = [];
    const searching = findReference(
      context,
      await requireShot(connection.db, shot),
      (await read()).match,
      (p) => {
        told.push(p);
        stop.abort();
      },
      stop.signal,
    );
    expect(await searching).toBeUndefined();
    expect(told[0]!.tried).toBeLessThan(told[0]!.count);
  });

  test('a row is set as the shot’s, and taken back', async () => {
    await viewing({ view: 'Gentle', exposure: 1 });
    await set('sources', render, { declared_space: 'Linear Rec.2020' });
    const best = (await find())!.best!;
    await applyRow(context, shot, render, { ...best, lookFile: null });
    expect((await prove()).verdict).toBe('identical');
    const applied = await read();
    expect([applied.viewing.view, applied.viewing.exposure, applied.match.canUndo]).toEqual(['ACES SDR', 0, true]);
    expect(await requireSource(connection.db, render)).toMatchObject({ declared_space: 'ACEScg', confirmed: true });
    await undoRow(context, shot);
    const back = await read();
    expect([back.viewing.view, back.viewing.exposure, back.match.canUndo]).toEqual(['Gentle', 1, false]);
    expect(await requireSource(connection.db, render)).toMatchObject({
      declared_space: 'Linear Rec.2020',
      confirmed: false,
    });
    await expect(undoRow(context, shot)).rejects.toMatchObject({ status: 409 });
  });

  test('a row that cannot be set leaves everything as it was', async () => {
    const row = {
      space: 'ACEScg',
      configId: null,
      display: 'sRGB',
      view: 'No such view',
      look: null,
      exposure: 0,
      black: 0,
      white: 1,
      gamma: 1,
      lookFile: null,
    };
    await expect(applyRow(context, shot, render, row)).rejects.toMatchObject({ status: 400 });
    expect([(await read()).viewing.view, (await read()).match.canUndo]).toEqual(['ACES SDR', false]);
  });
});

describe('carrying over', () => {
  test('config, viewing and declared space reach other shots, their exposure stays, and each is proven or says why not', async () => {
    const { db } = connection;
    const other = await createShot(db, 'Other');
    await set('shots', other, {
      viewing: JSON.stringify({ ...(await read()).viewing, view: 'Gentle', exposure: 0.5 }),
    });
    const facts = (await requireSource(db, render)).facts;
    const own = await addSource(db, other, 'media/place', 'place.####.exr', { facts, guess: 'Linear Rec.709' });
    const reference = (await requireSource(db, picture)).facts;
    const its = await addSource(db, other, 'media/place', 'approved.png', { facts: reference, guess: 'sRGB' });
    await set('sources', its, { reading: JSON.stringify({ use: 'reference' }) });
    const empty = await createShot(db, 'Empty');
    const carried = await carryOver(context, await read(), [other, empty, '00000000-0000-4000-8000-000000000000']);
    expect(carried.map((c) => [c.name, c.proof?.state, c.problem])).toEqual([
      // Half a stop lies between it and its reference.
      ['Other', 'differs', null],
      ['Empty', undefined, expect.stringContaining('no render') as unknown as string],
      ['', undefined, expect.stringContaining('no longer') as unknown as string],
    ]);
    const now = await readShot(db, await requireShot(db, other));
    expect([now.viewing.view, now.viewing.exposure]).toEqual(['ACES SDR', 0.5]);
    expect(now.sources.find((s) => s.id === own)?.declaredSpace).toBe('ACEScg');
    await undoRow(context, other);
    const back = await readShot(db, await requireShot(db, other));
    expect([back.viewing.view, back.sources.find((s) => s.id === own)?.declaredSpace]).toEqual([
      'Gentle',
      'Linear Rec.709',
    ]);
  });
});

describe('views made and written', () => {
  test('a derived view lies in the Library and, set as the viewing, reproduces the reference', async () => {
    const row = await requireShot(connection.db, shot);
    const derived = await deriveView(context, row, (await read()).match);
    expect(derived.unseen.p95).toBeLessThan(derived.curvesAlone.p95);
    await applyRow(context, shot, render, {
      space: 'ACEScg',
      configId: null,
      display: lutDisplay,
      view: derived.name,
      look: null,
      exposure: 0,
      black: 0,
      white: 1,
      gamma: 1,
      lookFile: null,
    });
    expect((await prove()).deltaE.p95).toBeLessThan(1.5);
    expect(derived.undoing.stops).toBeLessThan(0.1);
    // Derived again it is the same content: the same item, no second view of its name.
    expect((await deriveView(context, row, (await read()).match)).itemId).toBe(derived.itemId);
  });

  test('all references of the shot serve; one that shows something else is left out and named', async () => {
    const { db } = connection;
    const place = join(folder, 'media/place');
    for (const [name, of] of [
      ['again.png', light],
      ['other.png', frame(71)],
    ] as const) {
      writeFileSync(join(place, name), await encodePng(saveAs(plainTruth, of), width, height, 'srgb'));
      const { facts } = await requireSource(db, picture);
      const id = await addSource(db, shot, 'media/place', name, { facts, guess: 'sRGB' });
      await set('sources', id, { reading: JSON.stringify({ use: 'reference' }) });
    }
    const derived = await deriveView(context, await requireShot(db, shot), (await read()).match);
    expect(derived.used).toEqual(['approved.png', 'again.png']);
    expect(derived.left).toEqual([expect.stringMatching(/^other\.png: it does not show frame/)]);
  });

  test('the viewing as a file: named by the shot, measured; a matrix is refused for a view that bends', async () => {
    const row = await requireShot(connection.db, shot);
    const file = await viewFile(context, row, { space: 'ACEScct', size: 17, kind: 'cube' });
    expect(file.name).toBe('Place_sRGB_ACES_SDR_from_ACEScct.cube');
    expect(file.text).toContain('LUT_3D_SIZE 17');
    expect(file.error.mean).toBeGreaterThan(0);
    const matrix = viewFile(context, row, { space: 'ACEScct', size: 17, kind: 'spimtx' });
    await expect(matrix).rejects.toMatchObject({
      status: 400,
      message: expect.stringContaining('bends') as unknown as string,
    });
  });

  test('a ledger’s grades of the whole total as a file; a ledger without any is refused with a sentence', async () => {
    const { db } = connection;
    const asked = { space: 'ACEScct', size: 17, kind: 'cube', frame: 1001 } as const;
    await expect(ledgerFile(context, await requireShot(db, shot), asked)).rejects.toMatchObject({
      status: 400,
      message: expect.stringContaining('nothing of it is colour alone') as unknown as string,
    });
    const { revision, document } = await ledgerState(db, shot);
    const grade = {
      ...{ id: 'g', name: 'Cooler', kind: 'finish', finish: 'grade', enabled: true, mix: 1 },
      adjustments: [{ kind: 'tint', enabled: true, colour: [0.9, 1, 1.1] }],
    };
    const entries = [...document.entries, grade] as typeof document.entries;
    await saveLedger(db, shot, revision, { ...document, version: 2, entries }, 'graded');
    const row = await requireShot(db, shot);
    const file = await ledgerFile(context, row, asked);
    expect(file.name).toBe('Place_ledger_in_ACEScct.cube');
    expect(file.error.p99).toBeLessThan(0.5);
    // Colours of one light multiplied: a matrix holds it exactly, in the working space.
    const matrix = await ledgerFile(context, row, { ...asked, space: row.working_space, kind: 'spimtx' });
    expect(matrix.text.split(/\s+/).map(Number).slice(0, 3)).toEqual([expect.closeTo(0.9, 5), 0, 0]);
    expect(matrix.error.max).toBeLessThan(0.01);
  });
});
