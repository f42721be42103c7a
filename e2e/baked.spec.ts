import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { zipSync } from 'fflate';
import {
  addAdjustment,
  addEntry,
  choose,
  demoReady,
  middlePixel,
  newShot,
  readShot,
  writeFloatFrame,
} from './steps.ts';

/** ASC CDL 1.2: twice the light and a lift of 0.05. */
const doubled =
  '<ColorCorrection id="doubled"><SOPNode><Slope>2 2 2</Slope><Offset>0.05 0.05 0.05</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection>';

async function bringIn(page: Page, name: string, content: string | Uint8Array): Promise<string> {
  const path = join(mkdtempSync(join(tmpdir(), 'june-baked-')), name);
  writeFileSync(path, content);
  await page.goto('/library');
  await page.locator('input[type=file]').first().setInputFiles(path);
  const title = name.replace('.zip', '');
  await expect(page.getByRole('link', { name: new RegExp(`^${title}`) })).toBeVisible();
  const items = (await (await page.request.get('/api/library')).json()) as { id: string; name: string }[];
  return items.find((i) => i.name === title)!.id;
}

test('a look baked into an entry is marked everywhere and is in the files, multiplied by alpha', async ({ page }) => {
  await demoReady(page.request);
  const id = await bringIn(page, 'doubled.cc', doubled);
  // It expects scene light; the Library takes a CDL for one on ACEScct until a person says otherwise.
  const use = { as: 'look', space: 'ACEScg' };
  expect((await page.request.patch(`/api/library/${id}`, { data: { use } })).ok()).toBe(true);
  const shot = await newShot(page, 'Baked', 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'beauty');
  await page.getByRole('button', { name: /^Beauty/ }).click();
  await addAdjustment(page, 'Baked look');
  await choose(page, 'Baked look file', 'doubled.cc, on ACEScg');
  await expect(page.getByTestId('ledger-row').getByText('baked', { exact: true })).toBeVisible();
  await expect
    .poll(async () => (await readShot(page.request, shot)).ledger.document.entries[0]!)
    .toMatchObject({ adjustments: [{ kind: 'look', lookFile: { id, space: 'ACEScg' } }] });

  const card = await writeFloatFrame(page);
  await expect(card.getByText('baked: look doubled.cc (Beauty)')).toBeVisible();
  await expect(
    card.getByText('The look doubled.cc is baked into the entry Beauty: it is in every file.'),
  ).toBeVisible();
  const beauty = middlePixel(join(process.env.JUNE_MEDIA!, 'landing/landing.1001.exr'), 'R,G,B,A');
  const written = middlePixel(join(process.env.JUNE_OUTPUT!, 'baked/baked_float_acescg.1001.exr'), 'R,G,B,A');
  const alpha = beauty[3]!;
  expect(alpha).toBeGreaterThan(0);
  for (let c = 0; c < 3; c++) expect(written[c]).toBeCloseTo(2 * beauty[c]! + 0.05 * alpha, 4);
  expect(written[3]).toBe(alpha);

  // Taken off again, the files are of then.
  await page.getByRole('link', { name: /^Build/ }).click();
  await page.getByRole('button', { name: /^Beauty/ }).click();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await page.getByRole('link', { name: /^Output/ }).click();
  await expect(card.getByText('changed since')).toBeVisible();
  await expect(card.getByText(/^baked:/)).toHaveCount(0);
});

const config = `ocio_profile_version: 2
environment: {GRADE: warm}
search_path: luts
roles: {aces_interchange: ap0, default: ap0}
displays: {Wall: [!<View> {name: Evening, colorspace: shown, looks: grade}]}
looks: [!<Look> {name: grade, process_space: ap0, transform: !<FileTransform> {src: "$GRADE.cc"}}]
colorspaces:
  - !<ColorSpace> {name: ap0}
  - !<ColorSpace> {name: shown, from_scene_reference: !<BuiltinTransform> {style: ACEScct_to_ACES2065-1, direction: inverse}}
`;

test('a config’s variable takes the shot’s value; one that leads to no file is refused and put back', async ({
  page,
}) => {
  await demoReady(page.request);
  const text = (s: string) => new TextEncoder().encode(s);
  const dark = doubled.replace('2 2 2', '0.25 0.25 0.25').replace(/0\.05/g, '0');
  const files = { 'config.ocio': text(config), 'luts/warm.cc': text(doubled), 'luts/dark.cc': text(dark) };
  await bringIn(page, 'Evening.zip', zipSync(files));
  const shot = await newShot(page, 'Variables', 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  await addEntry(page, 'A fill');
  const middle = () =>
    page
      .getByTestId('picture')
      .evaluate((c: HTMLCanvasElement) => c.getContext('2d')!.getImageData(60, 60, 1, 1).data[1]!);
  await page.getByLabel('Working space and viewing').click();
  await choose(page, 'Config', 'Evening');
  // ACEScct (S-2016-001) of 0.18 · 2 + 0.05, then of 0.18 / 4: (log2 x + 9.72) / 17.52.
  await expect.poll(middle).toBe(Math.round(((Math.log2(0.41) + 9.72) / 17.52) * 255));
  const grade = page.getByLabel('$GRADE');
  await grade.fill('dark');
  await grade.press('Enter');
  await expect.poll(middle).toBe(Math.round(((Math.log2(0.045) + 9.72) / 17.52) * 255));
  await grade.fill('gone');
  await grade.press('Enter');
  await expect(page.getByText(/the file "gone\.cc" is missing/)).toBeVisible();
  await expect(grade).toHaveValue('dark');
  expect((await readShot(page.request, shot)).colour.variables).toEqual({ GRADE: 'dark' });
});
