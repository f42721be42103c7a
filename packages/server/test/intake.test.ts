import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { sourceReadingSchema } from '@june-haze/contract';
import { createHash } from 'node:crypto';
import {
  appendFileSync,
  chmodSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ap1, numberToHalf, writeExr, type PartToWrite, type Plane } from '@june-haze/core';
import { zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import * as tasks from '../src/compute/worker.ts';
import type { ComputePool } from '../src/compute/pool.ts';
import type { Connection } from '../src/database/connect.ts';
import { bringIn } from '../src/intake/bringIn.ts';
import { noticeChanges } from '../src/intake/changes.ts';
import { Checks } from '../src/intake/checks.ts';
import { frameFile } from '../src/intake/frameFiles.ts';
import { relink } from '../src/intake/relink.ts';
import { forgetRule, saveRule } from '../src/intake/spaceRules.ts';
import { describeSource } from '../src/intake/sourceState.ts';
import { lackingFiles, otherFiles, safePath } from '../src/intake/uploads.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { createShot, requireShot, requireSource } from '../src/shots/shotRows.ts';
import { readShot } from '../src/shots/shots.ts';
import { openTestDatabase } from './testDatabase.ts';

// Invented material; what is held here is the program's own promises.
let connection: Connection;
let folder: string;
let media: MediaFolders;
let checks: Checks;
let shot: string;
/** The worker threads' tasks, on this thread. */
const pool = {
  threads: 1,
  run: (name: keyof typeof tasks, task: never) => Promise.resolve(tasks[name](task)),
} as unknown as ComputePool;

/** An EXR of 32 × 18, ACEScg, whose numbers depend on `seed`. */
async function exr(path: string, seed: number, channels = ['R', 'G', 'B'], width = 32): Promise<void> {
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: 17 };
  const part: PartToWrite = {
    compression: 'zip',
    dataWindow: window,
    displayWindow: window,
    channels: channels.map((name) => ({ name, type: 'half' as const })),
    attributes: {
      chromaticities: { type: 'chromaticities', value: ap1 },
      framesPerSecond: { type: 'rational', value: [24, 1] },
    },
  };
  const plane = Uint16Array.from({ length: width * 18 }, (_, i) => numberToHalf(((i * 7 + seed * 13) % 97) / 20));
  const sink = memorySink();
  const rows = (top: number, bottom: number): Plane => plane.subarray(top * width, (bottom + 1) * width);
  await writeExr(sink, [part], (_, top, bottom) => channels.map(() => rows(top, bottom)), zlibCodec);
  writeFileSync(path, sink.bytes());
}
const at = (...path: string[]) => join(folder, 'media', ...path);
const only = async () => requireSource(connection.db, (await sources())[0]!.id);
const sources = async () => (await readShot(connection.db, await requireShot(connection.db, shot), checks)).sources;
async function bring(place: string, ...patterns: string[]) {
  const places = { db: connection.db, pool, media, libraryFolder: join(folder, 'library') };
  const { ids, refused } = await bringIn(places, shot, place, patterns);
  ids.forEach((id) => checks.begin(id));
  await checks.settled();
  return refused;
}

beforeAll(async () => {
  connection = await openTestDatabase();
});
afterAll(() => connection.close());
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'june-intake-'));
  mkdirSync(at('boat'), { recursive: true });
  for (const f of [1, 2, 3, 5]) await exr(at('boat', `boat.${String(f).padStart(4, '0')}.exr`), f);
  media = new MediaFolders([join(folder, 'media')]);
  checks = new Checks({
    db: connection.db,
    pool,
    media,
    libraryFolder: join(folder, 'library'),
    changed: () => undefined,
  });
  shot = await createShot(connection.db, 'Boat');
});
afterEach(async () => {
  await checks.stop();
  rmSync(folder, { recursive: true });
});

describe('the check on arrival', () => {
  test('every header and some pixels are looked at; what was found is stored', async () => {
    await bring('media/boat', 'boat.####.exr');
    const [source] = await sources();
    expect(source).toMatchObject({
      firstFrame: 1,
      lastFrame: 5,
      missing: [4],
      declaredSpace: 'ACEScg',
      confirmed: false,
      check: { stage: 'done' },
      measuredFrames: [1, 2, 3, 5],
    });
    expect(source!.problems.map((p) => [p.kind, p.frames])).toEqual([['missing-frames', [4]]]);
    expect(source!.evidence.find((e) => e.from === 'pixels')).toMatchObject({ about: 'linear', agrees: true });
  });

  test('what an earlier process left unfinished is taken up', async () => {
    const places = { db: connection.db, pool, media, libraryFolder: join(folder, 'library') };
    await bringIn(places, shot, 'media/boat', ['boat.####.exr']);
    expect((await sources())[0]!.check.stage).toBe('waiting');
    await checks.resume();
    await checks.settled();
    expect((await sources())[0]!.check.stage).toBe('done');
  });

  test('asked for while it is under way, it is made once more after it', async () => {
    const { db } = connection;
    await bring('media/boat', 'boat.####.exr');
    const { id } = await only();
    // Held where it comes to keep what it found, so that the second is asked for while the first is under way.
    await db.transaction().execute(async (t) => {
      await t.updateTable('sources').set({ checked_at: null }).where('id', '=', id).execute();
      checks.begin(id);
      for (let waited = 0; checks.progress(id)?.stage === 'waiting'; waited++) {
        expect(waited).toBeLessThan(100);
        await new Promise((resolve) => setTimeout(resolve, 10));
      }
      await new Promise((resolve) => setTimeout(resolve, 400));
      await exr(at('boat', 'boat.0006.exr'), 6);
      checks.begin(id);
    });
    await checks.settled();
    expect((await sources())[0]).toMatchObject({ lastFrame: 6, check: { stage: 'done' } });
    expect(checks.progress(id)).toBeUndefined();
  });

  test('what a person declares while the files are looked at stays', async () => {
    const { db } = connection;
    await bring('media/boat', 'boat.####.exr');
    const { id } = await only();
    await db.updateTable('sources').set({ checked_at: null }).where('id', '=', id).execute();
    // The person's change is under way as the check comes to keep what it found.
    await db.transaction().execute(async (t) => {
      const said = { declared_space: 'Linear Rec.709', confirmed: true };
      await t.updateTable('sources').set(said).where('id', '=', id).execute();
      checks.begin(id);
      await new Promise((resolve) => setTimeout(resolve, 400));
    });
    await checks.settled();
    expect(await only()).toMatchObject({ declared_space: 'Linear Rec.709', confirmed: true });
    expect((await only()).checked_at).not.toBeNull();
  });

  test('one bad file among many is told by name and keeps the others not out; alone it is refused', async () => {
    writeFileSync(at('boat', 'letter.png'), 'this is a letter');
    expect(await bring('media/boat', 'boat.####.exr', 'letter.png', 'gone.exr')).toEqual([
      expect.stringMatching(/letter\.png: this is not a PNG/),
      'gone.exr is not in media/boat.',
    ]);
    expect(await sources()).toHaveLength(1);
    await expect(bring('media/boat', 'letter.png')).rejects.toThrow(/letter\.png: this is not a PNG/);
  });
});

test('a set is brought in apart, and sequences are joined by hand', async () => {
  mkdirSync(at('pier'));
  for (const pass of ['beauty', 'depth', 'rig'])
    for (const f of [1, 2]) await exr(at('pier', `pier_${pass}.${f}.exr`), f);
  expect((await media.list('media/pier')).sequences.map((s) => [s.pattern, s.members.length])).toEqual([
    ['pier_{pass}.#.exr', 3],
  ]);
  await bring('media/pier', 'pier_depth.#.exr', 'pier_beauty.#.exr + pier_rig.#.exr');
  expect((await sources()).map((s) => [s.pattern, s.passes.map((p) => p.name)])).toEqual([
    ['pier_depth.#.exr', ['beauty']],
    ['pier_beauty.#.exr + pier_rig.#.exr', ['beauty', 'rig']],
  ]);
  const joined = await requireSource(connection.db, (await sources())[1]!.id);
  expect((await frameFile(media, joined, 1, 2)).path).toBe(at('pier', 'pier_rig.2.exr'));
});

describe('files that change', () => {
  const notice = async () => (await noticeChanges({ db: connection.db, pool, media }, await only())).again;

  test('a changed and a vanished file are named; frames that came are looked at by themselves', async () => {
    await bring('media/boat', 'boat.####.exr');
    expect(await notice()).toBe(false);
    appendFileSync(at('boat', 'boat.0002.exr'), 'more');
    rmSync(at('boat', 'boat.0003.exr'));
    expect(await notice()).toBe(false);
    const changed = (await sources())[0]!.problems.find((p) => p.kind === 'changed-files')!;
    expect([changed.frames, changed.text]).toEqual([
      [2, 3],
      '1 of its files changed since they were looked at, 1 are not there any more',
    ]);
    checks.begin((await only()).id);
    await checks.settled();
    await exr(at('boat', 'boat.0006.exr'), 6);
    expect(await notice()).toBe(true);
    checks.begin((await only()).id);
    await checks.settled();
    expect((await sources())[0]).toMatchObject({ lastFrame: 6, missing: [3, 4] });
  });

  test('a file that is replaced by one of its size and time is known by its content; one only touched is the same', async () => {
    await bring('media/boat', 'boat.####.exr');
    const [before] = await sources();
    const path = at('boat', 'boat.0002.exr');
    const held = readFileSync(path);
    const { mtime } = statSync(path);
    const look = async () => {
      const { changed } = await noticeChanges({ db: connection.db, pool, media }, await only());
      return { changed, source: (await sources())[0]! };
    };
    expect((await look()).changed).toBe(false);
    // Touched: its time of change is another, its content is not.
    chmodSync(path, 0o640);
    expect((await look()).source.stamp).toBe(before!.stamp);
    const other = Buffer.from(held);
    other.writeUInt8(other.readUInt8(other.length - 3) ^ 0xff, other.length - 3);
    writeFileSync(path, other);
    utimesSync(path, mtime, mtime);
    const after = await look();
    expect(after.changed).toBe(true);
    expect(after.source.stamp).not.toBe(before!.stamp);
    expect(after.source.problems.find((p) => p.kind === 'changed-files')!.frames).toEqual([2]);
    // Put back as it was, it is what was looked at.
    writeFileSync(path, held);
    utimesSync(path, mtime, mtime);
    expect((await look()).source.stamp).toBe(before!.stamp);
    expect((await look()).source.problems.map((p) => p.kind)).not.toContain('changed-files');
  });

  test('material that moved is said to have, and found again with all that was declared', async () => {
    await bring('media/boat', 'boat.####.exr');
    const { id } = await only();
    await connection.db
      .updateTable('sources')
      .set({ declared_space: 'Linear Rec.709', confirmed: true })
      .where('id', '=', id)
      .execute();
    renameSync(at('boat'), at('elsewhere'));
    await notice();
    expect((await sources())[0]!.problems.map((p) => p.text).join()).toMatch(/moved, renamed or removed/);
    mkdirSync(at('other'));
    for (const f of [1, 2]) await exr(at('other', `boat.000${f}.exr`), f, ['R', 'G', 'B'], 40);
    const move = async (place: string) =>
      relink({ db: connection.db, pool, media }, await only(), place, 'boat.####.exr');
    await expect(move('media/other')).rejects.toThrow(/is 40×18, the source was 32×18: this is other material/);
    await move('media/elsewhere');
    checks.begin(id);
    await checks.settled();
    expect((await sources())[0]).toMatchObject({
      folder: 'media/elsewhere',
      declaredSpace: 'Linear Rec.709',
      confirmed: true,
    });
    expect((await sources())[0]!.problems.map((p) => p.kind)).not.toContain('changed-files');
  });
});

test('a saved rule declares and confirms what comes in later, and says so', async () => {
  await saveRule(connection.db, { folder: 'media/boat', fileKind: 'exr', space: 'V-Log' });
  await saveRule(connection.db, { folder: 'media', fileKind: null, space: 'sRGB' });
  await bring('media/boat', 'boat.####.exr');
  const [source] = await sources();
  expect(source).toMatchObject({
    declaredSpace: 'V-Log',
    confirmed: true,
    confirmedBy: 'EXR files in media/boat are V-Log',
  });
  // The tags that speak against it stay to be seen.
  expect(source!.evidence.map((e) => [e.from, e.agrees])).toContainEqual(['chromaticities', false]);
  await forgetRule(connection.db, 'media/boat/boat.####.exr', 'exr');
  checks.begin((await only()).id);
  await checks.settled();
  expect((await sources())[0]).toMatchObject({ declaredSpace: 'sRGB', confirmedBy: 'everything in media is sRGB' });
  await connection.db.deleteFrom('space_rules').execute();
});

describe('which file serves a frame', () => {
  test('numbers as they are read, and what is done where a frame is bad', async () => {
    await bring('media/boat', 'boat.####.exr');
    const row = await only();
    const file = async (frame: number, reading: object) =>
      frameFile(media, { ...row, reading }, 0, frame).then(
        (f) => (f.black ? 'black' : f.path.slice(-8, -4)),
        (e: Error) => e.message,
      );
    expect(await file(1, {})).toBe('0001');
    expect(await file(1001, { firstFrame: 1001 })).toBe('0001');
    expect(await file(4, {})).toBe('boat.####.exr: frame 4 is missing.');
    expect(await file(4, { onFault: 'hold' })).toBe('0003');
    expect(await file(1004, { onFault: 'hold', firstFrame: 1001 })).toBe('0003');
    expect(await file(4, { onFault: 'black' })).toBe('black');
    expect(await file(9, { onFault: 'hold' })).toBe('boat.####.exr: frame 9 is missing.');
  });

  test('beyond its frames it is held, comes again, or is black; at another speed whole frames are repeated', async () => {
    await bring('media/boat', 'boat.####.exr');
    const row = await only();
    const { firstFrame, lastFrame } = row.facts;
    const file = async (frame: number, reading: object) =>
      frameFile(media, { ...row, reading }, 0, frame).then(
        (f) => (f.black ? 'black' : Number(f.path.slice(-8, -4))),
        (e: Error) => e.message,
      );
    const after = lastFrame + 1;
    expect(await file(after, { beyond: 'hold' })).toBe(lastFrame);
    expect(await file(after, { beyond: 'loop' })).toBe(firstFrame);
    // Backwards over the missing one, to the one before.
    expect(await file(after, { beyond: 'thereAndBack' })).toBe(`boat.####.exr: frame ${after} is missing.`);
    expect(await file(after + 1, { beyond: 'thereAndBack' })).toBe(lastFrame - 2);
    expect(await file(after, { beyond: 'nothing' })).toBe('black');
    expect(await file(firstFrame + 3, { speed: 0.5 })).toBe(firstFrame + 1);
    const slow = describeSource({ ...row, reading: sourceReadingSchema.parse({ speed: 0.5 }) });
    expect(slow.lastFrame - slow.firstFrame + 1).toBe(2 * (lastFrame - firstFrame + 1));
    // A missing file is missed as often as it would be shown.
    expect(slow.missing).toEqual(row.facts.missing.flatMap((f) => [2 * f - firstFrame, 2 * f - firstFrame + 1]));
  });

  test('a frame left black has the source’s size and is black', async () => {
    await bring('media/boat', 'boat.####.exr');
    const row = await only();
    const black = await frameFile(media, { ...row, reading: { onFault: 'black' } }, 0, 4);
    expect([black.width, black.height]).toEqual([32, 18]);
  });
});

test('readings are shown beside what the files say', async () => {
  await bring('media/boat', 'boat.####.exr');
  const row = await only();
  const source = describeSource({ ...row, reading: { rate: 25, firstFrame: 101, alpha: 'straight' } });
  expect(source).toMatchObject({
    rate: 25,
    firstFrame: 101,
    lastFrame: 105,
    missing: [104],
    alpha: 'straight',
    offset: 100,
  });
  expect(source.stored).toMatchObject({ rate: 24, firstFrame: 1, alpha: 'none' });
});

describe('dropped files', () => {
  test.each(['../x.exr', 'a/../x.exr', '/x.exr', 'a//x.exr', '.x.exr', 'a\\x.exr', 'a\0.exr', ' a.exr', ''])(
    '%j is no name for one',
    (path) => expect(() => safePath(path)).toThrow(/is not taken as a file's name/),
  );

  test('what is not there is asked for; what is there in the same size is told by its content', async () => {
    const place = join(folder, 'uploads', shot, 'pier');
    mkdirSync(place, { recursive: true });
    writeFileSync(join(place, 'a.png'), '12345');
    writeFileSync(join(place, 'd.png'), '54321');
    const files = [
      { path: 'a.png', size: 5 },
      { path: 'b.png', size: 5 },
      { path: 'd.png', size: 5 },
      { path: 'sub/c.exr', size: 9 },
      { path: 'notes.txt', size: 3 },
    ];
    const uploads = join(folder, 'uploads');
    expect(await lackingFiles(uploads, { shot, batch: 'pier', files })).toEqual({
      lacking: ['b.png', 'sub/c.exr'],
      alike: ['a.png', 'd.png'],
    });
    const hash = (text: string) => createHash('sha256').update(text).digest('hex');
    const dropped = [
      { path: 'a.png', hash: hash('12345') },
      { path: 'd.png', hash: hash('99999') },
    ];
    expect(await otherFiles(pool, uploads, { shot, batch: 'pier', files: dropped })).toEqual(['d.png']);
    // Another shot's drop of the same name lies elsewhere.
    const other = await lackingFiles(uploads, { shot: 'other', batch: 'pier', files: files.slice(0, 1) });
    expect(other.lacking).toEqual(['a.png']);
  });
});
