import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { numberToHalf, openExr, readChannels, writeExr, type Plane } from '@june-haze/core';
import { isOneFile, type Output, type Shot } from '@june-haze/contract';
import { openSource, zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';

// Server, database, worker thread and worker process are killed at random moments of runs. JUNE_KILLS=200 for a long one.
interface Database {
  url: string;
  pid: number;
  stop(): void;
}
const kills = Number(process.env.JUNE_KILLS ?? 24);
const seed = Number(process.env.JUNE_KILLS_SEED ?? 20261127);
const root = process.cwd();
const [first, last] = [1, 90];
/** Kinds of outputs, one run each in turn. */
const kinds = ['exr', 'movie', 'sheet', 'passes', 'png', 'dpx', 'jpeg', 'tiff', 'aces'] as const;
const killsOfRun = 3;

let folder: string;
let database: Database;
let server: ChildProcess;
let worker: ChildProcess;
let address = '';
let shot = '';
const killed = { server: 0, database: 0, worker: 0 };

const say = (words: string) =>
  process.env.JUNE_KILLS_SAY && process.stderr.write(`${new Date().toISOString().slice(17, 23)} ${words}\n`);

let state = seed;
const next = () => (state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff) / 0x7fffffff;

async function startDatabase(): Promise<void> {
  const { startPostgres } = (await import(join(root, 'scripts/postgres.mjs'))) as {
    startPostgres(folder: string): Promise<Database>;
  };
  database = await startPostgres(join(folder, 'postgres'));
}
const environment = () => ({
  ...process.env,
  NODE_OPTIONS: `--import ${join(root, 'packages/server/test/threadDeath.mjs')}`,
  JUNE_THREAD_DEATHS: '0.03',
  JUNE_DATABASE: database.url,
  JUNE_MEDIA: join(folder, 'media'),
  JUNE_OUTPUT: join(folder, 'output'),
  JUNE_DATA: join(folder, 'data'),
  JUNE_DEMO: 'off',
  JUNE_PORT: '0',
});
async function startServer(): Promise<void> {
  for (;;) {
    const log = ['ignore', 'ignore', 'ignore', 'ipc'] as const;
    server = spawn(process.execPath, [join(root, 'dist/server.mjs')], {
      env: environment(),
      stdio: process.env.JUNE_KILLS_SAY ? ['ignore', 'inherit', 'inherit', 'ipc'] : [...log],
    });
    const ready = await new Promise<number | undefined>((done) => {
      server.once('message', (m: { ready?: number }) => done(m.ready));
      server.once('exit', () => done(undefined));
    });
    if (ready !== undefined) {
      address = `http://127.0.0.1:${ready}`;
      return;
    }
    await wait(300);
  }
}
function startWorker(): void {
  worker = spawn(process.execPath, [join(root, 'dist/june.mjs'), 'worker'], { env: environment(), stdio: 'ignore' });
}
const gone = (child: ChildProcess) =>
  child.exitCode !== null || child.signalCode !== null
    ? Promise.resolve()
    : new Promise<void>((done) => child.once('exit', () => done()));

/** An answer of the API, asked for until the server and its database are there. */
async function ask<T>(path: string, method = 'GET', body?: object): Promise<T> {
  for (let i = 0; ; i++) {
    try {
      const response = await fetch(`${address}/api${path}`, {
        method,
        headers: { 'content-type': 'application/json', origin: address },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
      if (response.status < 500) return (await response.json()) as T;
    } catch {
      // It is being started again.
    }
    if (i > 240) throw new Error(`${path} is not answered any more`);
    await wait(250);
  }
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'june-kills-'));
  mkdirSync(join(folder, 'media/boat'), { recursive: true });
  const [width, height] = [64, 36];
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  for (let f = first; f <= last; f++) {
    const plane = Uint16Array.from({ length: width * height }, (_, i) => numberToHalf(((i * 7 + f * 13) % 97) / 20));
    const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'half' as const }));
    const sink = memorySink();
    const rows = (top: number, bottom: number) => plane.subarray(top * width, (bottom + 1) * width) as Plane;
    const part = { compression: 'zip' as const, dataWindow: window, displayWindow: window, channels };
    await writeExr(sink, [part], (_, top, bottom) => channels.map(() => rows(top, bottom)), zlibCodec);
    writeFileSync(join(folder, `media/boat/boat.${String(f).padStart(4, '0')}.exr`), sink.bytes());
  }
  await startDatabase();
  await startServer();
  startWorker();
}, 180_000);
afterAll(async () => {
  for (const child of [server, worker]) {
    child.kill('SIGKILL');
    await gone(child);
  }
  database.stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

async function kill(): Promise<void> {
  const what = (['server', 'database', 'worker'] as const)[Math.floor(next() * 3)]!;
  killed[what]++;
  say(`kill ${what}`);
  if (what === 'database') {
    process.kill(database.pid, 'SIGKILL');
    await wait(200 + next() * 1500);
    await startDatabase();
    return;
  }
  const child = what === 'server' ? server : worker;
  child.kill('SIGKILL');
  await gone(child);
  await wait(next() * 500);
  if (what === 'server') await startServer();
  else startWorker();
}

async function latest(output: string) {
  const { runs } = await ask<Shot>(`/shots/${shot}`);
  return runs.find((r) => r.outputId === output)!;
}

const fileOf = (pattern: string, f: number) =>
  join(folder, 'output', pattern.replace('####', String(f).padStart(4, '0')));

/** Every file of a run decodes whole and holds its own frame. */
async function checkExr(pattern: string): Promise<void> {
  for (let f = first; f <= last; f++) {
    const source = await openSource(fileOf(pattern, f));
    const { planes, missing } = await readChannels(await openExr(source), 0, ['R'], zlibCodec);
    await source.close();
    expect({ f, missing: missing.length, value: planes[0]![0] }).toEqual({
      f,
      missing: 0,
      value: numberToHalf(((f * 13) % 97) / 20),
    });
  }
}

/** The files of a run by their content: what one run writes, another writes to the byte, however it was disturbed. */
function hashOf({ kind, pattern }: Output): string {
  const hash = createHash('sha256');
  const frames = isOneFile({ kind }) ? [first] : Array.from({ length: last - first + 1 }, (_, i) => first + i);
  for (const f of frames) hash.update(readFileSync(fileOf(pattern, f)));
  return hash.digest('hex');
}

async function writeAll(output: Output, disturb: () => Promise<void>): Promise<string> {
  rmSync(join(folder, 'output'), { recursive: true, force: true });
  await ask(`/outputs/${output.id}/runs`, 'POST', { overwrite: true });
  await disturb();
  const started = Date.now();
  say(`waiting for the end of ${output.kind}`);
  let run = await latest(output.id);
  while (run.state === 'running' && Date.now() - started < 120_000) {
    await wait(300);
    run = await latest(output.id);
  }
  say(`run ${run.state} after ${Date.now() - started} ms`);
  const states = run.frames.map((f) => f.state);
  const messages = [...new Set(run.frames.flatMap((f) => f.message ?? []))];
  const proved = run.frames.every((f) => f.readBack?.proved);
  expect({ state: run.state, frames: states.length, others: [...new Set(states)], messages, proved }).toEqual({
    state: 'done',
    frames: last - first + 1,
    others: ['done'],
    messages: [],
    proved: true,
  });
  return hashOf(output);
}

test(
  `${kills} kills of server, database and worker, and threads that end: every file whole, every frame once, every run ended`,
  async () => {
    const { id } = await ask<Shot>('/shots', 'POST', { name: 'Boat' });
    shot = id;
    await ask(`/shots/${id}/sources`, 'POST', { folder: 'media/boat', patterns: ['boat.####.exr'] });
    const { sources } = await ask<Shot>(`/shots/${id}`);
    await ask(`/sources/${sources[0]!.id}`, 'PATCH', { confirmed: true });
    await ask(`/shots/${id}/ledger/rebuild?by=beauty&source=${sources[0]!.id}`, 'POST', { base: 0 });
    const settings = { sampleType: 'half', compression: 'zip', quality: 80, firstFrame: first, lastFrame: last };
    const outputs: Output[] = [];
    for (const kind of kinds) {
      const space = kind === 'dpx' ? 'ACEScct' : null;
      const codes = kind === 'movie' ? 'bt1886' : null;
      const made = await ask<Shot>(`/shots/${id}/outputs`, 'POST', {
        ...{ name: kind, kind, space, codes, ...settings },
        passes: sources[0]!.passes.map((p) => ({ sourceId: sources[0]!.id, pass: p.name })),
      });
      outputs.push(made.outputs.at(-1)!);
    }
    // What a movie is when nothing disturbs it.
    const movie = await writeAll(
      outputs.find((o) => o.kind === 'movie')!,
      async () => {},
    );
    let done = 0;
    let runs = 0;
    let output = outputs[0]!;
    for (; done < kills; runs++) {
      output = outputs[runs % outputs.length]!;
      const hash = await writeAll(output, async () => {
        for (let i = 0; i < killsOfRun && done < kills; i++, done++) {
          await wait(next() * 900);
          await kill();
        }
      });
      if (output.kind === 'exr' || output.kind === 'passes') await checkExr(output.pattern);
      if (output.kind === 'movie') expect(hash).toBe(movie);
    }
    // What the kills left half-written is gone after the next start.
    server.kill('SIGKILL');
    worker.kill('SIGKILL');
    await Promise.all([gone(server), gone(worker)]);
    await startServer();
    const names = readdirSync(join(folder, 'output', output.pattern.split('/')[0]!));
    expect(names.filter((n) => n.startsWith('.'))).toEqual([]);
    expect(names).toHaveLength(isOneFile(output) ? 1 : last - first + 1);
    expect(existsSync(join(folder, 'data/log/queue.log'))).toBe(true);
    expect(readFileSync(join(folder, 'data/log/queue.log'), 'utf8')).toMatch(/job|worker|queue/i);
    console.log(`${done} kills ${JSON.stringify(killed)} in ${runs} runs`);
  },
  // Alone it takes a quarter of that; machines that others use as well have been seen three times slower.
  (120 + kills * 20) * 1000,
);
