import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import { numberToHalf, writeExr, type Plane } from '@june-haze/core';
import { zlibCodec } from '@june-haze/files';
import type { Shot } from '@june-haze/contract';
import sharp from 'sharp';
import { memorySink } from '../packages/core/test/exr/surroundings.ts';
import { acceptAll, readShot } from './steps.ts';

/** A soft round card of 96x64 pixels: colour runs across, alpha falls off from the middle; `name.####.exr` of one frame. */
async function softCard(name: string, width = 96, height = 64): Promise<void> {
  const folder = join(process.env.JUNE_MEDIA!, 'cards');
  mkdirSync(folder, { recursive: true });
  const plane = (value: (x: number, y: number) => number): Plane =>
    Uint16Array.from({ length: width * height }, (_, i) => numberToHalf(value(i % width, Math.floor(i / width))));
  const alpha = (x: number, y: number) =>
    Math.max(0, Math.min(1, 1.4 - Math.hypot(x - width / 2, y - height / 2) / (height / 3)));
  const planes: Record<string, Plane> = {
    A: plane(alpha),
    B: plane((_, y) => (0.2 + y / height) * 0.7),
    G: plane((x) => 0.05 + (x / width) * 0.9),
    R: plane((x, y) => alpha(x, y) * (0.3 + x / width)),
  };
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const channels = Object.keys(planes).map((c) => ({ name: c, type: 'half' as const }));
  const sink = memorySink();
  await writeExr(
    sink,
    [{ compression: 'zip', dataWindow: window, displayWindow: window, channels }],
    (_, top, bottom) => Object.values(planes).map((p) => p.subarray(top * width, (bottom + 1) * width) as Plane),
    zlibCodec,
  );
  writeFileSync(join(folder, `${name}.1001.exr`), sink.bytes());
}

async function post<T>(request: APIRequestContext, path: string, data: object, method = 'POST'): Promise<T> {
  const response = await request.fetch(`/api${path}`, { method, data });
  expect(response.ok(), await response.text()).toBe(true);
  return (await response.json()) as T;
}

async function shotOf(request: APIRequestContext, name: string, ...cards: string[]): Promise<Shot> {
  const { id } = await post<Shot>(request, '/shots', { name });
  await post(request, `/shots/${id}/sources`, { folder: 'media/cards', patterns: cards.map((c) => `${c}.1001.exr`) });
  await expect
    .poll(async () => (await readShot(request, id)).sources.map((s) => s.check.stage))
    .toEqual(cards.map(() => 'done'));
  return readShot(request, id);
}

/** The picture's codes, row by row, RGB. */
async function canvasCodes(page: Page): Promise<number[]> {
  return page.getByTestId('picture').evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    return [...data].filter((_, i) => i % 4 !== 3);
  });
}

/** What an output of the shot writes through its viewing, row by row, RGB. */
async function writtenCodes(request: APIRequestContext, shot: Shot): Promise<number[]> {
  const range = { firstFrame: 1001, lastFrame: 1001 };
  const output = { name: 'seen', kind: 'png', sampleType: 'half', compression: 'zip', ...range };
  const { outputs } = await post<Shot>(request, `/shots/${shot.id}/outputs`, output);
  await acceptAll(request, outputs[0]!.id);
  await post(request, `/outputs/${outputs[0]!.id}/runs`, { overwrite: true });
  await expect.poll(async () => (await readShot(request, shot.id)).runs[0]!.state).toBe('done');
  const [run] = (await readShot(request, shot.id)).runs;
  expect(run!.frames[0]!.readBack!.proved).toBe(true);
  const file = join(process.env.JUNE_OUTPUT!, outputs[0]!.pattern.replace('####', '1001'));
  const { data } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return [...data];
}

for (const alpha of ['premultiplied', 'straight', 'none'] as const)
  test(`the page and the written picture show the same codes for alpha read as ${alpha}`, async ({ page, request }) => {
    await softCard(`card-${alpha}`);
    const shot = await shotOf(request, `Card ${alpha}`, `card-${alpha}`);
    const source = shot.sources[0]!;
    const change = { declaredSpace: 'sRGB', confirmed: true, reading: { alpha } };
    await post(request, `/sources/${source.id}`, change, 'PATCH');
    const entry = (name: string, more: object) => ({ id: name, name, enabled: true, mix: 1, adjustments: [], ...more });
    const document = {
      version: 1,
      entries: [
        entry('paper', { kind: 'fill', operation: 'over', colour: [0.4, 0.3, 0.1], alpha: 1 }),
        entry('card', { kind: 'pass', operation: 'over', sourceId: source.id, pass: source.passes[0]!.name }),
      ],
      balanceAgainst: { sourceId: source.id, pass: source.passes[0]!.name },
    };
    await post(request, `/shots/${shot.id}/ledger`, { base: 0, document, summary: 'card over paper' }, 'PUT');
    const written = await writtenCodes(request, shot);

    await page.goto(`/shots/${shot.id}/build`);
    await expect(page.getByTestId('drawn-in')).toBeVisible();
    const codes = await canvasCodes(page);
    expect(codes.length).toBe(96 * 64 * 3);
    expect(new Set(codes).size).toBeGreaterThan(40);
    expect(codes).toEqual(written);
  });

test('a source of another size is placed, and dragged where it shall lie: the page and the file show the same codes', async ({
  page,
  request,
}) => {
  await softCard('large');
  await softCard('small', 60, 40);
  const shot = await shotOf(request, 'Two sizes', 'large', 'small');
  const pass = (i: number, name: string) => ({
    id: `e${i}`,
    name,
    kind: 'pass',
    enabled: true,
    operation: 'over',
    mix: 1,
    adjustments: [],
    sourceId: shot.sources[i]!.id,
    pass: shot.sources[i]!.passes[0]!.name,
  });
  const small = shot.sources.findIndex((s) => s.pattern.startsWith('small'));
  expect(shot.width).toBe(96);
  const entries = [pass(1 - small, 'Large'), pass(small, 'Small')];
  await post(
    request,
    `/shots/${shot.id}/ledger`,
    { base: 0, document: { version: 1, entries }, summary: 'both' },
    'PUT',
  );
  await page.goto(`/shots/${shot.id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  const centred = await canvasCodes(page);
  await page.getByRole('button', { name: /^Small/ }).click();
  await page.getByLabel('Scale, typed').fill('0.5');
  await page.getByLabel('Scale, typed').press('Enter');
  await expect.poll(async () => (await readShot(request, shot.id)).sources[small]!.reading.placement?.scale).toBe(0.5);
  // Dragged in the picture: by as many of its pixels as the hand goes.
  await page.getByRole('button', { name: 'Move it in the picture' }).click();
  const box = (await page.getByTestId('picture').boundingBox())!;
  const middle = [box.x + box.width / 2, box.y + box.height / 2] as const;
  await page.mouse.move(...middle);
  await page.mouse.down();
  await page.mouse.move(middle[0] + (20 * box.width) / 96, middle[1] - (10 * box.height) / 64, { steps: 5 });
  await page.mouse.up();
  await expect
    .poll(async () => (await readShot(request, shot.id)).sources[small]!.reading.placement)
    .toEqual({ scale: 0.5, shift: [20, -10] });
  await expect(page.getByLabel('Right, typed')).toHaveValue('20.00');
  const written = await writtenCodes(request, shot);
  expect(written).not.toEqual(centred);
  await expect.poll(() => canvasCodes(page)).toEqual(written);
});
