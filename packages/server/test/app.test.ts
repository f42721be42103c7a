import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, request as ask, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { numberToHalf, writeExr } from '@june-haze/core';
import { PlanesReader } from '@june-haze/contract';
import { zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import { AccessKey } from '../src/access/key.ts';
import { createApp } from '../src/app.ts';
import { PartCache } from '../src/compute/partCache.ts';
import type { ComputePool } from '../src/compute/pool.ts';
import * as tasks from '../src/compute/worker.ts';
import type { Context } from '../src/context.ts';
import type { Connection } from '../src/database/connect.ts';
import { Events } from '../src/events.ts';
import { MediaFolders } from '../src/media/mediaFolders.ts';
import { createShot } from '../src/shots/shotRows.ts';
import { openTestDatabase } from './testDatabase.ts';

// What a server takes, refuses and says: asked over HTTP, as a page, another site and a program would.
let connection: Connection;
let folder: string;
let context: Context;
let server: Server;
let address: string;
let shot: string;
const events = new Events();
const pool = {
  threads: 1,
  run: async (name: keyof typeof tasks, task: never) => (tasks[name] as (t: never) => unknown)(task),
} as unknown as ComputePool;

async function serve(key?: AccessKey): Promise<[Server, string]> {
  const made = createServer(createApp(context, join(folder, 'web'), key));
  await new Promise<void>((done) => made.listen(0, '127.0.0.1', done));
  return [made, `127.0.0.1:${(made.address() as AddressInfo).port}`];
}
interface Answer {
  bytes: Buffer;
  status: number;
  text: string;
  headers: Record<string, string | string[] | undefined>;
}
/** A request with just these headers: fetch would add its own. */
function send(
  path: string,
  method = 'GET',
  headers: object = {},
  body?: string | Buffer,
  at = address,
): Promise<Answer> {
  const [host, port] = at.split(':');
  return new Promise((resolve, reject) => {
    // A connection of its own: one that is kept may be closed as it is used again.
    const made = ask({ agent: false, host, port, path, method, headers: { host: at, ...headers } }, (response) => {
      const pieces: Buffer[] = [];
      response.on('data', (d: Buffer) => pieces.push(d));
      response.on('end', () => {
        const bytes = Buffer.concat(pieces);
        resolve({ status: response.statusCode!, text: bytes.toString(), bytes, headers: response.headers });
      });
    });
    made.on('error', reject);
    made.end(body);
  });
}
const json = (path: string, method: string, body: unknown, headers: object = {}) =>
  send(path, method, { 'content-type': 'application/json', ...headers }, JSON.stringify(body));

beforeAll(async () => {
  connection = await openTestDatabase();
  folder = mkdtempSync(join(tmpdir(), 'june-app-'));
  for (const f of ['media/boat', 'web', 'output', 'proofs', 'library', 'uploads/.pieces'])
    mkdirSync(join(folder, f), { recursive: true });
  writeFileSync(join(folder, 'web/index.html'), '<p>June Haze</p>');
  const sink = memorySink();
  const window = { xMin: 0, yMin: 0, xMax: 31, yMax: 17 };
  const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'half' as const }));
  await writeExr(
    sink,
    [{ compression: 'zip', dataWindow: window, displayWindow: window, channels }],
    (_, top, bottom) => channels.map(() => new Uint16Array(32 * (bottom - top + 1)).fill(numberToHalf(0.5))),
    zlibCodec,
  );
  writeFileSync(join(folder, 'media/boat/boat.exr'), sink.bytes());
  context = {
    db: connection.db,
    pool,
    parts: new PartCache(pool, 1 << 20),
    media: new MediaFolders([join(folder, 'media')]),
    events,
    runs: {} as Context['runs'],
    checks: { begin: () => undefined, progress: () => undefined } as unknown as Context['checks'],
    watch: { look: () => undefined } as unknown as Context['watch'],
    demo: { state: { done: 0, count: 0 }, start: () => Promise.resolve() } as unknown as Context['demo'],
    places: {
      outputFolder: join(folder, 'output'),
      proofFolder: join(folder, 'proofs'),
      libraryFolder: join(folder, 'library'),
      uploadFolder: join(folder, 'uploads'),
    },
  };
  [server, address] = await serve();
  shot = await createShot(connection.db, 'Boat');
});
afterAll(async () => {
  server.close();
  events.close();
  await connection.close();
  rmSync(folder, { recursive: true });
});

describe('who may ask', () => {
  const change = (headers: object) => json('/api/shots', 'POST', { name: 'From afar' }, headers).then((r) => r.status);

  test('a page of this server, by its own address and port; a program without one', async () => {
    expect(await change({ origin: `http://${address}` })).toBe(201);
    expect(await change({ origin: `http://${address}`, 'sec-fetch-site': 'same-origin' })).toBe(201);
    expect(await change({})).toBe(201);
  });

  test.each([
    ['another port of this machine', { origin: 'http://127.0.0.1:9' }],
    ['another name of it', { origin: 'http://localhost:9' }],
    ['another site', { origin: 'https://example.org' }],
    ['a page without origin', { origin: 'null' }],
    ['a site that hides it', { 'sec-fetch-site': 'cross-site' }],
    ['another port that hides it', { 'sec-fetch-site': 'same-site' }],
    ['a name that leads here (DNS rebinding)', { host: 'example.org' }],
  ])('not %s', async (_who, headers) => {
    expect(await change(headers)).toBe(403);
    expect((await send('/api/demo/reset', 'POST', headers)).status).toBe(403);
  });

  test('bodies that a form can send are refused', async () => {
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x', ''])
      expect((await send('/api/shots', 'POST', { 'content-type': type }, '{"name":"x"}')).status).toBe(415);
    expect((await send('/api/library?name=a', 'POST', { 'content-type': 'text/plain' }, 'x')).status).toBe(415);
  });
});

describe('a server that other machines reach', () => {
  test('asks for its key, which is kept as a hash and printed once; wrong ones are slowed down', async () => {
    const file = join(folder, 'access.json');
    const key = new AccessKey(file);
    expect(key.fresh).toHaveLength(43);
    expect(readFileSync(file, 'utf8')).not.toContain(key.fresh);
    expect(new AccessKey(file).fresh).toBeUndefined();
    const [guarded, at] = await serve(new AccessKey(file));
    const get = (path: string, headers: object = {}) => send(path, 'GET', headers, undefined, at);
    expect((await get('/api/shots')).status).toBe(401);
    const page = await get('/shots/x');
    expect([page.status, /Access key/.test(page.text)]).toEqual([401, true]);
    // What a browser's form needs to say where it comes from; "null" stays another site.
    expect(page.headers['referrer-policy']).toBe('same-origin');
    expect((await get('/api/shots', { authorization: `Bearer ${key.fresh}` })).status).toBe(200);
    const form = { 'content-type': 'application/x-www-form-urlencoded', origin: `http://${at}` };
    const entered = await send('/enter', 'POST', form, `key=${key.fresh}`, at);
    expect([entered.status, entered.headers.location]).toEqual([303, '/']);
    const cookie = String(entered.headers['set-cookie']);
    expect(cookie).toMatch(/HttpOnly; SameSite=Strict/);
    expect((await get('/api/shots', { cookie: cookie.split(';')[0] })).status).toBe(200);
    // Any name may lead here, as through a proxy; another site's page still may not change anything.
    expect((await get('/api/shots', { host: 'june.example', authorization: `Bearer ${key.fresh}` })).status).toBe(200);
    const wrong = [];
    for (let i = 0; i < 14; i++) wrong.push((await get('/api/shots', { authorization: 'Bearer wrong' })).status);
    expect(wrong.slice(0, 5)).toEqual([401, 401, 401, 401, 401]);
    expect(wrong.at(-1)).toBe(429);
    expect((await get('/api/shots', { authorization: `Bearer ${key.fresh}` })).status).toBe(200);
    guarded.close();
  });
});

describe('what cannot be is refused with a sentence, never with a fault', () => {
  let source: string;
  beforeAll(async () => {
    const brought = await json(`/api/shots/${shot}/sources`, 'POST', { folder: 'media/boat', patterns: ['boat.exr'] });
    ({ id: source } = (JSON.parse(brought.text) as { sources: { id: string }[] }).sources[0]!);
  });
  const want = (more: object) =>
    `want=${encodeURIComponent(JSON.stringify({ source, frame: 1, part: 0, channels: ['R'], ...more }))}`;
  const planes = (query: string) => send(`/api/planes?${query}`);
  const headerOf = ({ bytes }: { bytes: Buffer }) => {
    const reader = new PlanesReader((n) => new ArrayBuffer(n));
    reader.add(bytes);
    return reader.end().map((a) => a.header);
  };

  test('planes', async () => {
    const [whole] = headerOf(await planes(want({})));
    expect(whole).toMatchObject({ types: ['half'], missing: [] });
    for (const query of [
      want({ level: -1 }),
      want({ level: 13 }),
      want({ level: 'x' }),
      want({ part: -1 }),
      want({ frame: 1e99 }),
      want({ channels: [] }),
      want({ source: undefined }),
      'want=no%20JSON',
      '',
      `${want({})}%00`,
    ])
      expect({ query, status: (await planes(query)).status }).toEqual({ query, status: 400 });
    // Each want is answered by itself: one that cannot be had leaves the others.
    const several = [want({ channels: ['constructor'] }), want({}), want({ part: 9 }), want({ source: 'nobody' })];
    const answers = headerOf(await planes(several.join('&')));
    expect(answers.map((h) => ('error' in h ? h.status : 200))).toEqual([404, 200, 422, 404]);
    expect(answers[0]).toMatchObject({ error: 'boat.exr has no channel "constructor".' });
  });

  test('ids, texts with NUL, subtotals without end, numbers without end', async () => {
    const dashes = '-'.repeat(36);
    for (const path of [
      `/outputs/${dashes}/precheck`,
      `/runs/${dashes}/pictures/shown`,
      `/shots/${dashes}`,
      '/shots/%zz',
    ])
      expect([400, 404]).toContain((await send(`/api${path}`)).status);
    expect((await send(`/api/runs/${dashes}/cancel`, 'POST')).status).toBe(404);
    expect((await json('/api/shots', 'POST', { name: 'a\0b' })).status).toBe(400);
    let entry: object = {
      id: 'x',
      kind: 'subtotal',
      name: '',
      enabled: true,
      operation: 'plus',
      mix: 1,
      adjustments: [],
      entries: [],
    };
    for (let i = 0; i < 500; i++) entry = { ...entry, id: `${i}`, entries: [entry] };
    const deep = await json(`/api/shots/${shot}/ledger`, 'PUT', {
      base: 0,
      document: { version: 1, entries: [entry] },
      summary: '',
    });
    expect([deep.status, deep.text]).toEqual([400, expect.stringContaining('subtotals within subtotals')]);
    expect((await json(`/api/shots/${shot}/balance`, 'POST', { frame: 1e15 })).status).toBe(400);
    expect((await send('/api/shots', 'POST', { 'content-type': 'application/json' }, '{"name":')).status).toBe(400);
  });

  test('twenty thousand frames are looked through at once', async () => {
    const settings = {
      name: 'long',
      kind: 'exr',
      sampleType: 'half',
      compression: 'zip',
      firstFrame: 1,
      lastFrame: 20_000,
    };
    const made = await json(`/api/shots/${shot}/outputs`, 'POST', settings);
    const { outputs } = JSON.parse(made.text) as { outputs: { id: string }[] };
    const started = performance.now();
    expect((await send(`/api/outputs/${outputs.at(-1)!.id}/precheck`)).status).toBe(200);
    expect(performance.now() - started).toBeLessThan(1500);
  });

  test('no sentence names a place on this machine', async () => {
    const picture = await send('/api/runs/a3f1c2de-0000-4000-8000-000000000001/pictures/shown');
    expect([picture.status, picture.text.includes(folder)]).toEqual([404, false]);
    const gone = await send(`/api/library/${'0'.repeat(32)}/content`);
    expect([gone.status, gone.text.includes(folder)]).toEqual([404, false]);
  });

  test('an archive that swells is refused within seconds, and leaves nothing behind', async () => {
    const { zipSync } = await import('fflate');
    const bomb = Buffer.from(zipSync({ 'config.ocio': new Uint8Array(150 << 20) }));
    expect(bomb.length).toBeLessThan(400_000);
    const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const started = performance.now();
    const answer = await send(
      '/api/library?name=bomb.zip',
      'POST',
      { 'content-type': 'application/octet-stream' },
      bomb,
    );
    quiet.mockRestore();
    expect(answer.status).toBe(422);
    expect(performance.now() - started).toBeLessThan(5000);
    const { readdirSync } = await import('node:fs');
    expect(readdirSync(join(folder, 'library'))).toEqual([]);
    expect((await send('/api/library?name=a', 'POST', { 'content-type': 'application/octet-stream' }, '')).status).toBe(
      400,
    );
  });

  test('the interface is served from a folder with a dot in its path', async () => {
    const hidden = join(folder, '.builds/web');
    mkdirSync(hidden, { recursive: true });
    writeFileSync(join(hidden, 'index.html'), '<p>hidden</p>');
    const other = createServer(createApp(context, hidden));
    await new Promise<void>((done) => other.listen(0, '127.0.0.1', done));
    const at = `127.0.0.1:${(other.address() as AddressInfo).port}`;
    expect((await send('/shots/x/build', 'GET', {}, undefined, at)).text).toBe('<p>hidden</p>');
    other.close();
    expect(existsSync(hidden)).toBe(true);
  });
});
