import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type APIRequestContext, type Locator, type Page } from '@playwright/test';
import type { Plane } from '@june-haze/core';
import { PlanesReader, type PlanesWant, type PreCheckItem, type Shot, type ShotSummary } from '@june-haze/contract';

/** Waits until the small demo of the tests is traced whole. */
export async function demoReady(request: APIRequestContext): Promise<void> {
  await expect
    .poll(async () => ((await (await request.get('/api/demo')).json()) as { done: number }).done, { timeout: 60_000 })
    .toBe(4);
}

/** The demo's first shot, seen as it was made, whatever tests before this one chose. */
export async function landingAsMade(request: APIRequestContext): Promise<string> {
  await demoReady(request);
  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  const { id } = shots.find((s) => s.name === 'Landing')!;
  const viewing = { display: 'sRGB', view: 'Haze', look: null, exposure: 0, gamma: 1 };
  expect((await request.patch(`/api/shots/${id}`, { data: { viewing } })).ok()).toBe(true);
  return id;
}

/** Waits for a demo shot, and until all its files were looked at. */
export async function demoShot(request: APIRequestContext, name: string): Promise<Shot> {
  let found: Shot | undefined;
  await expect
    .poll(
      async () => {
        const all = (await (await request.get('/api/shots')).json()) as ShotSummary[];
        const id = all.find((s) => s.name === name)?.id;
        found = id === undefined ? undefined : await readShot(request, id);
        return found?.sources.length ? found.sources.every((s) => s.check.stage === 'done') : false;
      },
      { timeout: 240_000 },
    )
    .toBe(true);
  return found!;
}

/** Makes a shot through the interface and brings a sequence in from a folder of the media folder. */
export async function newShot(page: Page, name: string, folder: string, pattern: string): Promise<string> {
  await page.goto('/');
  await page.getByRole('button', { name: 'New shot' }).click();
  await page.getByLabel('Name of the shot').fill(name);
  await page.getByRole('button', { name: 'Make shot' }).click();
  await page.waitForURL(/\/intake$/);
  await page.getByRole('button', { name: 'Browse media folders' }).click();
  const dialog = page.getByRole('dialog');
  const [media, wanted] = ['media', folder].map((name) => dialog.getByRole('button', { name, exact: true }));
  // A list that comes in anew under the pointer loses the click: it is clicked again, as a person would.
  await expect(async () => {
    if (await media!.isVisible()) await media!.click({ timeout: 3000 });
    await expect(wanted!).toBeVisible({ timeout: 3000 });
  }).toPass();
  await wanted!.click();
  await dialog.getByRole('button', { name: `Bring in ${pattern}`, exact: true }).click();
  await expect(page.locator('button.source', { hasText: pattern })).toBeVisible();
  return /shots\/([^/]+)/.exec(page.url())![1]!;
}

export async function readShot(request: APIRequestContext, id: string): Promise<Shot> {
  return (await (await request.get(`/api/shots/${id}`)).json()) as Shot;
}

/** Adds to the ledger by Build's picker: by the words that find it, then its own. */
export async function addEntry(page: Page, item: string, words = item): Promise<void> {
  await page.getByRole('button', { name: 'Add entry' }).click();
  await pick(page, 'Add to the ledger', item, words);
}

/** Adds an adjustment to the row that is open. */
export async function addAdjustment(page: Page, title: string): Promise<void> {
  await page.getByRole('button', { name: 'Add adjustment' }).click();
  await pick(page, 'Add an adjustment', title);
}

async function pick(page: Page, picker: string, item: string, words = item): Promise<void> {
  const dialog = page.getByRole('dialog', { name: picker });
  await dialog.getByLabel('Search').fill(words);
  await dialog
    .getByRole('option')
    .filter({ has: page.getByText(item, { exact: true }) })
    .first()
    .click();
  await page.keyboard.press('Enter');
  await expect(dialog).toBeHidden();
}

/** Chooses from a list that opens, by its label. It closes when its row moves under it as work comes in: opened again. */
export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  const choice = page
    .locator('.ant-select-item-option:visible')
    .filter({ has: page.getByText(option, { exact: true }) })
    .last();
  await expect(async () => {
    if (!(await choice.isVisible())) await page.getByLabel(label, { exact: true }).click({ timeout: 3000 });
    await choice.click({ timeout: 3000 });
  }).toPass();
}

/** Channels of a pixel near the middle of a 320-pixel-wide EXR, read by the command. */
export function middlePixel(file: string, channels: string): number[] {
  const raw = join(process.env.JUNE_DATA!, 'pixel.raw');
  execFileSync(join(process.cwd(), 'june'), ['pixels', file, '--channels', channels, '--out', raw]);
  const count = channels.split(',').length;
  const values = new Float32Array(readFileSync(raw).buffer.slice(0));
  return [...values.subarray((120 * 320 + 160) * count, (120 * 320 + 161) * count)];
}

/**
 * Begins to write an output. What stands above its card may still grow, and a click that ends beside where it began is none: then it is
 * clicked again, as a person would.
 */
export async function writeFiles(card: Locator): Promise<void> {
  await expect(async () => {
    // Spaces that nobody confirmed are, as a person would who knows them.
    const confirm = card.getByRole('button', { name: /^It is / }).first();
    while (await confirm.isVisible()) {
      await confirm.click({ timeout: 5000 });
      await expect(confirm).toBeHidden({ timeout: 5000 });
    }
    await card.getByRole('button', { name: 'Write files' }).click({ timeout: 5000 });
    const begun = card.getByTestId('run-state').or(card.page().getByRole('dialog', { name: 'Replace files?' }));
    await expect(begun.first()).toBeVisible({ timeout: 5000 });
  }).toPass();
}

/** Accepts every line that keeps an output from being written, as somebody does who knows better. */
export async function acceptAll(request: APIRequestContext, outputId: string): Promise<void> {
  const { items } = (await (await request.get(`/api/outputs/${outputId}/precheck`)).json()) as PreCheck;
  for (const { text } of items.filter((i) => i.weight === 'ask'))
    await request.put(`/api/outputs/${outputId}/accepted`, { data: { text, reason: 'as it shall be here' } });
}
interface PreCheck {
  readonly items: readonly PreCheckItem[];
}

/** Adds an output of float EXRs of the first frame through the interface, and writes it. */
export async function writeFloatFrame(page: Page): Promise<Locator> {
  await page.getByRole('link', { name: /^Output/ }).click();
  await page.getByRole('button', { name: 'Add output' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).fill('float');
  await dialog.getByText('float', { exact: true }).click();
  await dialog.getByRole('tab', { name: 'Frames and size' }).click();
  await dialog.getByLabel('Last frame').fill('1001');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  const card = page.getByRole('article', { name: 'float' });
  await writeFiles(card);
  await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 30_000 });
  return card;
}

/** Whole planes of channels of a source, as the server has them. */
export async function readPlanes(request: APIRequestContext, want: PlanesWant): Promise<readonly Plane[]> {
  const response = await request.get('/api/planes', { params: { want: JSON.stringify(want) } });
  expect(response.status()).toBe(200);
  const reader = new PlanesReader((bytes) => new ArrayBuffer(bytes));
  reader.add(await response.body());
  const [answer] = reader.end();
  if (!answer || 'error' in answer.header) throw new Error(JSON.stringify(answer?.header));
  return answer.planes;
}
