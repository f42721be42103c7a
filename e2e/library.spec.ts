import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { acceptAll, choose, landingAsMade, newShot, readShot } from './steps.ts';

const media = () => process.env.JUNE_MEDIA!;

async function canvasOf(page: Page) {
  await expect(page.getByTestId('drawn-in')).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: '1:1' }).click();
  const read = () =>
    page.getByTestId('picture').evaluate((element: HTMLCanvasElement) => {
      const { width, height } = element;
      return [...element.getContext('2d')!.getImageData(0, 0, width, height).data];
    });
  // It has come to rest when it is the same twice.
  let codes = await read();
  await expect
    .poll(
      async () => {
        const before = codes.join();
        codes = await read();
        return codes.join() === before;
      },
      { intervals: [600] },
    )
    .toBe(true);
  return codes;
}

const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i]! - b[i]!));
  return worst;
};

test('the demo shot through the renderer’s own config is the renderer’s own picture, to one code value', async ({
  page,
}) => {
  const id = await landingAsMade(page.request);
  await page.goto(`/shots/${id}/build`);
  const ours = await canvasOf(page);
  const approved = await sharp(join(media(), 'landing/landing_approved.png'), { ignoreIcc: true })
    .ensureAlpha()
    .raw()
    .toBuffer();
  expect(approved.length).toBe(ours.length);
  expect(apart(approved, ours)).toBeLessThanOrEqual(1);
});

test('a look is shown, is left out of files, and goes in where the output asks for it', async ({ page }) => {
  const id = await landingAsMade(page.request);
  await page.goto(`/shots/${id}/build`);
  const before = await canvasOf(page);
  await page.getByLabel('Working space and viewing').click();
  const look = page.getByLabel('Look', { exact: true });
  await look.fill('-dusk, copper');
  await look.press('Enter');
  await expect(page.getByLabel('Working space and viewing')).toContainText('-dusk, copper');
  await page.keyboard.press('Escape');
  await expect.poll(async () => apart(before, await canvasOf(page))).toBeGreaterThan(3);
  const looked = await canvasOf(page);

  const frame = { firstFrame: 1001, lastFrame: 1001, sampleType: 'half', compression: 'zip', kind: 'png' };
  const output = async (name: string, bakeLook: boolean) => {
    await page.request.post(`/api/shots/${id}/outputs`, { data: { ...frame, name, bakeLook } });
    const { outputs } = await readShot(page.request, id);
    const made = outputs.find((o) => o.name === name)!;
    const check = (await (await page.request.get(`/api/outputs/${made.id}/precheck`)).json()) as {
      items: { text: string }[];
    };
    await acceptAll(page.request, made.id);
    const started = await page.request.post(`/api/outputs/${made.id}/runs`, { data: { overwrite: true } });
    expect(started.status()).toBe(201);
    await expect
      .poll(async () => (await readShot(page.request, id)).runs.find((r) => r.outputId === made.id)?.state, {
        timeout: 20_000,
      })
      .toBe('done');
    const run = (await readShot(page.request, id)).runs.find((r) => r.outputId === made.id)!;
    expect(run.frames[0]!.readBack!.proved).toBe(true);
    const file = join(process.env.JUNE_OUTPUT!, made.pattern.replace('####', '1001'));
    const pixels = await sharp(file, { ignoreIcc: true }).ensureAlpha().raw().toBuffer();
    await page.request.delete(`/api/outputs/${made.id}`);
    return { texts: check.items.map((i) => i.text).join('\n'), pixels };
  };
  const plain = await output('plain', false);
  expect(plain.texts).toContain('The look -dusk, copper is shown only, not written');
  expect(apart(plain.pixels, before)).toBe(0);
  const baked = await output('with look', true);
  expect(baked.texts).toContain('The look -dusk, copper is baked into these files.');
  expect(apart(baked.pixels, looked)).toBe(0);

  // Put back for the other tests; the declared space of the source never moved.
  const shot = await readShot(page.request, id);
  expect(shot.sources[0]!.declaredSpace).toBe('ACEScg');
  await page.request.patch(`/api/shots/${id}`, { data: { viewing: { ...shot.viewing, look: null } } });
});

test('configs and LUTs are brought in, looked at, compared, and used; what is broken is said', async ({ page }) => {
  await landingAsMade(page.request);
  const folder = mkdtempSync(join(tmpdir(), 'june-drop-'));
  const tables = {
    'bend.cube': 'LUT_1D_SIZE 3\n0 0 0\n0.3 0.3 0.3\n1 1 1\n',
    'torn.cube': 'LUT_3D_SIZE 2\n0 0 0\n',
    'lost.ocio':
      'ocio_profile_version: 2\nroles: {default: a}\ncolorspaces:\n  - !<ColorSpace> {name: a}\n  - !<ColorSpace> {name: film, to_scene_reference: !<FileTransform> {src: film.spi3d}}\n',
  };
  for (const [name, text] of Object.entries(tables)) writeFileSync(join(folder, name), text);
  await page.goto('/library');
  const bringIn = (name: string) => page.getByLabel('Files to bring in').setInputFiles(join(folder, name));

  await bringIn('torn.cube');
  await expect(page.getByText(/torn\.cube: 8 rows of values are needed, 1 are there/)).toBeVisible();
  await bringIn('lost.ocio');
  await expect(page.getByRole('heading', { name: 'lost' })).toBeVisible();
  await expect(page.getByText(/lost\.ocio, line 5: the file "film\.spi3d" is missing/)).toBeVisible();
  await bringIn('bend.cube');
  await expect(page.getByRole('heading', { name: 'bend.cube' })).toBeVisible();
  await expect(page.getByRole('img', { name: 'Grey ramp: bend.cube' }).locator('svg')).toBeVisible();

  // Compared with itself there is no difference; the config's tone curve differs from its untoned encoding by much.
  await choose(page, 'Compare with', 'bend.cube itself');
  await expect(page.getByTestId('largest-difference')).toHaveText('0.0000');
  await page.getByRole('link', { name: /^Tern/ }).click();
  await expect(page.getByRole('img', { name: /CIE 1931/ }).locator('svg')).toBeVisible();
  await choose(page, 'Compare with', 'Tern itself');
  await choose(page, 'Other: view', 'sRGB · Untoned');
  await expect
    .poll(async () => Number(await page.getByTestId('largest-difference').textContent()))
    .toBeGreaterThan(0.1);

  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(
    violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => [v.id, v.nodes[0]?.html]),
  ).toEqual([]);

  // Declared a conversion, the LUT is a space that sources can be declared in.
  await page.getByRole('link', { name: /^bend\.cube/ }).click();
  await page.getByText('a conversion', { exact: true }).click();
  await expect(page.getByText('offered as a declared space under its own name')).toBeVisible();
  const id = await newShot(page, 'By table', 'landing', 'landing.####.exr');
  const source = (await readShot(page.request, id)).sources[0]!;
  const answer = await page.request.patch(`/api/sources/${source.id}`, {
    data: { declaredSpace: 'bend.cube', confirmed: true },
  });
  expect(answer.status()).toBe(200);
  const thumb = await page.request.get(`/api/sources/${source.id}/thumbnail?pass=beauty&frame=1001&width=96`);
  expect(thumb.status()).toBe(200);
  await page.goto('/library');
  await page.getByRole('link', { name: /^bend\.cube/ }).click();
  await expect(page.getByText('as declared space of landing.####.exr')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Remove' })).toBeDisabled();
});

test('working spaces must be linear, names must exist, and a new config settles its own view', async ({ page }) => {
  const demo = await readShot(page.request, await landingAsMade(page.request));
  const id = await newShot(page, 'Colours', 'landing', 'landing.####.exr');
  const patch = async (data: object) => {
    const answer = await page.request.patch(`/api/shots/${id}`, { data });
    return { status: answer.status(), error: ((await answer.json()) as { error?: string }).error };
  };
  expect(await patch({ workingSpace: 'ACEScct' })).toMatchObject({
    status: 400,
    error: expect.stringContaining('ACEScct is not linear') as unknown as string,
  });
  expect(await patch({ workingSpace: 'nowhere' })).toMatchObject({
    status: 400,
    error: expect.stringContaining('"nowhere"') as unknown as string,
  });
  expect(await patch({ config: 'f'.repeat(32) })).toMatchObject({ status: 404 });
  expect(await patch({ config: demo.colour.config })).toMatchObject({ status: 200 });
  const shot = await readShot(page.request, id);
  expect(shot.viewing).toMatchObject({ display: 'sRGB', view: 'Haze' });
  expect(await patch({ workingSpace: 'Tern Log' })).toMatchObject({ status: 400 });
  expect(await patch({ viewing: { ...shot.viewing, look: 'dawn' } })).toMatchObject({
    status: 400,
    error: expect.stringContaining('no look named "dawn"; the config has dusk, clear, copper') as unknown as string,
  });
  expect(await patch({ viewing: { ...shot.viewing, view: 'ACES SDR' } })).toMatchObject({ status: 400 });
  expect((await readShot(page.request, id)).viewing).toEqual(shot.viewing);
});

test('june colour answers as the library does on the demo’s own config', () => {
  const config = join(media(), 'landing/tern/config.ocio');
  const june = (input: string, ...args: string[]) =>
    execFileSync('./june', ['colour', '--config', config, ...args], { input, encoding: 'utf8' });
  const values = [
    [0.18, 0.18, 0.18],
    [4, 1, 0.2],
    [-0.1, 0.5, 0.01],
  ];
  const script = `import sys, json, PyOpenColorIO as o
c = o.Config.CreateFromFile(sys.argv[1]); p = c.getProcessor(o.DisplayViewTransform(src='ACEScg', display='sRGB', view='Haze at dusk'), o.TRANSFORM_DIR_FORWARD).getDefaultCPUProcessor()
print(json.dumps([p.applyRGB(v) for v in json.load(sys.stdin)]))`;
  const want = JSON.parse(
    execFileSync('/usr/bin/python3', ['-c', script, config], { input: JSON.stringify(values), encoding: 'utf8' }),
  ) as number[][];
  const got = JSON.parse(
    june(JSON.stringify(values), '--from', 'ACEScg', '--display', 'sRGB', '--view', 'Haze at dusk'),
  ) as number[][];
  got.forEach((v, i) => v.forEach((x, c) => expect(Math.abs(x - want[i]![c]!)).toBeLessThan(2e-4)));
  const listed = JSON.parse(june('', '--list')) as { looks: string[]; displays: object[] };
  expect(listed.looks).toEqual(['dusk', 'clear', 'copper']);
  expect(JSON.parse(june('', '--rule', 'plates/sky.png'))).toEqual({ colorSpace: 'sRGB Texture', rule: 'pictures' });
  for (const minus of [['--look', '-dusk'], ['--look=-dusk']])
    expect(june('[[0.2,0.2,0.2]]', '--from', 'ACEScg', '--display', 'sRGB', '--view', 'Haze', ...minus)).toMatch(
      /^\[\[0\./,
    );
  expect(readFileSync(config, 'utf8')).toContain('Tern');
});

test('a config that lies in the media folders is brought in; a set-up is kept, and a new shot starts from it', async ({
  page,
  request,
}) => {
  const folder = join(media(), 'show/pier');
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'config.ocio'), pierConfig);
  await page.goto('/library');
  await page.getByRole('button', { name: 'Bring in media/show/pier/config.ocio' }).click();
  await expect(page.getByRole('link', { name: /^pier/ })).toBeVisible();
  await expect(page.getByText('Found in the media folders')).toHaveCount(0);

  const items = (await (await request.get('/api/library')).json()) as { id: string; name: string }[];
  const config = items.find((i) => i.name === 'pier')!.id;
  const made = (await (await request.post('/api/shots', { data: { name: 'Kept' } })).json()) as { id: string };
  await request.patch(`/api/shots/${made.id}`, { data: { config, rate: 25 } });
  await page.goto(`/shots/${made.id}/intake`);
  await page.getByLabel('Working space and viewing').click();
  await page.getByLabel('Name of the set-up').fill('Harbour');
  await page.keyboard.press('Enter');
  await expect(page.getByText('New shots can start from Harbour now.')).toBeVisible();

  await page.goto('/');
  await page.getByRole('button', { name: 'New shot' }).click();
  await page.getByLabel('Name of the shot').fill('Begun');
  await choose(page, 'starts from', 'Harbour');
  await expect(page.getByText('pier, working in ACEScg, seen as wall · plain, 25 a second.')).toBeVisible();
  await page.getByRole('button', { name: 'Make shot' }).click();
  await page.waitForURL(/\/intake$/);
  const id = /shots\/([^/]+)/.exec(page.url())![1]!;
  expect(await readShot(request, id)).toMatchObject({ rate: 25, workingSpace: 'ACEScg', colour: { config } });
});

const pierConfig = `ocio_profile_version: 2
roles: {aces_interchange: ap0, default: ap0}
displays: {wall: [!<View> {name: plain, colorspace: ap0}]}
colorspaces:
  - !<ColorSpace> {name: ap0, encoding: scene-linear}
`;
