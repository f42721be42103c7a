import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { numberToHalf, writeExr, type Plane } from '@june-haze/core';
import type { ServerEvent } from '@june-haze/contract';
import { encodePng, zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import type { ComputePool } from '../src/compute/pool.ts';
import * as tasks from '../src/compute/worker.ts';
import type { Connection } from '../src/database/connect.ts';
import { DemoMaker } from '../src/demo/demoMaker.ts';
import type { Events } from '../src/events.ts';
import type { Checks } from '../src/intake/checks.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { readShot } from '../src/shots/shots.ts';
import { openTestDatabase } from './testDatabase.ts';

const config = `ocio_profile_version: 2
roles: {default: ACEScg, scene_linear: ACEScg}
displays: {sRGB: [!<View> {name: Haze, colorspace: ACEScg}]}
colorspaces: [!<ColorSpace> {name: ACEScg, encoding: scene-linear}]
`;

// The demo is made by another program; a small one stands in for it, that puts frames where they belong one by one, as the renderer does.
const renderer = (place: string) => `
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';
const [folder, ...words] = process.argv.slice(2);
const option = (name) => words[words.indexOf('--' + name) + 1];
const [shot, count] = [option('shot'), Number(option('frames'))];
mkdirSync(folder + '/tern', { recursive: true });
if (shot === 'landing') writeFileSync(folder + '/tern/config.ocio', ${JSON.stringify(config)});
for (let done = 0; done <= count; done++) {
  if (done) copyFileSync('${place}/frame.exr', folder + '/' + shot + '.' + (1000 + done) + '.exr');
  if (done === count && shot === 'landing') copyFileSync('${place}/approved.png', folder + '/landing_approved.png');
  console.log(JSON.stringify({ done, count }));
  await wait(shot === 'landing' ? Number(readFileSync('${place}/pause', 'utf8')) : 1);
}
`;

jest.setTimeout(240_000);

let connection: Connection;
let folder: string;
let told: ServerEvent[];
let begun: string[];
let demo: DemoMaker;

/** How long the renderer takes over a frame of Landing. */
const pause = (milliseconds: number) => writeFileSync(join(folder, 'pause'), String(milliseconds));

beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-demo-'));
  writeFileSync(join(folder, 'renderer.mjs'), renderer(folder));
  pause(30);
  const window = { xMin: 0, yMin: 0, xMax: 15, yMax: 8 };
  const names = ['B', 'G', 'R', 'diffuse.B', 'diffuse.G', 'diffuse.R'];
  const channels = names.map((name) => ({ name, type: 'half' as const }));
  const plane = Uint16Array.from({ length: 16 * 9 }, (_, i) => numberToHalf(i / 50));
  const sink = memorySink();
  const rows = (top: number, bottom: number) => plane.subarray(top * 16, (bottom + 1) * 16) as Plane;
  const part = { compression: 'zip' as const, dataWindow: window, displayWindow: window, channels };
  await writeExr(sink, [part], (_, top, bottom) => channels.map(() => rows(top, bottom)), zlibCodec);
  writeFileSync(join(folder, 'frame.exr'), sink.bytes());
  writeFileSync(join(folder, 'approved.png'), await encodePng(new Uint8Array(16 * 9 * 4).fill(200), 16, 9, 'srgb'));
});
afterAll(async () => {
  await connection.close();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  [told, begun] = [[], []];
  await connection.db.deleteFrom('shots').execute();
  rmSync(join(folder, 'media'), { recursive: true, force: true });
  mkdirSync(join(folder, 'media'));
  const pool = {
    run: async (name: keyof typeof tasks, task: never) => (tasks[name] as (t: never) => unknown)(task),
  } as unknown as ComputePool;
  const events = { send: (event: ServerEvent) => told.push(event) } as unknown as Events;
  const checks = { begin: (id: string) => begun.push(id) } as unknown as Checks;
  demo = new DemoMaker(connection.db, pool, new MediaFolders([join(folder, 'media')]), events, checks, {
    program: join(folder, 'renderer.mjs'),
    mediaFolder: join(folder, 'media'),
    place: 'media',
    libraryFolder: join(folder, 'library'),
    frames: 3,
    width: 16,
    height: 9,
  });
});
afterEach(() => demo.stop());

const shots = async () => {
  const rows = await connection.db.selectFrom('shots').selectAll().orderBy('name').execute();
  return Promise.all(rows.map((row) => readShot(connection.db, row)));
};
/** The renderer of the smaller shots stands back for all else that runs: on a busy machine it takes long. */
async function until(what: () => Promise<boolean> | boolean): Promise<void> {
  for (let i = 0; i < 1800 && !(await what()); i++) await new Promise((done) => setTimeout(done, 50));
  expect(await what()).toBe(true);
}
/** Every source is there and its check has begun: the renders of three shots, and the picture that Landing is to look like. */
const allThere = async () => {
  const ids = (await shots()).flatMap((s) => s.sources.map((x) => x.id));
  return ids.length === 4 && ids.every((id) => begun.includes(id));
};

describe('the demo', () => {
  test('Landing comes in with its first frame, grows, and the other two follow; its check begins when it is whole', async () => {
    await demo.start(false);
    await until(async () => (await shots())[0]?.ledger.document.entries.length !== undefined);
    await until(async () => (await shots())[0]!.ledger.document.entries.length > 0);
    const [early] = await shots();
    expect(early!.name).toBe('Landing');
    // Frames that are not made yet are no fault of the shot.
    expect(early!.sources[0]!.missing).toEqual([]);
    await until(allThere);
    const [kettle, landing, lastBoat] = await shots();
    expect([kettle!.name, landing!.name, lastBoat!.name]).toEqual(['Kettle', 'Landing', 'Last boat']);
    expect([landing!.firstFrame, landing!.lastFrame]).toEqual([1001, 1003]);
    expect([landing!.viewing.display, landing!.viewing.view]).toEqual(['sRGB', 'Haze']);
    expect(landing!.colour.config).toMatch(/^[0-9a-f]{32}$/);
    expect([kettle!.rate, lastBoat!.rate]).toEqual([24, 24]);
    expect(landing!.sources.map((s) => s.reading.use)).toEqual(['plate', 'reference']);
    // Each once, however far behind the renderer the application was.
    expect([...begun].sort()).toEqual([kettle, landing, lastBoat].flatMap((s) => s!.sources.map((x) => x.id)).sort());
    const steps = told.flatMap((e) => (e.kind === 'demo' ? [e.done] : []));
    expect(steps).toEqual([0, 1, 2, 3]);
  });

  test('what is made is not made again; thrown away, it is', async () => {
    await demo.start(false);
    await until(allThere);
    await demo.stop();
    const before = (await shots()).map((s) => s.id);
    told = [];
    await demo.start(false);
    await new Promise((done) => setTimeout(done, 400));
    expect([(await shots()).map((s) => s.id), told]).toEqual([before, []]);
    begun = [];
    await demo.start(true);
    await until(allThere);
    const after = (await shots()).map((s) => s.id);
    expect(after.filter((id) => before.includes(id))).toEqual([]);
  });

  test('frames that lie there from before, and a new database: Landing comes in and its check begins', async () => {
    await demo.start(false);
    await until(allThere);
    await demo.stop();
    await connection.db.deleteFrom('shots').execute();
    begun = [];
    await demo.start(false);
    await until(async () => (await shots()).some((s) => s.name === 'Landing') && begun.length > 0);
    const landing = (await shots()).find((s) => s.name === 'Landing')!;
    await until(() => begun.includes(landing.sources[0]!.id));
  });

  test('stopped in the midst of it, the renderer ends and nothing follows', async () => {
    pause(600);
    try {
      await demo.start(false);
      await until(async () => (await shots()).length === 1);
      await demo.stop();
      await new Promise((done) => setTimeout(done, 300));
      expect((await shots()).map((s) => s.name)).toEqual(['Landing']);
      expect(existsSync(join(folder, 'media/kettle'))).toBe(false);
    } finally {
      pause(30);
    }
  });
});
