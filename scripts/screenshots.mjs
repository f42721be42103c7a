// Takes the pictures of docs/screenshots from the running application's demo shots. Start the application first.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { root } from './paths.mjs';

const address = process.env.JUNE_URL ?? 'http://127.0.0.1:8080';
const folder = join(root, 'docs/screenshots');
mkdirSync(folder, { recursive: true });
const shots = await (await fetch(`${address}/api/shots`)).json();
const named = (name) => shots.find((s) => s.name === name);
const landing = named('Landing');
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const views = {
  shelf: '/',
  intake: `/shots/${landing.id}/intake`,
  problems: `/shots/${named('Last boat').id}/intake`,
  match: `/shots/${landing.id}/match`,
  build: `/shots/${landing.id}/build`,
  mattes: `/shots/${named('Kettle').id}/build`,
  viewer: `/shots/${landing.id}/build`,
  output: `/shots/${landing.id}/output`,
  library: '/library',
};
// All of them, or those that are named.
const wanted = process.argv.slice(2);
let added;
for (const [name, path] of Object.entries(views)) {
  if (wanted.length && !wanted.includes(name)) continue;
  await page.goto(address + path);
  // The stream of events never rests: what is looked at is waited for below.
  await page.waitForTimeout(1500);
  if (name === 'intake') await page.locator('button.source', { hasText: 'landing.####' }).click();
  if (name === 'problems') await page.locator('button.source', { hasText: 'approved' }).click();
  if (name === 'match') {
    await page.getByTestId('proof-largest').waitFor();
    await page.keyboard.press('Shift+W');
    await page.getByRole('region', { name: 'Finder' }).getByRole('option').first().waitFor({ timeout: 60_000 });
  }
  if (name === 'build') {
    await page.getByTestId('drawn-in').waitFor();
    await page.getByRole('button', { name: /^Specular, indirect/ }).click();
    await page.mouse.move(470, 420);
  }
  if (name === 'mattes') {
    await page.getByTestId('drawn-in').waitFor();
    await page.getByRole('button', { name: 'copper and crates', exact: true }).click();
    await page.getByRole('region', { name: 'Matte copper and crates' }).waitFor();
    await page.waitForTimeout(2500);
  }
  if (name === 'viewer') {
    await page.getByTestId('drawn-in').waitFor();
    for (const key of ['q', 'x']) {
      await page.keyboard.press(key);
      await page.waitForTimeout(600);
    }
    await page.mouse.move(330, 380);
    for (let i = 0; i < 8; i++) await page.mouse.wheel(0, -120);
    await page.getByRole('button', { name: /^\d+, \d+$/ }).waitFor();
  }
  // An output for as long as the picture takes, and a frame tried through it.
  if (name === 'output') {
    const data = {
      name: 'review',
      kind: 'movie',
      codec: 'h264',
      quality: 70,
      codes: 'bt1886',
      sampleType: 'half',
      compression: 'zip',
      firstFrame: 1001,
      lastFrame: 1024,
    };
    const { outputs } = await (await page.request.post(`${address}/api/shots/${landing.id}/outputs`, { data })).json();
    added = outputs.at(-1).id;
    const card = page.getByRole('article', { name: 'review' });
    await card.getByRole('button', { name: 'Try it' }).click();
    await card.getByRole('region', { name: 'Tried frame' }).getByRole('status').waitFor();
  }
  if (name === 'library') {
    await page.getByRole('link', { name: /^Tern/ }).click();
    await page.getByLabel('Compare with').click();
    await page.locator('.ant-select-dropdown:visible').getByText('Tern itself', { exact: true }).click();
    await page.getByLabel('Other: view').click();
    await page.locator('.ant-select-dropdown:visible').getByText('sRGB · Untoned', { exact: true }).click();
  }
  const pictured = name !== 'library' && name !== 'output';
  // Match's strip reaches out of sight: what is not seen is not fetched.
  if (name !== 'match')
    await page.waitForFunction(
      (some) =>
        (!some || document.images.length > 0) && [...document.images].every((i) => i.complete && i.naturalWidth > 0),
      pictured,
    );
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(folder, `${name}.png`) });
  if (added) await page.request.delete(`${address}/api/outputs/${added}`);
  added = undefined;
}
await browser.close();
