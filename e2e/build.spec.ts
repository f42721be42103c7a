import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { addEntry, choose, demoReady, middlePixel, newShot, readShot, writeFloatFrame } from './steps.ts';

async function operate(page: Page, row: RegExp, operation: RegExp) {
  await page.getByRole('button', { name: row }).click();
  await choose(page, 'Operation', operation);
}
async function type(page: Page, label: string, value: string) {
  await page.getByLabel(`${label}, typed`).fill(value);
  await page.getByLabel(`${label}, typed`).press('Enter');
}

test('operations set in the interface act on the pixels that are written', async ({ page, request }) => {
  await demoReady(request);
  const id = await newShot(page, 'Operations', 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  // beauty - light_sun, times a fill of 0.5, then a half-covering fill over it
  await addEntry(page, 'beauty');
  await addEntry(page, 'light_sun');
  await operate(page, /^Light sun/, /^− minus/);
  await addEntry(page, 'A fill');
  await operate(page, /^Fill/, /^× multiply/);
  for (const c of ['Red', 'Green', 'Blue']) await type(page, c, '0.5');
  await addEntry(page, 'A subtotal');
  await expect(page.getByTestId('ledger-row')).toHaveCount(4);
  await expect
    .poll(async () =>
      (await readShot(request, id)).ledger.document.entries.map((e) => [e.kind, 'operation' in e && e.operation]),
    )
    .toEqual([
      ['pass', 'plus'],
      ['pass', 'minus'],
      ['fill', 'multiply'],
      ['subtotal', 'plus'],
    ]);
  await expect
    .poll(async () => (await readShot(request, id)).ledger.document.entries[2])
    .toMatchObject({
      colour: [0.5, 0.5, 0.5],
    });

  await writeFloatFrame(page);

  const source = join(process.env.JUNE_MEDIA!, 'landing/landing.1001.exr');
  const beauty = middlePixel(source, 'R,G,B');
  const sun = middlePixel(source, 'light_sun.R,light_sun.G,light_sun.B');
  const total = middlePixel(join(process.env.JUNE_OUTPUT!, 'operations/operations_float_acescg.1001.exr'), 'R,G,B');
  expect(beauty[0]).toBeGreaterThan(0);
  total.forEach((v, c) => expect(v).toBe(Math.fround(Math.fround(beauty[c]! - sun[c]!) * 0.5)));
});

test('far things are hazed and a thing is picked: mattes and finishes are set in the picture', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await newShot(page, 'Hazy', 'landing', 'landing.####.exr');
  const { sources, ledger } = await readShot(request, id);
  const rebuild = `/api/shots/${id}/ledger/rebuild?by=beauty&source=${sources[0]!.id}`;
  await request.post(rebuild, { data: { base: ledger.revision } });
  await page.goto(`/shots/${id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await addEntry(page, 'Grade');
  await addEntry(page, 'Haze');
  const entries = async () =>
    (await readShot(request, id)).ledger.document.entries as unknown as Record<string, unknown>[];
  await expect.poll(async () => (await entries()).at(-1)).toMatchObject({ source: sources[0]!.id, pass: 'depth' });

  // Haze begins where the wooden crate stands: its depth is read off the picture.
  const click = async (x: number, y: number) => {
    const box = (await page.getByTestId('picture').boundingBox())!;
    await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
  };
  await page.getByRole('button', { name: /^Haze/ }).first().click();
  await page.getByRole('button', { name: 'Pick haze from in the picture' }).click();
  await click(76.5 / 320, 54.5 / 180);
  await expect.poll(async () => Number((await entries()).at(-1)!.start)).toBeGreaterThan(1);

  // The grade acts on the kettle, which is picked by its ID, and let go of again.
  await page
    .getByRole('button', { name: /^Grade/ })
    .first()
    .click();
  await choose(page, 'Matte of Grade', 'New: IDs');
  const names = async () =>
    (await readShot(request, id)).ledger.document.mattes?.ids as { names?: string[] } | undefined;
  await expect.poll(names).toBeDefined();
  await page.getByRole('button', { name: 'Pick matte ids names in the picture' }).click();
  await click(0.72, 0.65);
  await expect.poll(async () => (await names())?.names).toEqual(['kettle']);
  await click(76.5 / 320, 54.5 / 180);
  await expect.poll(async () => (await names())?.names?.length).toBe(2);
  await click(76.5 / 320, 54.5 / 180);
  await expect.poll(async () => (await names())?.names).toEqual(['kettle']);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Add adjustment' }).click();
  await page
    .getByRole('option', { name: /^Exposure/ })
    .first()
    .click();
  await page.keyboard.press('Enter');
  await expect
    .poll(async () => (await entries())[1])
    .toMatchObject({ adjustments: [{ kind: 'exposure' }], matte: 'ids' });
  await expect(page.getByRole('alert')).toHaveCount(0);
  await page.getByRole('button', { name: 'In words' }).click();
  await expect(page.getByTestId('in-words')).toContainText('Haze: haze of all above, source landing');
  await expect(page.getByTestId('in-words')).toContainText('ids: ids, source landing');
  await page.getByRole('button', { name: 'Close', exact: true }).last().click();

  // Mattes stand in a strip: made there, shaped on their histogram, named, and dragged on a row.
  const strip = page.getByRole('region', { name: 'Mattes' });
  await strip.getByRole('button', { name: 'New matte' }).click();
  await page.getByRole('menuitem', { name: 'Depth range' }).click();
  const panel = page.getByRole('region', { name: 'Matte depth' });
  const far = panel.getByRole('slider', { name: 'Far end', exact: true }).last();
  const depthMatte = async () =>
    (await readShot(request, id)).ledger.document.mattes?.depth as { far?: number } | undefined;
  await far.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await depthMatte())?.far).toBeGreaterThan(10);
  const before = (await depthMatte())!.far!;
  const box = (await far.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x - 30, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await depthMatte())?.far).toBeLessThan(before);
  await panel.getByLabel('Name of the matte').fill('distance');
  await panel.getByLabel('Name of the matte').press('Enter');
  const row = page.getByTestId('ledger-row').filter({ hasText: 'Haze' }).locator('.row');
  await row.scrollIntoViewIfNeeded();
  const onto = (await row.boundingBox())!;
  await strip.getByRole('button', { name: 'distance', exact: true }).hover();
  await page.mouse.down();
  await page.mouse.move(onto.x + 200, onto.y + 60, { steps: 5 });
  await page.mouse.move(onto.x + 200, onto.y + 20, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await entries()).at(-1)).toMatchObject({ matte: 'distance' });
  await expect(page.getByRole('region', { name: 'Matte distance' })).toContainText('used by Haze');
});

test('every command has a name and a key, and runs from the list', async ({ page, request }) => {
  await demoReady(request);
  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  await page.goto(`/shots/${shots.find((s) => s.name === 'Landing')!.id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByLabel('Find a command').fill('frame aft');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('frame')).toHaveText('1002');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('Shift+?');
  await expect(page.getByRole('option', { name: /^Undo\s*Ctrl\+Z$/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('Shift+D');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dim');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dim');
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.keyboard.press('Alt+4');
  await expect(page).toHaveURL(/output$/);
});

test('the border between picture and ledger is dragged, and stays where it was put', async ({ page, request }) => {
  await demoReady(request);
  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  await page.goto(`/shots/${shots.find((s) => s.name === 'Landing')!.id}/build`);
  const ledger = page.getByRole('region', { name: 'Ledger' });
  const before = (await ledger.boundingBox())!;
  await page.mouse.move(before.x, 400);
  await page.mouse.down();
  await page.mouse.move(before.x - 120, 400, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => Math.round((await ledger.boundingBox())!.x - before.x)).toBe(-120);
  await page.reload();
  await expect.poll(async () => Math.abs((await ledger.boundingBox())!.x - before.x + 120)).toBeLessThan(3);
});

for (const [width, height] of [
  [1280, 800],
  [1920, 1080],
] as const) {
  test(`no screen scrolls the page or cuts its top line at ${width}x${height}`, async ({ page, request }) => {
    await demoReady(request);
    await page.setViewportSize({ width, height });
    const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
    const { id } = shots.find((s) => s.name === 'Landing')!;
    for (const screen of [
      '/',
      `/shots/${id}/intake`,
      `/shots/${id}/match`,
      `/shots/${id}/build`,
      `/shots/${id}/output`,
    ]) {
      await page.goto(screen);
      await expect(page.locator('.topline')).toBeVisible();
      const size = await page.evaluate(() => {
        const { scrollWidth, scrollHeight } = document.documentElement;
        const cut = [...document.querySelectorAll('.topline *, .bar *')].filter(
          (e) => e.getBoundingClientRect().right > window.innerWidth + 1,
        );
        return { scrollWidth, scrollHeight, cut: cut.length };
      });
      expect({ screen, ...size }).toEqual({ screen, scrollWidth: width, scrollHeight: height, cut: 0 });
    }
  });
}

test('what is picked in the picture is grey; a curve that is drawn is kept; playing puts each frame on the screen', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await newShot(page, 'Picked', 'landing', 'landing.####.exr');
  const { sources, ledger } = await readShot(request, id);
  const beauty = {
    id: 'beauty',
    name: 'Beauty',
    kind: 'pass',
    sourceId: sources[0]!.id,
    pass: 'beauty',
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [
      { kind: 'whiteBalance', enabled: true },
      { kind: 'curves', enabled: true },
    ],
  };
  const document = { version: 2, entries: [beauty] };
  await request.put(`/api/shots/${id}/ledger`, { data: { base: ledger.revision, document, summary: 'beauty' } });
  await page.goto(`/shots/${id}/build`);
  await expect(page.getByTestId('drawn-in')).toBeVisible();
  await page.getByRole('button', { name: /^Beauty/ }).click();
  await page.getByRole('button', { name: 'Pick what shall be grey in the picture' }).click();
  const box = (await page.getByTestId('picture').boundingBox())!;
  // The wooden crate at left, the middle of a pixel of 320 by 180.
  const at = [76.5 / 320, 54.5 / 180] as const;
  await page.mouse.click(box.x + box.width * at[0], box.y + box.height * at[1]);
  const kept = async () =>
    (await readShot(request, id)).ledger.document.entries[0] as unknown as { adjustments: object[] };
  await expect.poll(async () => (await kept()).adjustments[0]).toHaveProperty('picked');
  const codes = () =>
    page.getByTestId('picture').evaluate((canvas: HTMLCanvasElement, [x, y]) => {
      const pixel = [Math.floor(canvas.width * x), Math.floor(canvas.height * y)] as const;
      return [...canvas.getContext('2d')!.getImageData(...pixel, 1, 1).data].slice(0, 3);
    }, at);
  await expect.poll(async () => Math.max(...(await codes())) - Math.min(...(await codes()))).toBeLessThanOrEqual(1);

  const point = page.getByRole('slider', { name: 'Curves, point 2' }).first();
  await point.focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect
    .poll(async () => (await kept()).adjustments[1])
    .toMatchObject({
      master: [
        [0, 0],
        [1, 0.9],
      ],
    });

  await page.getByRole('button', { name: 'Play' }).click();
  const seen = new Set<string>();
  for (let i = 0; i < 200 && seen.size < 4; i++) {
    seen.add((await page.getByTestId('frame').textContent())!);
    await page.waitForTimeout(20);
  }
  await expect(page.getByTestId('measured')).toContainText('dropped');
  await page.getByRole('button', { name: 'Stop' }).click();
  expect(seen.size).toBe(4);
  const stopped = (await page.getByTestId('frame').textContent())!;
  await expect(page.getByRole('button', { name: `Frame ${stopped}` })).toHaveAttribute('aria-current', 'true');
});
