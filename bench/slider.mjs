// What a moving slider costs in the page: the time from the input event to the canvas, at 960x540 with six rows and at 1280x720 with twelve, each
// row with a matrix conversion and an exposure, through the ACES SDR view, beside a plain copy of the same planes in the same page; and how
// frames play that are held. Needs the application: JUNE_URL=http://127.0.0.1:8080 node bench/slider.mjs
import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from 'playwright-core';

const base = process.env.JUNE_URL ?? 'http://127.0.0.1:8080';
const media = process.env.JUNE_MEDIA ?? join(process.cwd(), 'var/media');
const cases = [
  { rows: 6, width: 960, height: 540 },
  { rows: 12, width: 1280, height: 720 },
  // Twenty rows with adjustments, four mattes, and haze, focus and grain above them.
  { rows: 20, width: 1280, height: 720, full: true },
];
const passes = ['diffuse_direct', 'diffuse_indirect', 'emission', 'specular_direct', 'specular_indirect', 'volume'];
const lights = ['light_sun', 'light_sky', 'light_lanterns', 'beauty', 'albedo', 'shadow'];
const milliseconds = 5000;
const frames = 24;

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu'],
});
try {
  for (const wanted of cases.filter((c) => !process.argv[2] || (c.full ? 'full' : `${c.rows}`) === process.argv[2]))
    console.log(JSON.stringify(await measure(wanted)));
} finally {
  await browser.close();
}

/** Traces one frame of the demo where it is not there yet, and makes a shot of it. */
async function makeShot(page, { rows, width, height, full }) {
  const folder = `bench${height}`;
  if (!existsSync(join(media, folder, 'landing.1001.exr'))) {
    const size = ['--width', String(width), '--height', String(height)];
    execFileSync(process.execPath, [
      'dist/tern.mjs',
      join(media, folder),
      '--shot',
      'landing',
      '--frames',
      '1',
      ...size,
    ]);
  }
  for (let frame = 1002; frame < 1001 + frames; frame++)
    copyFileSync(join(media, folder, 'landing.1001.exr'), join(media, folder, `landing.${frame}.exr`));
  const ask = async (method, path, data) => {
    const answer = await page.request.fetch(`${base}/api${path}`, { method, data });
    if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`);
    return answer.json();
  };
  const { id } = await ask('POST', '/shots', { name: `Slider ${height} ${Date.now()}` });
  const data = { folder: `media/${folder}`, patterns: ['landing.####.exr'] };
  const made = await ask('POST', `/shots/${id}/sources`, data);
  const source = made.sources[0].id;
  // Its files are looked through first: that takes its share of the machine.
  for (let stage; stage !== 'done';) {
    await page.waitForTimeout(300);
    stage = (await ask('GET', `/shots/${id}`)).sources[0].check.stage;
  }
  await ask('PATCH', `/sources/${source}`, { declaredSpace: 'Linear Rec.709' });
  await ask('PATCH', `/shots/${id}`, { viewing: { display: 'sRGB', view: 'ACES SDR' } });
  const all = [...passes, ...lights];
  const entries = Array.from({ length: rows }, (_, i) => all[i % all.length]).map((pass, i) => ({
    id: `e${i}`,
    name: pass,
    kind: 'pass',
    sourceId: source,
    pass,
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [
      { kind: 'exposure', enabled: true, stops: full ? -4 : 0.1 * i },
      ...(full ? [{ kind: 'tint', enabled: true, colour: [1, 0.9, 0.8] }] : []),
    ],
    ...(full && i % 5 === 4 ? { matte: ['far', 'bright', 'near', 'both'][(i - 4) / 5] } : {}),
  }));
  const { ledger } = await ask('GET', `/shots/${id}`);
  const document = {
    version: 2,
    entries: [...entries, ...(full ? finishes(source) : [])],
    ...(full ? { mattes: mattes(source) } : {}),
  };
  await ask('PUT', `/shots/${id}/ledger`, { base: ledger.revision, document, summary: 'for the bench' });
  return { id, remove: () => page.request.delete(`${base}/api/shots/${id}`) };
}

function mattes(source) {
  return {
    far: { kind: 'depth', source, pass: 'depth', near: 10, far: 60 },
    bright: { kind: 'brightness', low: 0.5, high: 1.5 },
    near: { kind: 'position', source, pass: 'position', size: [2, 2, 2] },
    both: { kind: 'combine', of: 'far', and: 'bright' },
  };
}

function finishes(source) {
  const each = [
    { finish: 'haze', source, pass: 'depth', density: 0.02 },
    { finish: 'defocus', source, pass: 'depth', focus: 6, size: 8, most: 12 },
    { finish: 'grain' },
  ];
  return each.map((f, i) => ({ ...f, id: `f${i}`, name: `finish ${f.finish}`, kind: 'finish', enabled: true, mix: 1 }));
}

/** A full ledger: its first row's exposure is dragged, then the size of its blur by focus. */
async function measureFull(page, wanted) {
  const figuresOf = async (row, slider) => {
    const button = page.getByTestId('ledger-row').filter({ hasText: row }).first().locator('.row button.plain');
    await button.click();
    const handle = page.getByRole('slider', { name: slider, exact: true });
    await handle.scrollIntoViewIfNeeded();
    await page.waitForTimeout(3000);
    const box = await handle.boundingBox();
    const dragged = await drag(page, box.x + box.width / 2, box.y + box.height / 2);
    const level = await page.getByTestId('drawn-in').textContent();
    // The picture as it is follows when the hand rests.
    await page.waitForTimeout(3000);
    const exact = await page.getByTestId('drawn-in').textContent();
    await button.click();
    return { pictures: dragged.length, ...figures(dragged), level, exact };
  };
  return {
    ...wanted,
    exposure: await figuresOf('diffuse_direct', 'Exposure'),
    focus: await figuresOf('finish defocus', 'Blur by focus blur of infinity'),
  };
}

async function measure(wanted) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const shot = await makeShot(page, wanted);
  try {
    await page.addInitScript(() => {
      globalThis.longTasks = [];
      new PerformanceObserver((list) => globalThis.longTasks.push(...list.getEntries().map((e) => e.duration))).observe(
        {
          type: 'longtask',
        },
      );
    });
    await page.goto(`${base}/shots/${shot.id}/build`);
    await page.waitForFunction(() => /ms/.test(document.querySelector('[data-testid=drawn-in]')?.textContent ?? ''), {
      timeout: 60_000,
    });
    await page.waitForTimeout(3000);
    if (wanted.full) return await measureFull(page, wanted);
    const copy = await page.evaluate(copyTime, wanted);
    await page.getByTestId('ledger-row').first().getByRole('button').first().click();
    const box = await page.getByRole('slider', { name: 'Exposure', exact: true }).boundingBox();
    const y = box.y + box.height / 2;
    const dragged = await drag(page, box.x + box.width / 2, y);
    const { median, ...rest } = figures(dragged);
    const longest = await page.evaluate(() => Math.max(0, ...globalThis.longTasks));
    // The same with the scopes open, and then a comparison flipped that is drawn already.
    await page.keyboard.press('q');
    await page.waitForTimeout(2000);
    const withScopes = figures(await drag(page, box.x + box.width / 2, y));
    await page.keyboard.press('q');
    await page.waitForTimeout(1500);
    const flip = await flipTime(page);
    return {
      ...wanted,
      pictures: dragged.length,
      median,
      ...rest,
      copy,
      ratio: median / copy,
      longest,
      withScopes,
      flip,
      playing: await play(page),
    };
  } finally {
    await shot.remove();
    await page.close();
  }
}

async function drag(page, x, y) {
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.evaluate(() => {
    performance.clearMeasures();
    globalThis.longTasks.length = 0;
  });
  const started = Date.now();
  for (let n = 0; Date.now() - started < milliseconds; n++) {
    await page.mouse.move(x + 40 * Math.sin(n / 9), y);
    await page.waitForTimeout(12);
  }
  const all = await page.evaluate(() => performance.getEntriesByName('june:picture').map((e) => e.duration));
  await page.mouse.up();
  return all;
}

/** From the key to the second picture's being seen, ten times, once both are drawn: the median and the longest. */
async function flipTime(page) {
  await page.keyboard.press('t');
  await page.waitForTimeout(1500);
  await page.keyboard.press('t');
  await page.waitForTimeout(800);
  const times = [];
  for (let i = 0; i < 10; i++) {
    await page.evaluate(() => {
      globalThis.flipped = new Promise((done) => {
        const half = document.querySelector('[data-testid=second]').parentElement;
        const since = { at: 0 };
        addEventListener('keydown', () => (since.at = performance.now()), { capture: true, once: true });
        const seen = new MutationObserver(() => {
          if (half.style.visibility !== 'visible') return;
          seen.disconnect();
          done(performance.now() - since.at);
        });
        seen.observe(half, { attributes: true });
      });
    });
    await page.keyboard.down('t');
    times.push(await page.evaluate(() => globalThis.flipped));
    await page.waitForTimeout(400);
    await page.keyboard.up('t');
    await page.waitForTimeout(300);
  }
  times.sort((a, b) => a - b);
  return { median: times[5], most: times[9] };
}

/** Plays for ten seconds once all frames are held; what the page says it measured. */
async function play(page) {
  await page.getByText(`held ${frames} of ${frames}`).waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Play' }).click();
  await page.waitForTimeout(10_000);
  const told = await page.getByTestId('measured').textContent();
  await page.getByRole('button', { name: 'Stop' }).click();
  return told;
}

function figures(all) {
  const sorted = [...all].sort((a, b) => a - b);
  const at = (share) => Math.round(10 * (sorted[Math.floor(share * (sorted.length - 1))] ?? NaN)) / 10;
  return { median: at(0.5), p95: at(0.95), worst: at(1) };
}

/** A plain copy of the halves of all rows, in milliseconds: what no picture can be quicker than by much. */
function copyTime({ rows, width, height }) {
  const planes = Array.from({ length: rows * 3 }, () => new Uint16Array(width * height).fill(15360));
  const to = new Uint16Array(width * height);
  const times = Array.from({ length: 9 }, () => {
    const started = performance.now();
    for (const p of planes) to.set(p);
    return performance.now() - started;
  });
  return Math.round(10 * Math.min(...times)) / 10;
}
