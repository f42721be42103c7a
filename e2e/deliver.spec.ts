import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Locator, type Page } from '@playwright/test';
import { blockDifferences, cutFromSheet, recodePicture, sheetLayout } from '@june-haze/core';
import { demoReady, newShot, readShot, writeFiles } from './steps.ts';

// What somebody does who has never been here: a review movie, a picture for the web and a linear EXR of a render, each proved and read by another
// program, and handed over. The movie is held against what the page itself shows.

const inOutput = (pattern: string) => join(process.env.JUNE_OUTPUT!, pattern);

/** Shots that a test made: their files need not be looked at any further when it is over. */
const made: string[] = [];
test.afterEach(async ({ request }) => {
  for (const id of made.splice(0)) await request.delete(`/api/shots/${id}`);
});

async function builtShot(page: Page, request: APIRequestContext, name: string): Promise<string> {
  await demoReady(request);
  const id = await newShot(page, name, 'landing', 'landing.####.exr');
  made.push(id);
  const { sources, ledger } = await readShot(request, id);
  const done = await request.post(`/api/shots/${id}/ledger/rebuild?by=lights&source=${sources[0]!.id}`, {
    data: { base: ledger.revision },
  });
  expect(done.ok(), await done.text()).toBe(true);
  return id;
}

/** What the page's own canvas holds. */
const shownOn = (page: Page) =>
  page.getByTestId('picture').evaluate((canvas: HTMLCanvasElement) => {
    const { width, height } = canvas;
    return { width, height, codes: [...canvas.getContext('2d')!.getImageData(0, 0, width, height).data] };
  });

/** Adds an output by what it is for, and returns its card. */
async function addOutput(page: Page, name: string, kind: RegExp): Promise<Locator> {
  await page.getByRole('button', { name: 'Add output' }).first().click();
  const dialog = page.getByRole('dialog', { name: 'Add output' });
  await dialog.getByLabel('Name', { exact: true }).fill(name);
  await dialog.getByRole('radio', { name: kind }).click();
  await dialog.getByRole('tab', { name: 'Frames and size' }).click();
  await dialog.getByLabel('Last frame').fill('1003');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  return page.getByRole('article', { name, exact: true });
}

async function written(card: Locator): Promise<void> {
  await writeFiles(card);
  await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 60_000 });
  await expect(card.getByTestId('read-back')).toContainText('Reads back as shown');
}

const probe = (path: string) =>
  execFileSync(
    'ffprobe',
    [
      ...['-v', 'error', '-count_packets', '-select_streams', 'v', '-of', 'csv=p=0', '-show_entries'],
      ...[
        'stream=codec_name,color_range,color_space,color_transfer,color_primaries,r_frame_rate,nb_read_packets',
        path,
      ],
    ],
    { encoding: 'utf8' },
  ).trim();

/** The first frame of a movie of 4:2:0 as RGBA codes, by ITU-R BT.709-6, items 3.2 to 3.5 and 5.6, of its samples as they are stored. */
function firstFrame(path: string, width: number, height: number): Uint8Array {
  const words = ['-v', 'error', '-i', path, '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-'];
  const samples = execFileSync('ffmpeg', words, { maxBuffer: 1 << 28 });
  const all = width * height;
  expect(samples.length).toBe(all * 1.5);
  const codes = new Uint8ClampedArray(all * 4).fill(255);
  for (let i = 0; i < all; i++) {
    const colour = all + Math.floor(Math.floor(i / width) / 2) * (width / 2) + Math.floor((i % width) / 2);
    const light = (samples[i]! - 16) / 219;
    const [cb, cr] = [(samples[colour]! - 128) / 224, (samples[colour + all / 4]! - 128) / 224];
    const [red, blue] = [light + 1.5748 * cr, light + 1.8556 * cb];
    const green = (light - 0.2126 * red - 0.0722 * blue) / 0.7152;
    [red, green, blue].forEach((v, c) => (codes[i * 4 + c] = 255 * v));
  }
  return new Uint8Array(codes.buffer);
}

test('a review movie: tried, written, read back, the same light as the page shows, looked at and handed over', async ({
  page,
  request,
}) => {
  const id = await builtShot(page, request, 'To be seen');
  await page.goto(`/shots/${id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  const shown = await shownOn(page);
  await page.getByRole('link', { name: /^Output/ }).click();
  const card = await addOutput(page, 'review', /^Movie, as seen/);
  await card.getByRole('button', { name: 'Try it' }).click();
  await expect(card.getByRole('status')).toContainText('Would read back as shown', { timeout: 30_000 });
  await card.getByRole('button', { name: 'Try a second' }).click();
  await expect(card.getByRole('status')).toContainText('3 frames, each', { timeout: 30_000 });
  const seen = () => card.getByLabel('Tried movie').evaluate((v: HTMLVideoElement) => [v.videoWidth, v.error?.code]);
  await expect.poll(seen).toEqual([shown.width, undefined]);
  await written(card);
  const { outputs } = await readShot(request, id);
  const path = inOutput(outputs[0]!.pattern);
  expect(path).toMatch(/_review_bt_1886\.mp4$/);
  expect(probe(path)).toBe('h264,tv,bt709,bt709,bt709,24/1,3');
  // The page's own canvas, in the movie's codes, against the movie's first frame.
  const { width, height } = shown;
  const wanted = recodePicture(Uint8Array.from(shown.codes), 'srgb', 'bt1886');
  expect(blockDifferences(wanted, firstFrame(path, width, height), width).most).toBeLessThan(3);
  await card.getByRole('button', { name: 'Look at the files' }).click();
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.keyboard.press('Backspace');
  await card.getByRole('button', { name: 'Hand over' }).click();
  const link = page.getByRole('dialog').getByRole('link', { name: /_review_bt_1886\.html$/ });
  const handed = await (await request.get((await link.getAttribute('href'))!)).text();
  expect(handed).toContain('codes of Rec.709, gamma 2.4, 8 bits, H.264');
  expect(handed).toContain('landing.####.exr');
  expect(handed.match(/data:image\/png;base64/g)).toHaveLength(3);
  await page.getByRole('dialog').getByRole('button', { name: 'OK', exact: true }).click();
  // It comes back in as a source that says by itself what it is.
  await card.getByRole('button', { name: 'Bring in' }).click();
  await page.waitForURL(/intake/);
  await expect(page.locator('button.source', { hasText: '_review_bt_1886.mp4' })).toContainText('Rec.709');
  // Without the application the job beside it gives the same movie, to the byte.
  const job = path.replace(/\.mp4$/, '.job.json');
  const to = test.info().outputPath('again');
  execFileSync(join(process.cwd(), 'june'), ['run', job, '--to', to]);
  execFileSync('cmp', [path, join(to, path.split('/').at(-1)!)]);
});

test('a picture for the web and a linear EXR, side by side; what would be wrong is put right by a click', async ({
  page,
  request,
}) => {
  const id = await builtShot(page, request, 'To be taken');
  await page.goto(`/shots/${id}/output`);
  const web = await addOutput(page, 'web', /^JPEG, as seen/);
  await written(web);
  const light = await addOutput(page, 'light', /^EXR, linear/);
  await written(light);
  // Both again, in order, by one button.
  await page.getByRole('button', { name: 'Write all' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('web, light');
  await expect(dialog).toContainText('6 files are already there and will be replaced.');
  await dialog.getByRole('button', { name: 'Write them' }).click();
  await expect.poll(async () => (await readShot(request, id)).runs.map((r) => r.state)).toEqual(Array(4).fill('done'));
  const patterns = (await readShot(request, id)).outputs.map((o) => o.pattern);
  const info = (path: string) => execFileSync('oiiotool', ['--info', '-v', inOutput(path)], { encoding: 'utf8' });
  expect(info(patterns[0]!.replace('####', '1002'))).toContain('profile_description: "sRGB"');
  expect(info(patterns[1]!.replace('####', '1002'))).toContain('colorInteropID: "lin_ap1_scene"');
  // The job file makes the same files without the application, to the byte.
  const { place } = (await (await request.post(`/api/shots/${id}/job`)).json()) as { place: string };
  const to = test.info().outputPath('again');
  execFileSync(join(process.cwd(), 'june'), ['run', inOutput(place.replace(/^[^/]*\//, '')), '--to', to]);
  for (const pattern of patterns)
    for (const frame of [1001, 1003]) {
      const file = pattern.replace('####', String(frame));
      execFileSync('cmp', [inOutput(file), join(to, file.split('/').at(-1)!)]);
    }
  // A viewing that is lifted by two stops would be baked in: one click takes it back.
  await request.patch(`/api/shots/${id}`, { data: { viewing: { exposure: 2 } } });
  await expect(web.getByText('The viewing exposure of 2.0 stops is baked into these files.')).toBeVisible();
  await web.getByRole('button', { name: 'View plainly' }).click();
  await expect(web.getByText('The viewing exposure')).toHaveCount(0);
  expect((await readShot(request, id)).viewing.exposure).toBe(0);
});

test('a contact sheet: tried, written, each picture on it what the page shows', async ({ page, request }) => {
  const id = await builtShot(page, request, 'To be seen at once');
  await page.goto(`/shots/${id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  const shown = await shownOn(page);
  await page.getByRole('link', { name: /^Output/ }).click();
  const card = await addOutput(page, 'overview', /^Contact sheet, as seen/);
  await expect(card).toContainText('3 pictures, 2 in a row and 2 rows');
  await card.getByRole('button', { name: 'Try all' }).click();
  await expect(card.getByRole('status')).toContainText('3 frames, each', { timeout: 30_000 });
  const seen = () => card.getByAltText('Tried contact sheet').evaluate((img: HTMLImageElement) => img.naturalWidth);
  await expect.poll(seen).toBe(2 * 320 + 3 * 8);
  // In the pixels of the shot its pictures are what the page's canvas holds, code by code.
  const [output] = (await readShot(request, id)).outputs;
  await request.put(`/api/outputs/${output!.id}`, { data: { ...output!, width: null } });
  await expect(card).not.toContainText('filtered in light');
  await written(card);
  const path = inOutput(output!.pattern);
  expect(path).toMatch(/_overview_srgb\.png$/);
  const layout = sheetLayout(3, shown, { columns: null, labels: true });
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'], {
    maxBuffer: 1 << 28,
  });
  expect(raw.length).toBe(layout.width * layout.height * 4);
  const cell = cutFromSheet(new Uint8Array(raw), layout, 0);
  const furthest = cell.reduce((most, v, i) => Math.max(most, Math.abs(v - shown.codes[i]!)), 0);
  // Both round the same number, one of them by way of 16 bits.
  expect(furthest).toBeLessThanOrEqual(1);
  await expect(card.getByRole('button', { name: 'Look at the files' })).toHaveCount(0);
  const verified = execFileSync('oiiotool', ['--info', path], { encoding: 'utf8' });
  expect(verified).toContain('3 channel, uint8 png');
});

test('a run is paused and goes on; a log DPX says its curve', async ({ page, request }) => {
  const id = await builtShot(page, request, 'To be paused');
  await page.goto(`/shots/${id}/output`);
  const card = await addOutput(page, 'log', /^DPX, log/);
  await expect(card.getByText('No source came in a log curve')).toBeVisible();
  const { outputs, lastFrame } = await readShot(request, id);
  await request.put(`/api/outputs/${outputs[0]!.id}`, { data: { ...outputs[0]!, lastFrame } });
  await expect(card).toContainText(`1001–${lastFrame}`);
  await writeFiles(card);
  await card.getByRole('button', { name: 'Pause' }).click();
  await expect(card.getByTestId('run-state')).toHaveText('paused');
  await card.getByRole('button', { name: 'Go on' }).click();
  await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 60_000 });
  await expect(card.getByTestId('read-back')).toContainText('transfer says logarithmic, description says ACEScct.');
});

test('passes as they came, a file each, under names of one’s own; what nobody confirmed is accepted with a reason', async ({
  page,
  request,
}) => {
  const id = await builtShot(page, request, 'To be built on');
  await page.goto(`/shots/${id}/output`);
  await page.getByRole('button', { name: 'Add output' }).first().click();
  const dialog = page.getByRole('dialog', { name: 'Add output' });
  await dialog.getByLabel('Name', { exact: true }).fill('rest');
  await dialog.getByRole('radio', { name: /^Passes, as they came/ }).click();
  await dialog.getByText('a file each').click();
  await dialog.getByRole('tab', { name: 'Frames and size' }).click();
  await dialog.getByLabel('Last frame').fill('1001');
  await dialog.getByRole('tab', { name: 'Names and words' }).click();
  await dialog.getByLabel('Folder').fill('onwards/{shot}');
  await dialog.getByLabel('File name').fill('{pass}.#####');
  await dialog.getByLabel('Offset of the files’ numbers').fill('-1000');
  await dialog.getByLabel('Owner').fill('The ferry landing');
  await expect(dialog.getByLabel('Files as they will be')).toHaveText('onwards/to_be_built_on/{pass}.00001.exr');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  const card = page.getByRole('article', { name: 'rest', exact: true });
  await expect(card.getByRole('button', { name: 'Write files' })).toBeDisabled();
  await card.getByRole('button', { name: 'Accept it …' }).click();
  await page.getByLabel('Why it may be so').fill('the renderer writes it so');
  await page.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(card).toContainText('Accepted: the renderer writes it so');
  await card.getByRole('button', { name: 'Write files' }).click();
  await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 60_000 });
  await expect(card.getByTestId('read-back')).toContainText('samples as they came, to the bit');
  const folder = inOutput('onwards/to_be_built_on');
  const said = execFileSync('oiiotool', ['--info', '-v', join(folder, 'crypto_object00.00001.exr')], {
    encoding: 'utf8',
  });
  expect(said).toContain('Copyright: "The ferry landing"');
  expect(said).toMatch(/cryptomatte\/d593dd7\/manifest: "\{/);
  // Every pixel of the depth is the render's, the reference image library says.
  const [media] = process.env.JUNE_MEDIA!.split(':');
  const render = join(media!, 'landing/landing.1001.exr');
  const same = execFileSync(
    'oiiotool',
    [render, '--ch', 'depth.Z', join(folder, 'depth.00001.exr'), '--ch', 'depth.Z', '--fail', '0', '--diff'],
    { encoding: 'utf8' },
  );
  expect(same).toContain('PASS');
  await card.getByRole('button', { name: 'Hand over' }).click();
  const link = page.getByRole('dialog').getByRole('link', { name: /\.html$/ });
  expect(await (await request.get((await link.getAttribute('href'))!)).text()).toContain('the renderer writes it so');
});
