import { expect, test, type Page } from '@playwright/test';
import { addAdjustment, addEntry, choose, demoReady, newShot, readShot } from './steps.ts';

// The whole of Build on the demo's first shot, as somebody does it by hand.

const row = (page: Page, name: string) =>
  page.getByTestId('ledger-row').filter({ has: page.getByText(name, { exact: true }) });
const open = (page: Page, name: string) => row(page, name).locator('.row button.plain').click();
async function type(page: Page, label: string, value: string) {
  const field = page.getByLabel(label, { exact: true });
  await field.fill(value);
  await field.press('Enter');
}
async function takeOutAndPutBack(page: Page, pass: string) {
  await page.getByRole('button', { name: 'Add entry' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add to the ledger' });
  await dialog.getByLabel('Search').fill(pass);
  await dialog.getByRole('option').first().click();
  await page.keyboard.press('Shift+Enter');
  await expect(dialog).toBeHidden();
}

test('Landing from end to end: rebuilt and balanced, rim and lanterns re-balanced, far things hazed and out of focus, sky under, grain', async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await demoReady(request);
  const id = await newShot(page, 'Ferry', 'landing', 'landing.####.exr');
  // A still with a sky stands in for the plate.
  const added = await request.post(`/api/shots/${id}/sources`, {
    data: { folder: 'media/landing', patterns: ['landing_approved.png'] },
  });
  expect(added.ok()).toBe(true);
  await page.getByRole('link', { name: /^Build/ }).click();

  const start = page.getByRole('article', { name: /^Light components summed/ });
  await start.getByRole('button', { name: 'Begin with this' }).click();
  await expect(page.getByTestId('balance')).toContainText('balanced');

  await takeOutAndPutBack(page, 'light_sun');
  await open(page, 'Light sun back');
  await addAdjustment(page, 'Soft clip');
  await addAdjustment(page, 'Exposure');
  await type(page, 'Exposure, typed', '-0.5');
  await open(page, 'Light sun back');

  await takeOutAndPutBack(page, 'light_lanterns');
  await open(page, 'Light lanterns back');
  await addAdjustment(page, 'Tint');
  // Picked from the picture, then the blue of it typed.
  await page.getByRole('button', { name: 'Pick the tint in the picture' }).click();
  const seen = (await page.getByTestId('picture').boundingBox())!;
  await page.mouse.click(seen.x + seen.width * 0.2, seen.y + seen.height * 0.36);
  const adjustments = async () =>
    (await readShot(request, id)).ledger.document.entries[9]!.adjustments as readonly Record<string, unknown>[];
  const tint = async () => ((await adjustments())[0]!.colour ?? [1, 1, 1]) as readonly number[];
  await expect.poll(async () => Math.min(...(await tint()))).toBeLessThan(1);
  expect(Math.max(...(await tint()))).toBe(1);
  for (const channel of ['red', 'green']) await type(page, `Tint colour ${channel}`, '1');
  await type(page, 'Tint colour blue', '0.7');
  await addAdjustment(page, 'Levels');
  const black = page.getByRole('group', { name: 'Histogram' }).getByRole('slider', { name: 'Black in' });
  await black.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await adjustments())[1]?.blackIn ?? 0).toBeGreaterThan(0);
  await open(page, 'Light lanterns back');

  await addEntry(page, 'beauty', 'beauty approved');
  await open(page, 'Beauty');
  await choose(page, 'Operation', /^◪? ?.*under/);
  await open(page, 'Beauty');

  const strip = page.getByRole('region', { name: 'Mattes' });
  await strip.getByRole('button', { name: 'New matte' }).click();
  await page.getByRole('menuitem', { name: 'Depth range' }).click();
  const panel = page.getByRole('region', { name: 'Matte depth' });
  await panel.getByRole('button', { name: 'Pick matte depth near end in the picture' }).click();
  const picture = (await page.getByTestId('picture').boundingBox())!;
  await page.mouse.click(picture.x + picture.width * 0.86, picture.y + picture.height * 0.5);
  await type(page, 'Matte depth far end, typed', '5000');
  await panel.getByRole('button', { name: 'Close the matte' }).click();

  await addEntry(page, 'Grade');
  await open(page, 'Grade');
  await choose(page, 'Matte of Grade', /^depth /);
  await addAdjustment(page, 'Saturation');
  await type(page, 'Saturation amount, typed', '0.4');
  await open(page, 'Grade');
  await addEntry(page, 'Haze');
  await addEntry(page, 'Blur by focus');
  await addEntry(page, 'Grain');

  const words = async () => (await readShot(request, id)).ledger.document;
  await expect.poll(async () => (await words()).entries.length).toBe(15);
  const { entries, mattes } = await words();
  expect(entries.map((e) => e.name)).toEqual([
    ...['Diffuse, direct', 'Diffuse, indirect', 'Emission', 'Specular, direct', 'Specular, indirect', 'Volume'],
    ...['Light sun out', 'Light sun back', 'Light lanterns out', 'Light lanterns back', 'Beauty'],
    ...['Grade', 'Haze', 'Blur by focus', 'Grain'],
  ]);
  expect(entries[7]!.adjustments).toMatchObject([{ kind: 'softClip' }, { kind: 'exposure', stops: -0.5 }]);
  expect(entries[9]!.adjustments).toMatchObject([{ kind: 'tint', colour: [1, 1, 0.7] }, { kind: 'levels' }]);
  expect(entries[10]).toMatchObject({ operation: 'under' });
  expect(entries[11]).toMatchObject({ matte: 'depth', adjustments: [{ kind: 'saturation', amount: 0.4 }] });
  expect((mattes!.depth as { near: number }).near).toBeGreaterThan(1);

  // Nothing of it is a fault: what the passes were balances, and the picture says what was done.
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(page.getByTestId('balance')).toContainText('balanced as it came; changed by');
  await page.keyboard.press('Shift+J');
  const said = page.getByTestId('in-words');
  await expect(said).toContainText('Light sun out: takes away light_sun of landing.####.exr.');
  await expect(said).toContainText('where the matte depth is');
  await expect(page.getByRole('region', { name: 'Colour for other programs' })).toContainText('cannot hold: 15 rows');
});
