import { createHash } from 'node:crypto';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import type { Shot } from '@june-haze/contract';
import { acceptAll, addEntry, choose, demoShot, newShot, readPlanes, readShot, writeFiles } from './steps.ts';

const media = (...path: string[]) => join(process.env.JUNE_MEDIA!, ...path);
const problem = (page: Page, title: string) => page.getByTestId('problem').filter({ hasText: title });

test('Last boat: nothing that is wrong with it goes unnoticed, and each remedy does what it says', async ({
  page,
  request,
}) => {
  test.setTimeout(400_000);
  const { id } = await demoShot(request, 'Last boat');
  await page.goto(`/shots/${id}/intake`);
  const list = page.getByRole('region', { name: 'Problems' });
  for (const words of [
    'frame 1009 is missing',
    'frame 1006 ends early',
    'pass emission is 426×240 among 213×120',
    '25 fps in a shot of 24',
    'looks encoded for a display',
    'are the numbers of lastboat_{pass}.####.exr, frame 1001, without any encoding',
    'not numbers',
    'larger values of depth are nearer',
  ])
    await expect(list).toContainText(words);
  // What is sound raises nothing: the approved picture.
  await expect(list.getByText('lastboat_approved.png')).toHaveCount(1);
  await expect(problem(page, 'lastboat_approved.png')).toContainText('Space not confirmed');

  await problem(page, 'Another rate').getByRole('button', { name: 'Read as 24' }).click();
  await expect(problem(page, 'Another rate')).toHaveCount(0);
  await problem(page, 'Encoded pixels').getByRole('button', { name: 'Declare sRGB' }).click();
  await expect(problem(page, 'Encoded pixels')).toHaveCount(0);
  await problem(page, 'Depth looks reversed').getByRole('button', { name: 'Silence …' }).click();
  await page.getByLabel('Why this is no problem here').fill('near is 1 on purpose');
  await page.getByRole('button', { name: 'Silence it' }).click();
  await expect(problem(page, 'Depth looks reversed')).toHaveCount(0);
  await page.getByLabel('Show silenced').click();
  await expect(problem(page, 'Depth looks reversed')).toContainText('near is 1 on purpose');

  const hold = problem(page, 'Frames are missing or damaged').getByRole('button', { name: 'Hold the last good' });
  await hold.click();
  await expect(hold).toHaveAttribute('aria-pressed', 'true');
  const shot = await readShot(request, id);
  const render = shot.sources.find((s) => s.name.startsWith('lastboat_{pass}'))!;
  expect(render.reading.onFault).toBe('hold');
  expect(shot.sources.find((s) => s.name.startsWith('sky'))).toMatchObject({ rate: 24, stored: { rate: 25 } });

  // The frames are written: the cut one holds 1005, the missing one 1008.
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'Build anew from the beauty pass', 'anew beauty lastboat_{pass}');
  await expect(page.getByTestId('ledger-row')).toHaveCount(1);
  const settings = {
    name: 'held',
    kind: 'exr',
    sampleType: 'half',
    compression: 'zip',
    firstFrame: 1005,
    lastFrame: 1009,
  };
  const made = (await (await request.post(`/api/shots/${id}/outputs`, { data: settings })).json()) as Shot;
  await acceptAll(request, made.outputs[0]!.id);
  await request.post(`/api/outputs/${made.outputs[0]!.id}/runs`, { data: { overwrite: false } });
  await expect.poll(async () => (await readShot(request, id)).runs[0]!.state, { timeout: 60_000 }).toBe('done');
  const file = (n: number) => join(process.env.JUNE_OUTPUT!, `last_boat/last_boat_held_acescg.${n}.exr`);
  // Exits with 1 when files differ.
  const equal = (a: number, b: number) =>
    spawnSync(join(process.cwd(), 'june'), ['compare', file(a), file(b)], { encoding: 'utf8' }).status === 0;
  expect([equal(1005, 1006), equal(1008, 1009), equal(1005, 1008)]).toEqual([true, true, false]);
});

test('Kettle: sixteen files a frame are one source, the log plate is found by its name', async ({ page, request }) => {
  const shot = await demoShot(request, 'Kettle');
  expect(shot.sources.map((s) => [s.name, s.declaredSpace, s.passes.length, s.problems.length])).toEqual([
    ['kettle_{pass}.####.exr', 'Linear Rec.709', 16, 0],
    ['plate_logc3.####.dpx', 'LogC3', 1, 0],
  ]);
  await page.goto(`/shots/${shot.id}/intake`);
  await page.locator('button.source', { hasText: 'plate_logc3' }).click();
  await expect(
    page.getByRole('group', { name: 'Declared space' }).getByRole('button', { name: /^LogC3/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Confirm LogC3' }).click();
  await expect(page.locator('button.source', { hasText: 'plate_logc3' })).toContainText('confirmed');
  // Said once for all: the rule is evidence from now on.
  await page.getByRole('button', { name: 'Remember for DPX files in this folder' }).click();
  await expect(page.getByText('saved rule: DPX files in media/kettle are LogC3')).toBeVisible();

  // What came in a log space goes back in it: the numbers that were brought in, within the rounding of a half.
  await expect(page.getByText('an EXR output can be in LogC3 again')).toBeVisible();
  const { id } = shot;
  const { ledger, sources } = await readShot(request, id);
  const plate = sources.find((s) => s.name.startsWith('plate'))!;
  const entry = { id: 'e1', name: 'Plate', kind: 'pass', sourceId: plate.id, pass: 'beauty', enabled: true };
  const document = { version: 1, entries: [{ ...entry, operation: 'plus', mix: 1, adjustments: [] }] };
  const saved = await request.put(`/api/shots/${id}/ledger`, {
    data: { base: ledger.revision, document, summary: 'plate' },
  });
  expect(saved.ok()).toBe(true);
  await page.getByRole('link', { name: /^Output/ }).click();
  await page.getByRole('button', { name: 'Add output' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).fill('plate back');
  await choose(page, 'Space', /^LogC3, as its source came/);
  await dialog.getByRole('tab', { name: 'Frames and size' }).click();
  await dialog.getByLabel('Last frame').fill('1001');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  const card = page.getByRole('article', { name: 'plate back' });
  await writeFiles(card);
  await expect(card.getByTestId('run-state')).toHaveText('written');
  await expect(card.getByTestId('read-back')).toContainText('Reads back as shown');
  await expect(card.getByTestId('read-back')).toContainText('colour identity says LogC3');
  const written = join(process.env.JUNE_OUTPUT!, 'kettle/kettle_plate_back_logc3.1001.exr');
  const samples = (file: string) =>
    execFileSync('/usr/bin/python3', [
      '-c',
      'import sys, OpenImageIO as o; sys.stdout.buffer.write(o.ImageBuf(sys.argv[1]).get_pixels(o.FLOAT)[:, :, :3].tobytes())',
      file,
    ]);
  const floats = (bytes: Buffer) => new Float32Array(Uint8Array.from(bytes).buffer);
  const [back, came] = [floats(samples(written)), floats(samples(media('kettle/plate_logc3.1001.dpx')))];
  expect(back.length).toBe(came.length);
  expect(Math.max(...back.map((v, i) => Math.abs(v - came[i]!)))).toBeLessThan(6e-4);
});

test('files are chosen on the page: pictures, DPX and a movie come in; a break is gone on from', async ({
  page,
  request,
}) => {
  test.setTimeout(150_000);
  const folder = join(process.cwd(), 'var/test/drop');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  execFileSync('/usr/bin/python3', [
    '-c',
    `
import sys, numpy as np, OpenImageIO as oiio
y, x = np.mgrid[0:120, 0:213].astype(np.float32)
rgb = np.stack([x / 213, y / 120, (x + y) / 333], 2).astype(np.float32)
def write(name, pixels, form, bits=None):
    spec = oiio.ImageSpec(pixels.shape[1], pixels.shape[0], pixels.shape[2], form)
    if bits: spec.attribute('oiio:BitsPerSample', bits)
    out = oiio.ImageOutput.create(sys.argv[1] + '/' + name)
    assert out.open(sys.argv[1] + '/' + name, spec), out.geterror()
    out.write_image(np.ascontiguousarray(pixels)); out.close()
write('sky.png', rgb, oiio.UINT16)
for f in (1, 2, 3): write(f'log.{f:04d}.dpx', rgb, oiio.UINT16, 10)
noise = np.random.default_rng(1).random((1500, 2000, 3), np.float32)
write('large.tif', noise * 4, oiio.FLOAT)
`,
    folder,
  ]);
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=213x120:rate=25:duration=1', '-vf', 'scale=214:120'],
    ...['-pix_fmt', 'yuv420p', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709'],
    join(folder, 'boat.mp4'),
  ]);
  await page.goto('/');
  await page.getByRole('button', { name: 'New shot' }).click();
  await page.getByLabel('Name of the shot').fill('Dropped');
  await page.getByRole('button', { name: 'Make shot' }).click();
  await page.waitForURL(/\/intake$/);
  const id = /shots\/([^/]+)/.exec(page.url())![1]!;
  const input = page.getByLabel('Files to bring in');
  // The line breaks while the large file is under way; the page is loaded anew and the files are chosen again.
  const line = await page.context().newCDPSession(page);
  const speed = (uploadThroughput: number) =>
    line.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: 0,
      downloadThroughput: -1,
      uploadThroughput,
    });
  await speed(4e6);
  const files = ['sky.png', 'log.0001.dpx', 'log.0002.dpx', 'log.0003.dpx', 'boat.mp4', 'large.tif'];
  await input.setInputFiles(files.map((f) => join(folder, f)));
  await expect(page.getByTestId('upload')).toContainText('Taking in');
  await expect.poll(() => existsSync(join(process.env.JUNE_DATA!, 'uploads', id, 'Dropped/boat.mp4'))).toBe(true);
  expect(existsSync(join(process.env.JUNE_DATA!, 'uploads', id, 'Dropped/large.tif'))).toBe(false);
  const pieces = join(process.env.JUNE_DATA!, 'uploads/.pieces');
  const begun = () => Math.max(0, ...readdirSync(pieces).map((n) => statSync(join(pieces, n)).size));
  await expect.poll(begun, { timeout: 30_000 }).toBeGreaterThan(2e6);
  await page.reload();
  await speed(-1);
  const offsets: number[] = [];
  page.on('request', (r) => {
    if (r.method() === 'PATCH' && r.url().includes('/api/files/')) offsets.push(Number(r.headers()['upload-offset']));
  });
  await input.setInputFiles(files.map((f) => join(folder, f)));
  await expect(page.locator('button.source')).toHaveCount(4, { timeout: 40_000 });
  // Only the large file was sent again, and from where it had stopped.
  expect(offsets).toHaveLength(1);
  expect(offsets[0]).toBeGreaterThan(1e6);
  const sent = readFileSync(join(process.env.JUNE_DATA!, 'uploads', id, 'Dropped/large.tif'));
  expect(Buffer.compare(sent, readFileSync(join(folder, 'large.tif')))).toBe(0);

  await expect
    .poll(
      async () =>
        (await readShot(request, id)).sources.filter((s) => s.check.stage !== 'done').map((s) => [s.name, s.check]),
      { timeout: 90_000 },
    )
    .toEqual([]);
  const { sources } = await readShot(request, id);
  expect(sources.map((s) => [s.name, s.declaredSpace, s.sampleType, s.firstFrame, s.lastFrame])).toEqual([
    ['boat.mp4', 'Rec.709', 'uint8', 1, 25],
    ['large.tif', 'Linear Rec.709', 'float', 1, 1],
    ['log.####.dpx', null, 'uint10', 1, 3],
    ['sky.png', 'sRGB', 'uint16', 1, 1],
  ]);
  // A picture becomes a reference: shown untouched, and never a part of the shot's size or sum.
  await page.locator('button.source', { hasText: 'sky.png' }).click();
  await page.getByRole('button', { name: /^Reference/ }).click();
  await expect(page.locator('button.source', { hasText: 'sky.png' })).toContainText('reference, shown untouched');
});

test('many sources are read otherwise at once; a plate that begins elsewhere is lined up', async ({
  page,
  request,
}) => {
  mkdirSync(media('lined'), { recursive: true });
  for (const [name, first] of [
    ['near', 1],
    ['far', 50],
  ] as const)
    for (let i = 0; i < 3; i++)
      writeFileSync(
        media('lined', `${name}.${String(first + i).padStart(4, '0')}.exr`),
        readFileSync(media(`landing/landing.${1001 + i}.exr`)),
      );
  const id = await newShot(page, 'Lined', 'lined', 'near.####.exr');
  // The window opens where it was left.
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Bring in 1 source', exact: true }).click();
  await expect(page.locator('button.source')).toHaveCount(2);
  for (const name of ['near', 'far']) await page.getByLabel(`Mark ${name}.####.exr`).check();
  const form = page.locator('.bar.marked');
  await form.getByLabel('First frame').fill('1001');
  await form.getByLabel('First frame').press('Enter');
  await form.getByLabel('Rate, fps').fill('25');
  await form.getByLabel('Rate, fps').press('Enter');
  await expect
    .poll(async () => (await readShot(request, id)).sources.map((s) => [s.firstFrame, s.lastFrame, s.rate]))
    .toEqual([
      [1001, 1003, 25],
      [1001, 1003, 25],
    ]);
  await choose(page, 'Declared as', 'Linear Rec.709');
  await expect
    .poll(async () => (await readShot(request, id)).sources.map((s) => [s.declaredSpace, s.confirmed]))
    .toEqual([
      ['Linear Rec.709', true],
      ['Linear Rec.709', true],
    ]);
  const { sources } = await readShot(request, id);
  const planes = async (source: string) =>
    (await readPlanes(request, { source, frame: 1002, part: 0, level: 2, channels: ['R'] }))[0]!.length;
  // The same frame of both is found under the same number.
  expect(await planes(sources[0]!.id)).toBe(await planes(sources[1]!.id));

  // One keeps its pace in a shot of another rate, and goes on beyond its frames.
  await page.getByRole('button', { name: 'Keep its pace: speed 1.042' }).click();
  // What the server answers replaces what is typed: it is waited for.
  await expect(form.getByLabel('Speed, by whole frames')).toHaveValue(/^1\.04/);
  await form.getByLabel('Speed, by whole frames').fill('-0.5');
  await form.getByLabel('Speed, by whole frames').press('Enter');
  await choose(page, 'Outside its frames', 'there and back');
  await expect
    .poll(async () =>
      (await readShot(request, id)).sources.map((s) => [s.reading.speed, s.reading.beyond, s.lastFrame]),
    )
    .toEqual([
      [-0.5, 'thereAndBack', 1006],
      [-0.5, 'thereAndBack', 1006],
    ]);
  // Backwards, each frame twice, then forwards again without the end twice: 3 3 2 2 1 1 2 2.
  const first = async (frame: number) =>
    digest((await readPlanes(request, { source: sources[0]!.id, frame, part: 0, channels: ['R'] }))[0]!);
  const shown = await Promise.all([1001, 1002, 1003, 1004, 1005, 1006, 1007, 1008, 1009].map(first));
  const [three, , two, , one] = shown;
  expect(new Set([one, two, three]).size).toBe(3);
  expect(shown).toEqual([three, three, two, two, one, one, two, two, three]);
});

const digest = (plane: ArrayBufferView) =>
  createHash('sha256')
    .update(new Uint8Array(plane.buffer, plane.byteOffset, plane.byteLength))
    .digest('hex');
