import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import {
  compilePlan,
  evaluate,
  Heap,
  kernels,
  openShotColour,
  planSource,
  prepareSteps,
  readBundle,
  shownSteps,
  stopBandOf,
  stopBands,
  writeExr,
  type InputPlanes,
  type Quad,
  type Showing,
} from '@june-haze/core';
import type { PlanesWant, Shot } from '@june-haze/contract';
import { zlibCodec } from '@june-haze/files';
import { memorySink } from '../packages/core/test/exr/surroundings.ts';
import { demoReady, landingAsMade, newShot, readPlanes, readShot, writeFiles } from './steps.ts';

/** Landing in Build, its viewer as at a first visit, drawn. */
async function openLanding(page: Page, request: APIRequestContext): Promise<Shot> {
  const id = await landingAsMade(request);
  await expect.poll(async () => (await readShot(request, id)).sources.length).toBe(2);
  await page.goto(`/shots/${id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  return readShot(request, id);
}

/** A canvas's codes, as they stand. */
const codesOf = (page: Page, testId: string) =>
  page.getByTestId(testId).evaluate((canvas: HTMLCanvasElement) => {
    const { width, height } = canvas;
    return { width, height, codes: [...canvas.getContext('2d')!.getImageData(0, 0, width, height).data] };
  });

const digest = (codes: ArrayLike<number>) => createHash('sha256').update(Uint8Array.from(codes)).digest('hex');

/** The total of Landing's first frame by core alone, from what the server reads: working light, or codes through a showing. */
async function byCore(request: APIRequestContext, shot: Shot, showing: Showing) {
  const id = shot.colour.config!;
  const content = await (await request.get(`/api/library/${id}/content`)).body();
  const colour = openShotColour(shot.colour, new Map([[id, readBundle(content, id)]]));
  const { width, height } = shot;
  const plan = compilePlan(shot.ledger.document, shot.sources.map(planSource), shot.workingSpace, colour, {
    frame: shot.firstFrame,
    size: { width, height },
  });
  const inputs = await Promise.all(
    plan.inputs.map(async ({ sourceId, part, colour: channels, alpha, data = false }): Promise<InputPlanes> => {
      const want = (of: number, names: readonly string[]) =>
        readPlanes(request, { source: sourceId, frame: shot.firstFrame, part: of, channels: [...names], data });
      const [r, g, b] = await want(part, channels);
      const [a] = alpha ? await want(alpha.part, [alpha.channel]) : [];
      return { colour: [r!, g!, b!], ...(a ? { alpha: a } : {}), window: { x: 0, y: 0, width, height } };
    }),
  );
  const heap = new Heap(kernels());
  const view = prepareSteps(shownSteps(colour, shot.workingSpace, showing), heap);
  const codes = new Uint8Array(width * height * 4);
  const light = [0, 1, 2].map(() => new Float32Array(width * height));
  evaluate(plan, heap, {
    width,
    rows: height,
    inputs,
    onBand: (row: number, rows: number, total: Quad, h) => {
      const n = rows * width;
      light.forEach((plane, c) => plane.set(h.floats(total[c]!, n), row * width));
      view(total[0], total[1], total[2], n);
      const at = h.allocate(n * 4);
      h.kernels.packCodes(total[0], total[1], total[2], at, n);
      codes.set(h.bytes(at, n * 4), row * width * 4);
    },
  });
  return { codes, light, luminance: colour.luminance(shot.workingSpace) };
}

test('the picture on the canvas is core’s to the bit; so is false colour, and each part of the viewing left out', async ({
  page,
  request,
}) => {
  const shot = await openLanding(page, request);
  await page.keyboard.press('1');
  await expect.poll(async () => (await codesOf(page, 'picture')).width).toBe(shot.width);
  const { viewing } = shot;
  const seen = await byCore(request, shot, { viewing, off: [] });
  await expect.poll(async () => digest((await codesOf(page, 'picture')).codes)).toBe(digest(seen.codes));

  await page.getByRole('button', { name: /^Haze/ }).last().click();
  const encoded = await byCore(request, shot, { viewing, off: ['view'] });
  await expect.poll(async () => digest((await codesOf(page, 'picture')).codes)).toBe(digest(encoded.codes));
  await page.getByRole('button', { name: 'Plain view' }).click();
  const plain = await byCore(request, shot, { viewing, off: [], plain: true });
  await expect.poll(async () => digest((await codesOf(page, 'picture')).codes)).toBe(digest(plain.codes));
  await page.getByRole('button', { name: 'Plain view' }).click();
  await page.getByRole('button', { name: /^Haze/ }).last().click();

  await page.keyboard.press('Alt+s');
  const [r, g, b] = seen.light;
  const [wr, wg, wb] = seen.luminance;
  const bands = Uint8Array.from(
    Array.from(r!, (_, i) => [...stopBands[stopBandOf(wr * r![i]! + wg * g![i]! + wb * b![i]!)]!.colour, 255]).flat(),
  );
  await expect.poll(async () => digest((await codesOf(page, 'picture')).codes)).toBe(digest(bands));
  await expect(page.getByLabel('Bands in stops from 18 % grey')).toContainText('−3');
  await page.keyboard.press('Alt+c');
});

test('a tour: a place is remembered, the reference flipped to there, the difference read, false colour, scopes, play', async ({
  page,
  request,
}) => {
  const shot = await openLanding(page, request);
  // The lantern in front: into its highlight, and remembered.
  const box = (await page.getByTestId('picture').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.44, box.y + box.height * 0.7);
  for (let i = 0; i < 12; i++) await page.mouse.wheel(0, -120);
  await page.keyboard.press('m');
  await expect.poll(async () => (await readShot(request, shot.id)).places.map((p) => p.name)).toEqual(['Place 1']);
  const [place] = (await readShot(request, shot.id)).places;
  expect(place!.scale).toBeGreaterThan(4);
  const transform = () => page.getByTestId('picture').evaluate((c) => c.style.transform);
  const there = await transform();
  await page.keyboard.press('0');
  await expect.poll(transform).not.toBe(there);
  await page.keyboard.press('g');
  await expect.poll(transform).toBe(there);
  // G once more goes back to where the eye was.
  await page.keyboard.press('g');
  await expect.poll(transform).not.toBe(there);
  await page.keyboard.press('g');

  // Held, the reference is seen at the same place; let go, the total again; nothing was changed.
  const second = page.getByTestId('second');
  await page.keyboard.down('r');
  await expect(second).toBeVisible();
  // Longer than a tap lasts.
  await page.waitForTimeout(400);
  await expect.poll(() => second.evaluate((c) => c.style.transform)).toBe(there);
  await expect(page.getByRole('status').filter({ hasText: 'Reference landing_approved.png' })).toBeVisible();
  await page.keyboard.up('r');
  await expect(second).toBeHidden();
  // Tapped, it stays until it is tapped again.
  await page.keyboard.press('r');
  await expect(second).toBeVisible();
  await page.keyboard.press('r');
  await expect(second).toBeHidden();
  expect((await readShot(request, shot.id)).ledger.revision).toBe(shot.ledger.revision);

  // The figures between both: what the match of the first frame is known to be, one code at most.
  await page.keyboard.press('x');
  await expect(page.getByTestId('figures')).toContainText(/^(identical|1 code) · mean 0\.\d\d · 95 % [01] · 99 % [01]/);
  await page.getByLabel('Way of comparing').click();
  await page.locator('.ant-select-item-option:visible').filter({ hasText: 'CIEDE2000' }).click();
  await expect(page.getByLabel('Bands of CIEDE2000')).toBeVisible();
  await page.getByRole('button', { name: 'End' }).click();

  await page.keyboard.press('Alt+s');
  await expect(page.getByLabel('Bands in stops from 18 % grey')).toBeVisible();
  await page.keyboard.press('Alt+c');
  await page.keyboard.press('q');
  const inked = () =>
    page.getByTestId('waveform').evaluate((c: HTMLCanvasElement) => {
      const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height);
      return data.filter((v, i) => i % 4 !== 3 && v < 250).length;
    });
  await expect.poll(inked).toBeGreaterThan(1000);
  await page.keyboard.press('q');

  await page.keyboard.press('Space');
  await expect(page.getByTestId('measured')).toContainText('measured');
  await page.keyboard.press('Space');
  await request.patch(`/api/shots/${shot.id}`, { data: { places: [] } });
});

test('without a mouse: the probe, a pin, the region that is seen, numbers copied', async ({
  page,
  request,
  context,
}) => {
  const shot = await openLanding(page, request);
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.keyboard.press('5');
  await page.keyboard.press('p');
  await expect(page.getByTestId('probe')).toContainText(`at ${shot.width / 2}, ${shot.height / 2}`);
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('probe')).toContainText(`at ${shot.width / 2 + 1}, ${shot.height / 2}`);
  await page.keyboard.press('Shift+P');
  await page.keyboard.press('o');
  const pins = page.getByRole('table', { name: 'Pinned' });
  await expect(pins).toContainText(`${shot.width / 2 + 1}, ${shot.height / 2}`);
  await expect(pins).toContainText(/region \d+×\d+ at/);
  await expect(pins).toContainText(/stops/);
  await page.keyboard.press('c');
  const text = await page.evaluate(() => navigator.clipboard.readText());
  const { light } = await byCore(request, shot, { viewing: shot.viewing, off: [] });
  const at = (shot.height / 2) * shot.width + shot.width / 2 + 1;
  expect(text.split('\n')[2]).toBe(`working ACEScg\t${light.map((p) => p[at]!.toFixed(4)).join('\t')}`);
  // Another frame has other numbers under the same pin and in the same region.
  const before = await pins.textContent();
  await page.keyboard.press('.');
  await expect.poll(async () => pins.textContent()).not.toBe(before);
  await page.keyboard.press(',');
  await expect.poll(async () => pins.textContent()).toBe(before);
  await page.keyboard.press('Shift+O');
  await page.getByRole('button', { name: new RegExp(`^Take ${shot.width / 2 + 1}`) }).click();
  await expect(pins).toBeHidden();
});

test('what is looked at: data in its range, an ID’s name, a row alone, an output’s file beside the total', async ({
  page,
  request,
}) => {
  const shot = await openLanding(page, request);
  const look = async (words: string) => {
    await page.keyboard.press('s');
    const dialog = page.getByRole('dialog', { name: 'Look at, or compare with' });
    await dialog.getByLabel('Search').fill(words);
    await dialog.getByLabel('Search').press('Shift+Enter');
    await expect(dialog).toBeHidden();
  };
  await look('crypto_object00');
  await page.keyboard.press('1');
  const box = (await page.getByTestId('picture').boundingBox())!;
  // The kettle's belly.
  await page.mouse.move(box.x + box.width * 0.73, box.y + box.height * 0.62);
  await expect(page.getByTestId('probe')).toContainText('ID of kettle');
  await look('depth');
  await expect(page.getByRole('spinbutton', { name: 'Far, shown white' })).toHaveValue('100');
  const before = digest((await codesOf(page, 'picture')).codes);
  await page.getByRole('spinbutton', { name: 'Far, shown white' }).fill('20');
  await page.getByRole('spinbutton', { name: 'Far, shown white' }).press('Enter');
  await expect.poll(async () => digest((await codesOf(page, 'picture')).codes)).not.toBe(before);
  // Near is picked on the kettle: its own depth, which is then black.
  await page.getByRole('button', { name: 'Pick near, shown black' }).click();
  await page.mouse.click(box.x + box.width * 0.73, box.y + box.height * 0.62);
  await expect
    .poll(async () => Number(await page.getByRole('spinbutton', { name: 'Near, shown black' }).inputValue()))
    .toBeGreaterThan(1);
  await page.getByRole('button', { name: 'Back' }).click();

  await request.post(`/api/shots/${shot.id}/outputs`, {
    data: {
      name: 'look',
      kind: 'png',
      space: null,
      sampleType: 'half',
      compression: 'zip',
      firstFrame: shot.firstFrame,
      lastFrame: shot.firstFrame,
      bakeLook: false,
    },
  });
  await page.keyboard.press('Alt+4');
  const card = page.getByRole('article', { name: 'look' });
  await writeFiles(card);
  await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 30_000 });
  await card.getByRole('button', { name: 'Look at the files' }).click();
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.keyboard.press('x');
  await expect(page.getByTestId('figures')).toContainText('identical');
  await page.keyboard.press('Backspace');
  await card.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
});

test('of a large picture only what is seen is fetched, and it is the same to the bit as all of it', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const [width, height] = [1900, 1300];
  const folder = join(process.env.JUNE_MEDIA!, 'large');
  mkdirSync(folder, { recursive: true });
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const sink = memorySink();
  const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'half' as const }));
  const part = { compression: 'zip', dataWindow: window, displayWindow: window, channels } as const;
  // Another number at every pixel, as halves go.
  await writeExr(
    sink,
    [part],
    (_part, top, bottom) =>
      channels.map((_c, c) =>
        Uint16Array.from(
          { length: width * (bottom - top + 1) },
          (_v, i) => 0x3000 + (((i % width) * 7 + (top + Math.floor(i / width)) * 13 + 40 * c) % 2600),
        ),
      ),
    zlibCodec,
  );
  writeFileSync(join(folder, 'large.exr'), sink.bytes());
  const id = await newShot(page, 'Large', 'large', 'large.exr');
  const { sources } = await readShot(request, id);
  await page.goto(`/shots/${id}/intake?look=${sources[0]!.id}`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  /** The codes of the middle, as their hash. */
  const middle = () =>
    page.getByTestId('picture').evaluate(async (canvas: HTMLCanvasElement) => {
      const [x, y] = [canvas.width / 2 - 250, canvas.height / 2 - 150];
      const { data } = canvas.getContext('2d')!.getImageData(x, y, 500, 300);
      const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', data));
      return {
        width: canvas.width,
        corner: [...canvas.getContext('2d')!.getImageData(1, 1, 1, 1).data],
        hash: hash.join(),
      };
    });
  // Fitted, all of it was drawn.
  await expect.poll(async () => (await middle()).width).toBe(width);
  const whole = await middle();
  const wantsOf = (url: string) =>
    new URL(url).searchParams.getAll('want').map((w) => JSON.parse(w) as PlanesWant & { readonly level: number });
  // At rest, coarser levels may be asked for meanwhile: what counts is the level that is seen.
  const asked = page.waitForRequest(
    (r) => r.url().includes('/api/planes') && wantsOf(r.url()).some((w) => w.level === 0),
  );
  await page.keyboard.press('3');
  // Less than half of the picture is asked for. (What came cannot be read from here: browsers do not keep large answers to workers.)
  const wants = wantsOf((await asked).url()).filter((w) => w.level === 0);
  const pixels = wants.map(({ window: seen }) => (seen ? seen.width * seen.height : width * height));
  expect(Math.max(...pixels)).toBeLessThan(0.5 * width * height);
  // An exposure makes a part of another picture: what lies outside is not it any more, and says so.
  await page.getByRole('button', { name: 'exposure', exact: true }).click();
  await expect.poll(async () => (await middle()).corner).toEqual([119, 119, 119, 255]);
  expect((await middle()).hash).toBe(whole.hash);
});
