import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { addAdjustment, addEntry, demoReady, newShot, readShot, writeFiles } from './steps.ts';

const june = (...args: string[]) => execFileSync(join(process.cwd(), 'june'), args, { encoding: 'utf8' });
const written = (name: string) => join(process.env.JUNE_OUTPUT!, name);

test('the whole road: bring in, declare, build to balance, change, undo, reload, write, prove', async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await demoReady(request);
  const id = await newShot(page, 'Road', 'landing', 'landing.####.exr');

  // Declare: a guess from the header, confirmed by picking it in the try-on strip.
  // Files are looked at by threads that stand back for all else.
  await expect(page.getByRole('link', { name: /Intake.*not confirmed/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('group', { name: 'Declared space' }).getByRole('button', { name: 'ACEScg' }).click();
  await expect(page.getByRole('link', { name: /Intake.*1 source declared/ })).toBeVisible();

  // Build from components: balanced. A row's own small picture may ask for a small plane once; the picture's own are counted.
  const planesAsked: string[] = [];
  const ofPicture = (url: string) => url.includes('/api/planes') && decodeURIComponent(url).includes('"level":0');
  page.on('request', (r) => ofPicture(r.url()) && planesAsked.push(r.url()));
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'Build anew from light components');
  await expect(page.getByTestId('ledger-row')).toHaveCount(6);
  await expect(page.getByTestId('balance')).toContainText('balanced');
  await expect(page.getByRole('link', { name: /Build.*balanced/ })).toBeVisible();

  // What the browser shows is what the server writes: same codes for every pixel (see below); and the same balance, as shown to three digits.
  await expect.poll(async () => (await readShot(request, id)).balances).not.toEqual([]);
  const stored = (await readShot(request, id)).balances[0]!;
  expect(stored.balanced).toBe(true);
  expect(stored.overShare).toBe(0);
  await expect(page.getByTestId('balance')).toContainText(
    `largest ${stored.largest.toPrecision(3)} at ${stored.at[0]}, ${stored.at[1]}`,
  );

  // One entry up by a stop: changed, the picture follows without the server.
  await page.getByRole('button', { name: /^Emission/ }).click();
  await addAdjustment(page, 'Exposure');
  // The balance may be the server's: the picture's own planes are waited for.
  let planes = -1;
  await expect
    .poll(() => planesAsked.length > 0 && planes === (planes = planesAsked.length), { intervals: [1500] })
    .toBe(true);
  await page.getByLabel('Exposure, typed').fill('1');
  await page.getByLabel('Exposure, typed').press('Enter');
  await expect(page.getByTestId('balance')).toContainText('changed by');
  expect(planesAsked.slice(planes)).toEqual([]);
  await page.getByRole('button', { name: 'Show where' }).click();
  await expect(page.getByText('Distance from the beauty, times 100')).toBeVisible();
  await page.getByRole('button', { name: 'Show total' }).click();

  // Undo is kept across a reload.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('balance')).toContainText('balanced');
  await page.reload();
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByTestId('balance')).toContainText('balanced as it came; changed by');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('balance')).toContainText('balanced');

  // Write an EXR and a PNG.
  await page.getByRole('link', { name: /^Output/ }).click();
  for (const [name, kind] of [
    ['linear', 'EXR, linear'],
    ['seen', 'PNG, as seen'],
  ] as const) {
    await page.getByRole('button', { name: 'Add output' }).first().click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name', { exact: true }).fill(name);
    await dialog.getByText(kind).click();
    await dialog.getByRole('button', { name: 'Keep' }).click();
    const card = page.getByRole('article', { name });
    await writeFiles(card);
    await expect(card.getByTestId('run-state')).toHaveText('written', { timeout: 60_000 });
    await expect(card.getByTestId('read-back')).toContainText('Reads back as shown');
  }
  await expect(page.getByRole('link', { name: /Output.*4 frames read back/ })).toBeVisible();

  // The command line agrees, and the renderer's own beauty is what came out, to half rounding.
  const exr = written('road/road_linear_acescg.1001.exr');
  expect((JSON.parse(june('verify', exr, '--json')) as { whole: boolean }).whole).toBe(true);
  expect(execFileSync('exrheader', [exr], { encoding: 'utf8' })).toContain('lin_ap1_scene');

  // Every pixel of the browser's canvas equals the PNG that the server wrote.
  await page.getByRole('link', { name: /^Build/ }).click();
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.getByRole('button', { name: '1:1' }).click();
  const png = await sharp(written('road/road_seen_srgb.1001.png'), { ignoreIcc: true }).ensureAlpha().raw().toBuffer();
  /** Size of the canvas, and the first code that differs from the file. */
  const against = async () => {
    const canvas = await page.getByTestId('picture').evaluate((element: HTMLCanvasElement) => {
      const { width, height } = element;
      return { width, height, data: [...element.getContext('2d')!.getImageData(0, 0, width, height).data] };
    });
    const { width, height, data } = canvas;
    return { width, height, length: data.length, differs: png.findIndex((v, i) => v !== data[i]) };
  };
  await expect.poll(against).toEqual({ width: 320, height: 180, length: png.length, differs: -1 });
});

test('rows are moved with the mouse and with the keyboard, names and switches are kept', async ({ page, request }) => {
  await demoReady(request);
  const id = await newShot(page, 'Rows', 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'Build anew from light groups');
  await expect(page.getByTestId('ledger-row')).toHaveCount(3);
  const order = async () => (await readShot(request, id)).ledger.document.entries.map((e) => e.name);
  expect(await order()).toEqual(['Light lanterns', 'Light sky', 'Light sun']);
  const sign = (i: number) => page.getByTestId('ledger-row').nth(i).locator('.sign');
  await sign(2).hover();
  await page.mouse.down();
  const target = (await page.getByTestId('ledger-row').nth(0).boundingBox())!;
  await page.mouse.move(target.x + 30, target.y + 30, { steps: 8 });
  await page.mouse.move(target.x + 30, target.y + 15, { steps: 4 });
  await page.mouse.up();
  await expect.poll(order).toEqual(['Light sun', 'Light lanterns', 'Light sky']);
  await page.getByRole('button', { name: /^Light sun/ }).press('Alt+ArrowDown');
  await expect.poll(order).toEqual(['Light lanterns', 'Light sun', 'Light sky']);
  await page.getByRole('switch', { name: 'Light sun on' }).click();
  await expect(page.getByTestId('balance')).toContainText('off by');
  await expect.poll(async () => (await readShot(request, id)).ledger.document.entries[1]!.enabled).toBe(false);
});

test('the probe tells declared, working and shown; working space and view change the picture, not the source', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  const id = shots.find((s) => s.name === 'Landing')!.id;
  await page.goto(`/shots/${id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.getByTestId('picture').hover();
  const probe = page.getByTestId('probe');
  await expect(probe).toContainText('declared ACEScg');
  await expect(probe).toContainText('shown sRGB');
  const before = await probe.textContent();
  await page.getByRole('button', { name: 'Working space and viewing' }).click();
  await page.getByLabel('View', { exact: true }).click();
  await page.getByTitle('Untoned').click();
  await expect(page.getByRole('button', { name: 'Working space and viewing' })).toContainText('Untoned');
  await page.keyboard.press('Escape');
  await page.getByTestId('picture').hover({ position: { x: 60, y: 60 } });
  await page.getByTestId('picture').hover();
  await expect(probe).not.toHaveText(before!);
  await page.getByRole('application').focus();
  await page.keyboard.press('Period');
  await expect(page.getByTestId('frame')).toHaveText('1002');
});

for (const screen of ['', 'intake', 'match', 'build', 'output']) {
  test(`no serious accessibility fault on ${screen || 'the shelf'}`, async ({ page, request }) => {
    await demoReady(request);
    const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
    await page.goto(screen ? `/shots/${shots.find((s) => s.name === 'Landing')!.id}/${screen}` : '/');
    await page.waitForTimeout(1500);
    const { violations } = await new AxeBuilder({ page }).analyze();
    const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
    expect(serious.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  });
}
