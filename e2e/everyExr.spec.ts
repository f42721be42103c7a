import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { halfToNumber } from '@june-haze/core';
import { buildCorpusTool } from '../packages/core/test/exr/corpusTool.ts';
import { addEntry, demoReady, newShot, readPlanes, readShot, writeFiles } from './steps.ts';

const june = (...args: string[]) => execFileSync(join(process.cwd(), 'june'), args, { encoding: 'utf8' });
const media = (...parts: string[]) => join(process.env.JUNE_MEDIA!, ...parts);

/** R, G, B of a file as float32, pixel-interleaved. */
function rgb(file: string): Float32Array {
  const raw = join(process.env.JUNE_DATA!, 'rgb.raw');
  june('pixels', file, '--channels', 'R,G,B', '--out', raw);
  return new Float32Array(new Uint8Array(readFileSync(raw)).buffer);
}

test('tiles, DWAA and mip-maps come in, show their make, and balance; the ACES container goes out', async ({
  page,
  request,
}) => {
  await demoReady(request);
  mkdirSync(media('packed'), { recursive: true });
  const source = media('landing/landing.1001.exr');
  june('rewrite', source, media('packed/tiled.1001.exr'), '--codec', 'piz', '--layout', 'tiled', '--tile', '64');
  june('rewrite', source, media('packed/parts.1001.exr'), '--codec', 'dwaa', '--layers', 'parts');
  // The reference library's own tool makes the levels.
  execFileSync('exrmaketiled', ['-m', '-t', '32', '32', source, media('packed/levels.1001.exr')]);

  const id = await newShot(page, 'Packed', 'packed', 'tiled.1001.exr');
  await expect(page.getByText('tiles of 64 × 64, one level, PIZ')).toBeVisible();
  await page.getByRole('button', { name: /Role of light_sun/ }).click();
  await page.getByRole('menuitem', { name: 'emission', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Role of light_sun: emission' })).toBeVisible();
  await page.getByRole('button', { name: 'Role of light_sun: emission' }).click();
  await page.getByRole('menuitem', { name: 'light group', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Role of light_sun: light group' })).toBeVisible();

  const patterns = ['parts.1001.exr', 'levels.1001.exr'];
  await request.post(`/api/shots/${id}/sources`, { data: { folder: 'media/packed', patterns } });
  const { sources } = await readShot(request, id);
  expect(sources.map((s) => [s.name, s.compression, s.passes.length > 10])).toEqual([
    ['tiled.1001.exr', 'piz', true],
    ['parts.1001.exr', 'dwaa', true],
    ['levels.1001.exr', 'zip', true],
  ]);
  expect(sources[2]!.layout.join()).toContain('mip-map');
  // Thumbnails are made from each; the smaller levels serve for the third.
  for (const s of sources) {
    const answer = await request.get(`/api/sources/${s.id}/thumbnail?frame=1001&pass=beauty&width=80`);
    expect([s.name, answer.status(), answer.headers()['content-type']]).toEqual([s.name, 200, 'image/png']);
  }

  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'Build anew from light components');
  await expect(page.getByTestId('balance')).toContainText('balanced');
  // A render that was packed with loss is judged by what its packing can lose, and the row says so.
  const { ledger } = await readShot(request, id);
  const packed = sources.find((s) => s.compression === 'dwaa')!;
  await request.post(`/api/shots/${id}/ledger/rebuild?by=components&source=${packed.id}`, {
    data: { base: ledger.revision },
  });
  await expect(page.getByTestId('balance')).toContainText('balanced within what DWAA loses');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('balance')).toContainText('balanced');
  await page.getByRole('link', { name: /^Output/ }).click();
  await page.getByRole('button', { name: 'Add output' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).fill('archive');
  await dialog.getByText('ACES container', { exact: true }).click();
  await expect(dialog.getByText(/SMPTE ST 2065-4/)).toBeVisible();
  await dialog.getByRole('button', { name: 'Keep' }).click();
  const card = page.getByRole('article', { name: 'archive' });
  await writeFiles(card);
  await expect(card.getByTestId('run-state')).toHaveText('written');
  await expect(card.getByTestId('read-back')).toContainText('Reads back as shown');

  await expect(card).toContainText('ACES container');
  const written = join(process.env.JUNE_OUTPUT!, 'packed/packed_archive_aces2065-1.1001.exr');
  const header = execFileSync('exrheader', [written], { encoding: 'utf8' });
  expect(header).toMatch(/acesImageContainerFlag \(type int\): 1/);
  expect(header).toMatch(/compression[^\n]*: none/);
  // ACEScg to ACES2065-1, row of R (Academy TB-2014-004 and S-2014-004, worked from the primaries).
  const [before, after] = [rgb(source), rgb(written)];
  const at = (120 * 320 + 160) * 3;
  const red = 0.6954522414 * before[at]! + 0.1406786965 * before[at + 1]! + 0.1638690622 * before[at + 2]!;
  expect(Math.abs(after[at]! - red) / red).toBeLessThan(2e-3);
});

test('a render with one file per pass is one source, and balances', async ({ page, request }) => {
  await demoReady(request);
  mkdirSync(media('set'), { recursive: true });
  for (const frame of [1001, 1002, 1003]) {
    june('rewrite', media(`landing/landing.${frame}.exr`), media('set/x.exr'), '--layers', 'files', '--codec', 'pxr24');
    for (const name of readdirSync(media('set')).filter((n) => n.startsWith('x.')))
      renameSync(media('set', name), media('set', `pier_${name.slice(2, -4)}.${frame}.exr`));
  }
  rmSync(media('set/pier_emission.1002.exr'));
  const id = await newShot(page, 'Set', 'set', 'pier_{pass}.####.exr');
  const { sources } = await readShot(request, id);
  expect(sources).toHaveLength(1);
  expect(sources[0]).toMatchObject({ firstFrame: 1001, lastFrame: 1003, missing: [1002], compression: 'pxr24' });
  expect(sources[0]!.passes).toHaveLength(16);
  expect(sources[0]!.passes.find((p) => p.name === 'diffuse_direct')).toMatchObject({ role: 'diffuse-direct' });
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'Build anew from light components');
  await expect(page.getByTestId('ledger-row')).toHaveCount(6);
  await expect(page.getByTestId('balance')).toContainText('balanced');
  await page.keyboard.press('Period');
  await expect(page.getByRole('alert')).toContainText('pier_emission.####.exr: frame 1002 is missing.');
});

test('luma with sub-sampled colour differences, from the reference library, is shown as RGB', async ({
  page,
  request,
}) => {
  const tool = buildCorpusTool();
  try {
    tool.make();
    mkdirSync(media('luma'), { recursive: true });
    copyFileSync(join(tool.folder, 'zip_lumachroma.exr'), media('luma/mist.0001.exr'));
    const wanted = new Uint16Array(new Uint8Array(readFileSync(join(tool.folder, 'zip_lumachroma.exr.rgba'))).buffer);
    // Its own samples, as they are stored: half as many each way for the colour differences.
    const [raw, width, height] = [join(tool.folder, 'own.raw'), wanted.length / 4, 0];
    const own = (...names: string[]) => {
      const args = ['pixels', media('luma/mist.0001.exr'), '--channels', names.join(), '--out', raw];
      const said = JSON.parse(execFileSync(join(process.cwd(), 'june'), args, { encoding: 'utf8' })) as {
        width: number;
        height: number;
      };
      return { ...said, values: new Float32Array(new Uint8Array(readFileSync(raw)).buffer) };
    };
    const [luma, colour, rebuilt] = [own('Y'), own('BY', 'RY'), own('R', 'G', 'B')];
    expect(luma.width * luma.height + height).toBe(width);
    expect([colour.width, colour.height]).toEqual([Math.ceil(luma.width / 2), Math.ceil(luma.height / 2)]);
    expect([rebuilt.width, rebuilt.height]).toEqual([luma.width, luma.height]);
    // Rec.709 luma of the rebuilt colour is the luma that is stored, but for half's rounding (OpenEXR, ImfRgbaYca).
    const at = Math.floor(luma.values.length / 2);
    const [r, g, b] = rebuilt.values.subarray(at * 3, at * 3 + 3);
    expect(0.2126 * r! + 0.7152 * g! + 0.0722 * b!).toBeCloseTo(luma.values[at]!, 1);
    const id = await newShot(page, 'Luma', 'luma', 'mist.0001.exr');
    const { sources } = await readShot(request, id);
    expect(sources[0]!.passes.map((p) => [p.role, p.channels.map((c) => c.component).join('')])).toEqual([
      ['beauty', 'RGBA'],
    ]);
    const want = { source: sources[0]!.id, frame: 1, part: 0, channels: ['R', 'G'] };
    const halves = (await readPlanes(request, want)).flatMap((p) => [...p]);
    expect(halves.length).toBe(2 * 62 * 48);
    let worst = 0;
    for (let i = 0; i < 62 * 48; i++)
      for (const c of [0, 1])
        worst = Math.max(worst, Math.abs(halfToNumber(halves[c * 62 * 48 + i]!) - halfToNumber(wanted[i * 4 + c]!)));
    expect(worst).toBeLessThan(2e-3);
  } finally {
    tool.close();
  }
});
