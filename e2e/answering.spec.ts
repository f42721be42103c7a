import { spawn } from 'node:child_process';
import { copyFileSync, linkSync, mkdirSync, openAsBlob, rmSync, writeFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { zipSync } from 'fflate';
import { demoReady, readShot } from './steps.ts';

/** A server that has nothing to do: what it takes to answer is the machine's, which runs other tests beside. */
async function idleServer(): Promise<{ url: string; end(): void }> {
  const text =
    "require('http').createServer((_, r) => r.end()).listen(0, '127.0.0.1', function () { process.stdout.write(String(this.address().port)); })";
  const child = spawn(process.execPath, ['-e', text], { stdio: ['ignore', 'pipe', 'inherit'] });
  const port = await new Promise<string>((told) => child.stdout.once('data', (d: Buffer) => told(d.toString().trim())));
  return { url: `http://127.0.0.1:${port}/`, end: () => void child.kill() };
}

let idle: Awaited<ReturnType<typeof idleServer>>;
test.beforeAll(async () => {
  idle = await idleServer();
});
test.afterAll(() => idle.end());

/**
 * Asks after the server's health all the time while something heavy goes on: how much longer than an idle server, asked at the same moment, it took to
 * answer, in milliseconds.
 */
async function answersDuring(work: Promise<unknown>): Promise<number[]> {
  let busy = true;
  const ended = work.finally(() => (busy = false));
  const timed = async (url: string) => {
    const asked = performance.now();
    expect((await fetch(url)).ok).toBe(true);
    return performance.now() - asked;
  };
  const took: number[] = [];
  while (busy) {
    const [own, machine] = await Promise.all([timed(`${process.env.JUNE_URL}/api/health`), timed(idle.url)]);
    took.push(Math.max(0, own - machine));
    await new Promise((go) => setTimeout(go, 10));
  }
  await ended;
  return took.sort((a, b) => b - a);
}

/**
 * Single answers, two or one of a hundred, may meet a turn of the machine, which runs other tests beside; work on the main thread would take the
 * time of all of it.
 */
function expectQuick(took: number[]): void {
  console.log(`${took.length} answers, the longest ${took.slice(0, 3).map(Math.round).join(', ')} ms`);
  expect(took.length).toBeGreaterThan(5);
  expect(took[Math.max(2, Math.floor(took.length / 100))]).toBeLessThan(200);
  expect(took[0]).toBeLessThan(600);
}

test('the server answers while a config of 300 MB comes in', async ({ request }) => {
  const big = randomBytes(100 << 20);
  const config = 'ocio_profile_version: 1\nroles: {default: raw}\ncolorspaces:\n  - !<ColorSpace>\n    name: raw\n';
  const files = { 'config.ocio': new TextEncoder().encode(config), a: big, b: big, c: big };
  const zip = join(process.env.JUNE_MEDIA!, 'large.zip');
  writeFileSync(zip, zipSync(files, { level: 0 }));
  const body = await openAsBlob(zip);
  const headers = { 'content-type': 'application/octet-stream', origin: process.env.JUNE_URL! };
  const sent = fetch(`${process.env.JUNE_URL}/api/library?name=large.zip`, { method: 'POST', headers, body });
  expectQuick(await answersDuring(sent));
  const answer = await sent;
  expect(answer.status).toBe(201);
  const { id } = (await answer.json()) as { id: string };
  await request.delete(`/api/library/${id}`);
  rmSync(zip);
});

test('the server answers while 20,000 files come in', async ({ request }) => {
  await demoReady(request);
  const folder = join(process.env.JUNE_MEDIA!, 'long');
  mkdirSync(folder);
  copyFileSync(join(process.env.JUNE_MEDIA!, 'landing/landing.1001.exr'), join(folder, 'long.00001.exr'));
  for (let n = 2; n <= 20_000; n++)
    linkSync(join(folder, 'long.00001.exr'), join(folder, `long.${String(n).padStart(5, '0')}.exr`));
  const { id } = (await (await request.post('/api/shots', { data: { name: 'Long' } })).json()) as { id: string };
  const data = { folder: 'media/long', patterns: ['long.#####.exr'] };
  const brought = request.post(`/api/shots/${id}/sources`, { data, timeout: 60_000 });
  expectQuick(await answersDuring(brought));
  expect((await brought).status()).toBe(201);
  await request.delete(`/api/shots/${id}`);
  rmSync(folder, { recursive: true });
  // What others bring in does not wait behind the check of what is gone.
  const next = (await (await request.post('/api/shots', { data: { name: 'Next' } })).json()) as { id: string };
  await request.post(`/api/shots/${next.id}/sources`, {
    data: { folder: 'media/landing', patterns: ['landing.####.exr'] },
  });
  await expect
    .poll(async () => (await readShot(request, next.id)).sources[0]!.check.stage, { timeout: 30_000 })
    .toBe('done');
  await request.delete(`/api/shots/${next.id}`);
});
