import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import type { Job, Shot } from '@june-haze/contract';
import sharp from 'sharp';
import { demoReady, newShot, readShot } from './steps.ts';

async function send<T>(request: APIRequestContext, path: string, data: object, method = 'POST'): Promise<T> {
  const response = await request.fetch(`/api${path}`, { method, data });
  expect(response.ok(), await response.text()).toBe(true);
  return (await response.json()) as T;
}

const canvasCodes = (page: Page): Promise<number[]> =>
  page.getByTestId('picture').evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    return [...data].filter((_, i) => i % 4 !== 3);
  });

test('a shot as a job file: done without the application it gives the same codes, and read back it is the same shot', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await newShot(page, 'Handed over', 'landing', 'landing.####.exr');
  const { sources, ledger, firstFrame } = await readShot(request, id);
  const [source] = sources;
  await send(
    request,
    `/sources/${source!.id}`,
    { declaredSpace: 'ACEScg', confirmed: true, reading: { firstFrame: firstFrame + 100 } },
    'PATCH',
  );
  const pass = (name: string, more: object = {}) => ({
    id: name,
    name: `Row of ${name}`,
    kind: 'pass',
    sourceId: source!.id,
    pass: name,
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [],
    ...more,
  });
  const exposure = {
    kind: 'exposure',
    enabled: true,
    stops: {
      keys: [
        [firstFrame + 100, 0.5],
        [firstFrame + 103, 1.5],
      ],
    },
    matte: 'bright',
  };
  const finish = { kind: 'finish', enabled: true, mix: 1 };
  const byDepth = { source: source!.id, pass: 'depth' };
  const document = {
    version: 2,
    entries: [
      pass('light_sun', { adjustments: [exposure] }),
      {
        ...pass('light_sky'),
        kind: 'subtotal',
        id: 'sub',
        name: 'Rest',
        sourceId: undefined,
        pass: undefined,
        entries: [pass('light_sky'), pass('light_lanterns', { mix: 0.8 })],
      },
      { ...finish, id: 'soft', name: 'Soft', finish: 'blur', size: 1.5, mix: 0.5, matte: 'bright' },
      { ...finish, ...byDepth, id: 'mist', name: 'Mist', finish: 'haze', density: 0.02 },
      { ...finish, ...byDepth, id: 'focus', name: 'Focus', finish: 'defocus', focus: 9, size: 2, most: 3 },
      { ...finish, id: 'far', name: 'Far', finish: 'grade', adjustments: [exposure], matte: 'far' },
      { ...finish, id: 'grain', name: 'Grain', finish: 'grain' },
    ],
    mattes: {
      bright: { kind: 'brightness', low: 0.2, high: 1.5, soft: 'linear' },
      deep: { kind: 'depth', ...byDepth, near: 10, far: 1e9, before: 5 },
      far: { kind: 'edge', of: 'deep', grow: -1, blur: 1 },
    },
  };
  await send(request, `/shots/${id}/ledger`, { base: ledger.revision, document, summary: 'for the job' }, 'PUT');
  const range = { firstFrame: firstFrame + 101, lastFrame: firstFrame + 101 };
  const output = { sampleType: 'half', compression: 'zip', ...range };
  await send(request, `/shots/${id}/outputs`, { ...output, name: 'master', kind: 'exr' });
  const { outputs } = await send<Shot>(request, `/shots/${id}/outputs`, { ...output, name: 'shown', kind: 'png' });
  for (const o of outputs) await send(request, `/outputs/${o.id}/runs`, { overwrite: true });
  await expect.poll(async () => (await readShot(request, id)).runs.map((r) => r.state)).toEqual(['done', 'done']);
  const [master, shown] = ['exr', 'png'].map((kind) =>
    outputs.find((o) => o.kind === kind)!.pattern.replace('####', String(range.firstFrame)),
  );

  await page.goto(`/shots/${id}/output`);
  await page.getByRole('button', { name: 'Write job file' }).click();
  const dialog = page.getByRole('dialog').filter({ hasText: 'The job file is written' });
  const place = (await dialog.locator('.number').first().textContent())!;
  const file = join(process.env.JUNE_OUTPUT!, ...place.split('/').slice(1));
  const job = JSON.parse(readFileSync(file, 'utf8')) as Job;
  expect(job.sources).toMatchObject({ landing: { space: 'ACEScg', offset: -100 } });
  expect(job.alphaFrom).toEqual({ source: 'landing', pass: 'beauty' });

  // Without the application, another process makes the same numbers of it, to the bit.
  const to = mkdtempSync(join(tmpdir(), 'june-job-'));
  const frame = String(range.firstFrame);
  const june = (...words: string[]) =>
    execFileSync(process.execPath, ['dist/june.mjs', ...words], { encoding: 'utf8' });
  june('run', file, '--frames', frame, '--to', to, '--output', 'master');
  const compared = june('compare', join(to, basename(master!)), join(process.env.JUNE_OUTPUT!, master!), '--json');
  expect(JSON.parse(compared)).toMatchObject({ equal: true, channels: ['A', 'B', 'G', 'R'].map((name) => ({ name })) });
  const codes = [...(await sharp(join(process.env.JUNE_OUTPUT!, shown!)).removeAlpha().raw().toBuffer())];

  // Read back, it is the same shot.
  await dialog.getByRole('button', { name: 'OK' }).click();
  await page.goto('/');
  await page.getByRole('button', { name: 'From a job file' }).click();
  await page.getByRole('combobox', { name: 'Job file' }).fill(place);
  await page.getByRole('button', { name: 'Make shot' }).click();
  await page.waitForURL(/\/build$/);
  const copy = await readShot(request, /shots\/([^/]+)/.exec(page.url())![1]!);
  const original = await readShot(request, id);
  expect([copy.firstFrame, copy.lastFrame, copy.workingSpace, copy.viewing]).toEqual([
    original.firstFrame,
    original.lastFrame,
    original.workingSpace,
    original.viewing,
  ]);
  expect(copy.ledger.document.entries.map((e) => [e.kind, e.name])).toEqual([
    ['pass', 'Row of light_sun'],
    ['subtotal', 'Rest'],
    ['finish', 'Soft'],
    ['finish', 'Mist'],
    ['finish', 'Focus'],
    ['finish', 'Far'],
    ['finish', 'Grain'],
  ]);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.getByRole('button', { name: `Frame ${frame}` }).click();
  await expect(page.getByTestId('frame')).toHaveText(frame);
  // Counted, since telling long lists apart in words takes minutes.
  const differing = async () => (await canvasCodes(page)).filter((v, i) => v !== codes[i]).length;
  await expect.poll(differing).toBe(0);
});

test('a render with a file for each pass is a job as well, the role that a person gave a pass goes along, and it comes back', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await newShot(page, 'Apart', 'kettle', 'kettle_{pass}.####.exr');
  const { sources, ledger, firstFrame } = await readShot(request, id);
  const source = sources[0]!;
  await send(request, `/sources/${source.id}`, { declaredSpace: 'Linear Rec.709', confirmed: true }, 'PATCH');
  const call = (role: string) => send(request, `/sources/${source.id}/role`, { pass: 'albedo', role }, 'PUT');
  await call('matte');
  const row = { kind: 'pass', sourceId: source.id, enabled: true, operation: 'plus', mix: 1, adjustments: [] };
  const entries = ['diffuse_direct', 'specular_direct'].map((name) => ({ ...row, id: name, name, pass: name }));
  const mist = { kind: 'finish', finish: 'haze', source: source.id, pass: 'depth', density: 0.05 };
  const document = {
    version: 2,
    entries: [...entries, { ...mist, id: 'mist', name: 'Mist', enabled: true, mix: 1 }],
    mattes: {},
  };
  await send(request, `/shots/${id}/ledger`, { base: ledger.revision, document, summary: 'apart' }, 'PUT');
  const range = { firstFrame, lastFrame: firstFrame };
  const { outputs } = await send<Shot>(request, `/shots/${id}/outputs`, {
    ...{ name: 'master', kind: 'exr', sampleType: 'half', compression: 'zip', ...range },
  });
  await send(request, `/outputs/${outputs[0]!.id}/runs`, { overwrite: true });
  await expect.poll(async () => (await readShot(request, id)).runs.map((r) => r.state)).toEqual(['done']);
  const written = join(
    process.env.JUNE_OUTPUT!,
    outputs[0]!.pattern.replace('####', String(firstFrame).padStart(4, '0')),
  );

  const { place } = await send<{ place: string }>(request, `/shots/${id}/job`, {});
  const file = join(process.env.JUNE_OUTPUT!, ...place.split('/').slice(1));
  const job = JSON.parse(readFileSync(file, 'utf8')) as Job;
  expect(Object.keys(job.sources.kettle!.files!)).toContain('depth');
  expect(job.sources.kettle!.roles).toMatchObject({ albedo: 'matte' });
  const to = mkdtempSync(join(tmpdir(), 'june-job-'));
  const june = (...words: string[]) =>
    execFileSync(process.execPath, ['dist/june.mjs', ...words], { encoding: 'utf8' });
  june('run', file, '--to', to, '--output', 'master');
  expect(JSON.parse(june('compare', join(to, basename(written)), written, '--json'))).toMatchObject({ equal: true });

  // What a person says of a name is kept for others of that name.
  await call('albedo');
  const { id: back } = await send<{ id: string }>(request, '/jobs', { place });
  const copy = await readShot(request, back);
  expect(copy.sources.map((s) => [s.pattern, s.files?.length])).toEqual([[source.pattern, source.files?.length]]);
  expect(copy.sources[0]!.passes.find((p) => p.name === 'albedo')!.role).toBe('matte');
  expect(copy.ledger.document.entries.map((e) => e.name)).toEqual(['diffuse_direct', 'specular_direct', 'Mist']);
});

test('what is no job, and sources that lie elsewhere, are sentences, and nothing is left behind', async ({
  request,
}) => {
  const before = ((await (await request.get('/api/shots')).json()) as Shot[]).length;
  const refused = async (place: string) => {
    const response = await request.post('/api/jobs', { data: { place } });
    return [response.status(), ((await response.json()) as { error: string }).error];
  };
  expect(await refused('output/nothing.job.json')).toEqual([404, expect.stringContaining('is not there')]);
  expect(await refused('media/../../etc/passwd.json')).toEqual([
    400,
    expect.stringContaining('not inside the media folders'),
  ]);
  expect(await refused('media/landing/landing.1001.exr')).toEqual([400, expect.stringContaining('no job file')]);
  // A job that leads out of its folder reads nothing there.
  const place = join(process.env.JUNE_MEDIA!, 'outside.json');
  const job = { version: 1, frames: [1, 1], working: 'ACEScg', sources: {}, entries: [], outputs: [] };
  for (const config of ['/etc/passwd', '../../secret.ocio']) {
    writeFileSync(place, JSON.stringify({ ...job, config }));
    expect(await refused('media/outside.json')).toEqual([400, expect.stringMatching(/beside the job/)]);
  }
  writeFileSync(place, JSON.stringify({ ...job, colour: 1 }));
  expect(await refused('media/outside.json')).toEqual([400, expect.stringMatching(/colour/)]);
  expect(((await (await request.get('/api/shots')).json()) as Shot[]).length).toBe(before);
});
