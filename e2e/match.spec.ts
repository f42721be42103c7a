import { expect, test } from '@playwright/test';
import { choose, demoReady, demoShot, newShot, readShot } from './steps.ts';

test('Match: Landing’s reference is found and proven with one key; a proof goes stale by itself; words and rows are set and taken back', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  const { id } = shots.find((s) => s.name === 'Landing')!;
  await expect.poll(async () => (await readShot(request, id)).sources.length).toBe(2);
  // A search is about files as they are: they are looked at to the end first.
  const checked = async () => (await readShot(request, id)).sources.every((s) => s.check.stage === 'done');
  await expect.poll(checked, { timeout: 60_000 }).toBe(true);
  const before = await readShot(request, id);
  // Seen otherwise than the renderer saw it, and its numbers taken for others.
  const wrong = { config: null, viewing: { display: 'sRGB', view: 'ACES SDR', exposure: 0.5, look: null } };
  await request.patch(`/api/shots/${id}`, { data: wrong });
  await request.patch(`/api/sources/${before.match.source}`, { data: { declaredSpace: 'Linear Rec.709' } });

  await page.goto(`/shots/${id}/match`);
  const proof = page.getByRole('region', { name: 'Reference proof' });
  await expect(proof.getByText('Differs')).toBeVisible();
  await expect(page.getByRole('link', { name: /^Match/ })).toContainText('differs');
  const finder = page.getByRole('region', { name: 'Finder' });
  await page.keyboard.press('w');
  await expect(finder.getByRole('option').first()).toContainText('ACEScg · sRGB · Haze', { timeout: 60_000 });
  await expect(proof.getByText('Identical')).toBeVisible();
  await expect(proof.getByTestId('proof-largest')).toHaveText(/^[01] codes?$/);
  const found = await readShot(request, id);
  expect([found.viewing.display, found.viewing.view, found.viewing.exposure]).toEqual(['sRGB', 'Haze', 0]);
  expect(found.sources.find((s) => s.id === found.match.source)).toMatchObject({
    declaredSpace: 'ACEScg',
    confirmed: true,
  });
  expect(found.proofs.match.state).toBe('proved');

  // Another viewing: the proof does not stand for it, and one is made anew.
  // The strip may still move as what was found is set: it is clicked again where that hit its neighbour.
  await expect(async () => {
    await page.getByRole('button', { name: 'Haze at dusk sRGB', exact: true }).click({ timeout: 3000 });
    await expect
      .poll(async () => (await readShot(request, id)).viewing, { timeout: 3000 })
      .toMatchObject({ view: 'Haze at dusk', look: null });
  }).toPass();
  await expect(proof.getByText('Differs')).toBeVisible();
  await expect(proof.getByText(/a curve is left over/)).toBeVisible();

  // What the renderer said.
  await page.getByRole('textbox', { name: 'What the renderer said' }).fill('display sRGB, view Haze');
  await page
    .getByRole('region', { name: 'What the renderer said' })
    .getByRole('button', { name: 'Use' })
    .first()
    .click();
  await expect(proof.getByText('Identical')).toBeVisible();
  await expect.poll(async () => (await readShot(request, id)).match.note).toBe('display sRGB, view Haze');
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(proof.getByText('Differs')).toBeVisible();
  expect((await readShot(request, id)).viewing.view).toBe('Haze at dusk');

  // A row of the list by keys alone.
  const rows = finder.getByRole('listbox');
  await rows.focus();
  await page.keyboard.press('Enter');
  await expect(proof.getByText('Identical')).toBeVisible();

  // The config that made it is taken away: a view derived from the picture reproduces it, and is a view of the Library.
  await request.patch(`/api/shots/${id}`, { data: { config: null, viewing: wrong.viewing } });
  await expect(proof.getByText('Differs')).toBeVisible();
  await finder.getByRole('button', { name: 'Derive a view' }).click();
  await expect(finder.getByText('Landing derived is in the Library')).toBeVisible({ timeout: 60_000 });
  await expect(finder.getByText(/light comes back within/)).toBeVisible();
  await finder.getByRole('button', { name: 'Set it as the viewing' }).click();
  await expect(proof.getByText('LUTs of the Library · Landing derived')).toBeVisible();
  const derived = async () => (await readShot(request, id)).match.proof;
  await expect.poll(async () => (await derived())?.deltaE.p95 ?? 9).toBeLessThan(1);

  // The views of another config are seen beside, and one is set with its config.
  await choose(page, 'Whose views are shown', 'Tern');
  // As above: the strip may still move.
  await expect(async () => {
    await page.getByRole('button', { name: 'Haze sRGB', exact: true }).click({ timeout: 3000 });
    await expect.poll(async () => (await readShot(request, id)).viewing.view, { timeout: 3000 }).toBe('Haze');
  }).toPass();
  await expect(proof.getByText('Identical')).toBeVisible();
  expect((await readShot(request, id)).colour.config).toBe(found.colour.config);
});

test('Match: a shot without a reference is seen through every view and neutralised; a search is stopped', async ({
  page,
  request,
}) => {
  await demoReady(request);
  const id = await newShot(page, 'Unmatched', 'landing', 'landing.####.exr');
  await page.goto(`/shots/${id}/match`);
  await expect(page.getByText('No reference yet.')).toBeVisible();
  const views = page.getByRole('group', { name: /^Views and looks/ });
  await views.getByRole('button').first().focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('m');
  await expect(views.getByLabel('marked')).toHaveCount(1);
  await page.getByRole('button', { name: 'Only marked' }).click();
  await expect(views.getByRole('button')).toHaveCount(1);
  await page.getByRole('button', { name: 'Only marked' }).click();
  await views.getByRole('button').nth(1).focus();
  await page.keyboard.press('Enter');
  await expect(views.getByRole('button').nth(1)).toHaveAttribute('aria-pressed', 'true');
  const declared = page.getByRole('group', { name: 'All sources through this viewing' }).getByRole('combobox').first();
  await expect(declared).toBeVisible();
  // A grey that is marked is made grey, and as bright as it is meant to be, on the rows of the ledger.
  const { ledger, match } = await readShot(request, id);
  await request.post(`/api/shots/${id}/ledger/rebuild?by=beauty&source=${match.source}`, {
    data: { base: ledger.revision },
  });
  const neutral = page.getByRole('region', { name: 'Neutralise' });
  await neutral.getByRole('button', { name: 'Type its numbers' }).click();
  for (const name of ['Red', 'Green', 'Blue']) await neutral.getByLabel(`${name} of the grey`).fill('0.36');
  await expect(neutral.getByText(/exposure moves by −1\.00 stops/)).toBeVisible();
  await neutral.getByRole('button', { name: 'Measure the marked grey' }).click();
  await expect(neutral.getByRole('alert')).toHaveText(/Alt and drag/);
  await page.getByRole('application').focus();
  await page.keyboard.press('4');
  await page.keyboard.press('o');
  await neutral.getByRole('button', { name: 'Measure the marked grey' }).click();
  await expect(neutral.getByRole('status')).toContainText('pixels');
  await neutral.getByRole('button', { name: 'Set on 1 row' }).click();
  const adjustments = async () => {
    const [entry] = (await readShot(request, id)).ledger.document.entries;
    return entry?.adjustments ?? [];
  };
  await expect.poll(async () => (await adjustments()).map((a) => a.kind)).toEqual(['whiteBalance', 'exposure']);
  const said = (await neutral.getByRole('status').textContent())!;
  const mean = said.split(' ').slice(0, 3).map(Number);
  const { picked } = (await adjustments())[0] as unknown as { picked: number[] };
  mean.forEach((v, c) => expect(picked[c]!).toBeCloseTo(v, 3));

  // Nothing to search with: a sentence, not a fault.
  const answer = await request.post(`/api/shots/${id}/match/find`, { data: {} });
  expect(await answer.text()).toContain('There is no reference');

  const shots = (await (await request.get('/api/shots')).json()) as { id: string; name: string }[];
  await page.goto(`/shots/${shots.find((s) => s.name === 'Landing')!.id}/match`);
  const finder = page.getByRole('region', { name: 'Finder' });
  await expect(finder).toBeVisible();
  await page.keyboard.press('Shift+W');
  await finder.getByRole('button', { name: 'Stop' }).click();
  await expect(finder.getByRole('button', { name: 'Find and prove' })).toBeVisible();
  await expect(finder.getByRole('option')).toHaveCount(0);
});

test('Match: Kettle is solved by its chart, and brought to a black and a white; a source is declared otherwise and taken back', async ({
  page,
  request,
}) => {
  test.setTimeout(300_000);
  const { id, match } = await demoShot(request, 'Kettle');
  const { ledger } = await readShot(request, id);
  await request.post(`/api/shots/${id}/ledger/rebuild?by=components&source=${match.source}`, {
    data: { base: ledger.revision },
  });
  // The chart's field of patches in the small demo's first frame, and a patch of its white and of its board.
  const pins = [
    [159, 31],
    [192, 32],
    [190, 56],
    [158, 57],
  ];
  const look = (region: object) =>
    page.evaluate(
      ([key, state]) => localStorage.setItem(key!, state!),
      [`june-haze-viewer match ${id}`, JSON.stringify({ pins, region })],
    );
  await page.goto(`/shots/${id}/match`);
  await look({ x: 159, y: 52, width: 4, height: 4 });
  await page.reload();
  const chart = page.getByRole('region', { name: 'Chart' });
  await chart.getByRole('button', { name: 'Measure the chart' }).click();
  await expect(chart.getByRole('status')).toContainText('CIEDE2000 on average');
  await choose(page, 'targets are', 'the same chart in albedo');
  await expect(chart.getByRole('status')).toContainText('Light lies over the chart');
  await chart.getByRole('switch', { name: 'haze or flare' }).click();
  const averages = async () =>
    [...(await chart.getByRole('status').textContent())!.matchAll(/\d+\.\d+/g)].map((m) => Number(m[0]));
  await expect.poll(async () => (await averages())[1]).toBeLessThan(1);
  expect((await averages())[0]).toBeGreaterThan(5);
  await expect(page.locator('.dot')).toHaveCount(24);
  await chart.getByRole('button', { name: /^Set on \d rows/ }).click();
  const matrices = async () => {
    const { entries } = (await readShot(request, id)).ledger.document;
    return entries.flatMap((e) => ('adjustments' in e ? e.adjustments : [])) as unknown as { offset: number[] }[];
  };
  await expect.poll(async () => (await matrices()).length).toBe(6);
  // Rows add up: what is taken off the sum is taken off once.
  expect((await matrices()).filter((m) => m.offset.some((v) => v !== 0))).toHaveLength(1);

  const points = page.getByRole('region', { name: 'Black and white' });
  await points.getByRole('button', { name: 'Measure the white' }).click();
  await points.getByRole('button', { name: 'Measure the black' }).click();
  await expect(points.getByRole('alert')).toContainText('The white must be brighter');

  const declared = page.getByRole('group', { name: 'All sources through this viewing' });
  await choose(page, 'Declared space of kettle_{pass}.####.exr', 'ACEScg');
  const space = async () => (await readShot(request, id)).sources.find((s) => s.id === match.source)!.declaredSpace;
  await expect.poll(space).toBe('ACEScg');
  await declared.getByRole('button', { name: 'Take back' }).click();
  await expect.poll(space).toBe('Linear Rec.709');
});
