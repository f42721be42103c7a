import { spawn } from 'node:child_process';
import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { addEntry, demoReady, newShot, readShot, writeFiles } from './steps.ts';

async function balancedShot(page: Page, name: string): Promise<string> {
  const id = await newShot(page, name, 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'Build anew from light components');
  await expect(page.getByTestId('ledger-row')).toHaveCount(6);
  await page.getByRole('link', { name: /^Output/ }).click();
  return id;
}
async function addOutput(page: Page, name: string, kind: string, last?: string) {
  await page.getByRole('button', { name: 'Add output' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).fill(name);
  await dialog.getByText(kind).click();
  if (last) {
    await dialog.getByRole('tab', { name: 'Frames and size' }).click();
    await dialog.getByLabel('Last frame').fill(last);
  }
  await dialog.getByRole('button', { name: 'Keep' }).click();
  return page.getByRole('article', { name });
}

test('a JPEG with a profile reads back within its limit on every frame; a TIFF for print holds 16 bits and says so', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await balancedShot(page, 'Jpeg');
  const card = await addOutput(page, 'web', 'JPEG, as seen');
  await writeFiles(card);
  await expect(card.getByTestId('run-state')).toHaveText('written');
  await expect(card.getByTestId('read-back')).toContainText('Reads back as shown');
  const [run] = (await readShot(request, id)).runs;
  expect(run!.frames.map((f) => f.readBack?.proved)).toEqual([true, true, true, true]);
  const meta = await sharp(join(process.env.JUNE_OUTPUT!, 'jpeg/jpeg_web_srgb.1001.jpg')).metadata();
  expect(meta).toMatchObject({ format: 'jpeg', width: 320, height: 180, hasProfile: true });

  const print = await addOutput(page, 'print', 'TIFF, as seen', '1001');
  await expect(print).toContainText('16 bits');
  // Tried before it is written: nothing lies in the output folder after it.
  await print.getByRole('button', { name: 'Try it' }).click();
  const tried = print.getByRole('region', { name: 'Tried frame' });
  await expect(tried.getByRole('status')).toContainText('Would read back as shown');
  await expect(tried.getByRole('img', { name: 'Read by its tags' })).toBeVisible();
  expect(existsSync(join(process.env.JUNE_OUTPUT!, 'jpeg/jpeg_print_srgb.1001.tif'))).toBe(false);
  await writeFiles(print);
  await expect(print.getByTestId('run-state')).toHaveText('written');
  await expect(print.getByTestId('read-back')).toContainText('Reads back as shown');
  const tiff = await sharp(join(process.env.JUNE_OUTPUT!, 'jpeg/jpeg_print_srgb.1001.tif')).metadata();
  expect(tiff).toMatchObject({ format: 'tiff', width: 320, height: 180, depth: 'ushort', hasProfile: true });
});

test('a run is stopped: what was begun is whole, what was not is left out, nothing half-written remains', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await balancedShot(page, 'Stopped');
  // Frames after 1004 would fail at once; the range is long so that the stop comes in time.
  const card = await addOutput(page, 'long', 'EXR, linear', '1400');
  await writeFiles(card);
  await card.getByRole('button', { name: 'Stop' }).click();
  await expect(card.getByTestId('run-state')).toHaveText('stopped');
  await expect
    .poll(async () =>
      (await readShot(request, id)).runs[0]!.frames.some((f) => f.state === 'waiting' || f.state === 'writing'),
    )
    .toBe(false);
  const [run] = (await readShot(request, id)).runs;
  expect(run!.frames.filter((f) => f.state === 'cancelled').length).toBeGreaterThan(100);
  const folder = join(process.env.JUNE_OUTPUT!, 'stopped');
  const files = existsSync(folder) ? readdirSync(folder) : [];
  const done = run!.frames.filter((f) => f.state === 'done').map((f) => `stopped_long_acescg.${f.frame}.exr`);
  expect(files.sort()).toEqual(done.sort());
});

test('what another process writes, and a written file that somebody replaces, reach the open page by themselves', async ({
  page,
  request,
}) => {
  await demoReady(request);
  await balancedShot(page, 'Elsewhere');
  const card = await addOutput(page, 'linear', 'EXR, linear');
  const june = (...more: string[]) =>
    spawn(join(process.cwd(), 'june'), ['render', 'Elsewhere', '--output', 'linear', ...more], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
  // What the page wants accepted is asked for here too.
  const refused = june();
  let said = '';
  refused.stderr.on('data', (text: Buffer) => (said += text.toString()));
  expect(await new Promise((done) => refused.once('close', done))).toBe(1);
  expect(said).toContain('is not confirmed by a person. Put it right, or accept it with a reason.');
  const ended = new Promise((done) => june('--accept', 'nobody looks at it').once('exit', done));
  await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 60_000 });
  expect(await ended).toBe(0);
  await expect(card).not.toContainText('changed since');
  writeFileSync(join(process.env.JUNE_OUTPUT!, 'elsewhere/elsewhere_linear_acescg.1002.exr'), 'another file');
  await expect(card).toContainText('its files on disk');
  await expect(card.getByTestId('read-back')).toContainText('When written, it read back as shown');
  await expect(page.getByRole('link', { name: /^Output/ })).toContainText('changed since written');
});
