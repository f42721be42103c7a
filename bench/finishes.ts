// What a full ledger takes at 1280x720: twenty rows with adjustments, four mattes and finishes over a drawn scene with depth, one thread, from
// planes in memory, and on two, each half of the rows; then each finish alone above one row; then median and sharpening beside the reference image library (Debian's
// python3-openimageio) at 960x540, in one run.
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import {
  compilePlan,
  completeWhole,
  emptyWhole,
  evaluate,
  gather,
  Heap,
  kernels,
  ShotColour,
  wholeNodes,
  type Entry,
  type InputPlanes,
  type LedgerDocument,
  type Matte,
  type Pass,
  type WholePicture,
} from '@june-haze/core';

const [width, height, runs] = [1280, 720, 5];
const heap = new Heap(kernels());
const colour = new ShotColour();

const pass = (name: string, role: Pass['role'], components: string): Pass => ({
  name,
  role,
  part: 0,
  channels: [...components].map((c) => ({ component: c, name: `${name}.${c}`, type: 'float' })),
});
const passes = [
  ...Array.from({ length: 20 }, (_, i) => pass(`light${i}`, 'diffuse', 'RGB')),
  pass('depth', 'depth', 'Z'),
  pass('place', 'position', 'XYZ'),
];
const common = { enabled: true, mix: 1 } as const;

/** Ground that runs to a horizon, a sky above it, and posts that stand on it; edges a pixel and a half wide. */
function scene(name: string, w: number, h: number): Float32Array {
  const horizon = 0.42 * h;
  const posts = Array.from({ length: 9 }, (_, i) => ({
    x: (0.08 + 0.1 * i) * w,
    far: 3 + 7 * i,
    half: (0.06 * w) / (1 + i),
  }));
  return Float32Array.from({ length: w * h }, (_, i) => {
    const [x, y] = [i % w, Math.floor(i / w)];
    const ground = y > horizon ? (1.6 * h) / (y - horizon) : 1e10;
    let [depth, light] = [ground, y > horizon ? 0.2 + 0.1 * Math.sin(x * 0.3) : 1.1];
    for (const post of posts) {
      const cover = Math.min(1, Math.max(0, (post.half - Math.abs(x - post.x)) / 1.5 + 0.5));
      const stands = y > horizon - (0.5 * h) / post.far && y < horizon + (1.6 * h) / post.far;
      if (!stands || cover === 0 || post.far > depth) continue;
      light = cover * (0.05 + ((i * 7919) % 97) / 400) + (1 - cover) * light;
      if (cover > 0.5) depth = post.far;
    }
    if (name === 'depth.Z') return depth;
    if (name === 'place.Y') return y > horizon ? 0 : 4;
    return light * (0.3 + 0.7 * ((name.charCodeAt(name.length - 1) % 7) / 7));
  });
}

const drawn = new Map<string, Float32Array>();

/** A ledger, ready to be evaluated over some rows. */
function prepare(entries: readonly Entry[], mattes: Readonly<Record<string, Matte>>, w: number, h: number) {
  const document: LedgerDocument = { version: 2, entries, mattes, alphaFrom: null };
  const plan = compilePlan(document, [{ id: 's', name: 's', space: 'Linear Rec.709', passes }], 'ACEScg', colour, {
    frame: 1,
  });
  const plane = (name: string) => {
    const key = `${name} ${w}`;
    return drawn.get(key) ?? drawn.set(key, scene(name, w, h)).get(key)!;
  };
  const window = { x: 0, y: 0, width: w, height: h };
  const inputs = plan.inputs.map((i): InputPlanes => ({ colour: i.colour.map(plane) as never, window }));
  return (firstRow: number, rows: number): void => {
    const whole = new Map<number, WholePicture>();
    for (const node of wholeNodes(plan)) {
      const into = emptyWhole(plan, node, w, h, 0);
      gather(plan, heap, { width: w, height: h, rows: h, inputs, whole }, node, into);
      completeWhole(plan, heap, node, into, 0);
      whole.set(node, into);
    }
    evaluate(plan, heap, { width: w, height: h, firstRow, rows, inputs, whole, onBand: () => undefined });
  };
}

function best(entries: readonly Entry[], mattes: Readonly<Record<string, Matte>>, w = width, h = height): number {
  const make = prepare(entries, mattes, w, h);
  const times = Array.from({ length: runs + 1 }, () => {
    const started = performance.now();
    make(0, h);
    return performance.now() - started;
  });
  return Math.min(...times.slice(1));
}

/** The same on two threads, which begin together: until both are done. */
async function bestOfTwo(): Promise<number> {
  const threads = [0, 1].map((half) => new Worker(import.meta.filename, { workerData: { half } }));
  const heard = () => Promise.all(threads.map((t) => new Promise((done) => t.once('message', done))));
  await heard();
  const times: number[] = [];
  for (let run = 0; run <= 2 * runs; run++) {
    const [started, done] = [performance.now(), heard()];
    for (const thread of threads) thread.postMessage('go');
    await done;
    times.push(performance.now() - started);
  }
  for (const thread of threads) await thread.terminate();
  return Math.min(...times.slice(1));
}

const mattes = {
  far: { kind: 'depth', source: 's', pass: 'depth', near: 10, far: 60 },
  bright: { kind: 'brightness', low: 0.5, high: 1.5 },
  low: { kind: 'position', source: 's', pass: 'place', size: [50, 2, 50] },
  both: { kind: 'combine', of: 'far', and: 'bright' },
} as unknown as Record<string, Matte>;
const names = Object.keys(mattes);
const rows = Array.from({ length: 20 }, (_, i): Entry => ({
  ...common,
  id: `r${i}`,
  name: `r${i}`,
  kind: 'pass',
  sourceId: 's',
  pass: `light${i}`,
  operation: 'plus',
  adjustments: [
    { kind: 'exposure', enabled: true, stops: i / 10 - 3 },
    { kind: 'tint', enabled: true, colour: [1, 0.9, 0.8] },
  ],
  ...(i % 5 === 0 ? { matte: names[i / 5]! } : {}),
}));
const finish = (kind: string, more: object = {}): Entry =>
  ({ ...common, id: kind, name: kind, kind: 'finish', finish: kind, ...more }) as Entry;
const depth = { source: 's', pass: 'depth' };
const finishes = {
  haze: finish('haze', { ...depth, density: 0.03 }),
  'haze that lies low': finish('haze', { ...depth, density: 0.03, position: 'place', thickness: 2 }),
  'haze that scatters': finish('haze', { ...depth, density: 0.03, scatter: 0.7, spread: 8 }),
  defocus: finish('defocus', { ...depth, focus: 8, size: 8, most: 12 }),
  grain: finish('grain'),
  vignette: finish('vignette', { amount: 0.5 }),
  median: finish('median'),
  sharpen: finish('sharpen'),
  fringe: finish('fringe'),
  blur: finish('blur', { size: 6 }),
  glow: finish('glow', { threshold: 0.5 }),
  glare: finish('glare', { threshold: 0.5 }),
};

const full = [...rows, finishes.haze, finishes.defocus, finishes.grain];

const say = (bench: string, ours: number, reference?: number) =>
  console.log(
    JSON.stringify({ bench, ours, ...(reference === undefined ? {} : { reference, ratio: ours / reference }) }),
  );
async function main(): Promise<void> {
  const point = best(rows, mattes);
  say('20 rows with adjustments, 4 mattes, 1280x720', point);
  say(
    'the same with haze, grain and vignette',
    best([...rows, finishes.haze, finishes.grain, finishes.vignette], mattes),
  );
  say('the same with haze, defocus and grain', best(full, mattes));
  say('the same on two threads', await bestOfTwo());
  const one = best([rows[1]!], {});
  for (const [name, entry] of Object.entries(finishes))
    say(`${name} above one row, 1280x720`, best([rows[1]!, entry], {}) - one);

  const theirs = JSON.parse(
    execFileSync('/usr/bin/python3', [join(process.cwd(), 'bench/finishes.py'), '960', '540', String(runs)], {
      encoding: 'utf8',
    }),
  ) as Record<'median' | 'sharpen', number[]>;
  const small = best([rows[1]!], {}, 960, 540);
  for (const name of ['median', 'sharpen'] as const)
    say(`${name}, 960x540`, best([rows[1]!, finishes[name]], {}, 960, 540) - small, Math.min(...theirs[name]));
}

if (!isMainThread) {
  const { half } = workerData as { half: number };
  const make = prepare(full, mattes, width, height);
  parentPort!.on('message', () => {
    make(half * (height / 2), height / 2);
    parentPort!.postMessage('done');
  });
  parentPort!.postMessage('ready');
} else await main();
