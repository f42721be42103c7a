import { copyFileSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { acceptAll, demoReady, newShot, readShot } from './steps.ts';

const media = () => process.env.JUNE_MEDIA!;
const sayOf = async (response: { json(): Promise<unknown> }) => ((await response.json()) as { error: string }).error;

test('a missing, a truncated and a false frame each get one sentence; the other frames are written', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const folder = join(media(), 'faulty');
  mkdirSync(folder, { recursive: true });
  const demo = join(media(), 'landing/landing.1001.exr');
  const frame = (n: number) => join(folder, `faulty.${n}.exr`);
  for (const n of [1001, 1002, 1004, 1005]) copyFileSync(demo, frame(n));
  const bytes = readFileSync(demo);
  writeFileSync(frame(1002), bytes.subarray(0, Math.floor(bytes.length * 0.6)));
  writeFileSync(frame(1004), 'this is a letter');
  const id = await newShot(page, 'Faulty', 'faulty', 'faulty.####.exr');
  const problems = page.getByRole('region', { name: 'Problems' });
  await expect(problems).toContainText('frame 1003 is missing');
  await expect(problems).toContainText('frame 1002 ends early');
  await expect(problems).toContainText('faulty.1004.exr: this is not an EXR');

  const source = (await readShot(request, id)).sources[0]!.id;
  const base = (await readShot(request, id)).ledger.revision;
  expect(
    (await request.post(`/api/shots/${id}/ledger/rebuild?by=components&source=${source}`, { data: { base } })).ok(),
  ).toBe(true);
  const settings = {
    name: 'all',
    kind: 'exr',
    sampleType: 'half',
    compression: 'zip',
    firstFrame: 1001,
    lastFrame: 1005,
  };
  const made = (await (await request.post(`/api/shots/${id}/outputs`, { data: settings })).json()) as {
    outputs: { id: string }[];
  };
  await acceptAll(request, made.outputs[0]!.id);
  await request.post(`/api/outputs/${made.outputs[0]!.id}/runs`, { data: { overwrite: false } });
  await expect.poll(async () => (await readShot(request, id)).runs[0]!.state, { timeout: 60_000 }).toBe('failed');
  const { frames } = (await readShot(request, id)).runs[0]!;
  expect(frames.map((f) => f.state)).toEqual(['done', 'failed', 'failed', 'failed', 'done']);
  expect(frames[1]!.message).toMatch(/ends early or is damaged; lines .* cannot be read/);
  expect(frames[2]!.message).toMatch(/frame 1003 is missing/);
  expect(readdirSync(join(process.env.JUNE_OUTPUT!, 'faulty')).sort()).toEqual([
    'faulty_all_acescg.1001.exr',
    'faulty_all_acescg.1005.exr',
  ]);

  // The picture says it too, where it happens.
  await page.goto(`/shots/${id}/build`);
  await page.getByRole('button', { name: /Frame 1003/ }).click();
  await expect(page.getByRole('alert')).toContainText('frame 1003 is missing');

  // A source whose files vanish while in use.
  rmSync(folder, { recursive: true });
  const gone = await request.post(`/api/shots/${id}/balance`, { data: { frame: 1001 } });
  expect(gone.status()).toBe(404);
  expect(await sayOf(gone)).toMatch(/frame 1001 is missing|not there any more/);
});

test('paths that lead outside, hostile hosts and stale ledgers are refused', async ({ request }) => {
  await demoReady(request);
  const outside = await request.get('/api/media?folder=media/../../etc');
  expect([outside.status(), await sayOf(outside)]).toEqual([400, '"media/../../etc" is not inside the media folders.']);
  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  const id = shots.find((s) => s.name === 'Landing')!.id;
  const name = await request.post(`/api/shots/${id}/sources`, {
    data: { folder: 'media/landing', patterns: ['../secret.####.exr'] },
  });
  expect(name.status()).toBe(404);
  expect((await request.get('/api/shots', { headers: { host: 'example.org' } })).status()).toBe(403);
  expect((await request.get('/api/shots', { headers: { origin: 'http://example.org' } })).status()).toBe(403);
  const { ledger } = await readShot(request, id);
  const stale = await request.put(`/api/shots/${id}/ledger`, {
    data: { base: ledger.revision - 1, document: ledger.document, summary: 'late' },
  });
  expect(stale.status()).toBe(409);
  expect(await sayOf(stale)).toMatch(/changed elsewhere/);
  const encoded = await request.patch(`/api/shots/${id}`, { data: { workingSpace: 'sRGB' } });
  expect(await sayOf(encoded)).toMatch(/not linear/);
});
