// What a slider does, at 1920x1080: twelve passes of halves, a matrix conversion and an exposure each, summed and shown through the ACES SDR
// view; and a blur of radius 5 and 50. The engine against the same steps by the reference image and colour libraries (Debian's
// python3-openimageio and python3-pyopencolorio), from planes in memory, one thread each, in one run.
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import {
  compilePlan,
  evaluate,
  Heap,
  kernels,
  numberToHalf,
  prepareSteps,
  ShotColour,
  type Entry,
  type InputPlanes,
  type LedgerDocument,
  type Pass,
} from '@june-haze/core';

const [width, height, count, runs] = [1920, 1080, 12, 5];
/** Radius, and the picture's size: the reference sums whole squares, which takes minutes over a large one. */
const blurs: [radius: number, width: number, height: number][] = [
  [5, 960, 540],
  [50, 320, 180],
];
const heap = new Heap(kernels());
const colour = new ShotColour();

const best = (list: readonly number[]) => Math.min(...list);
function timed(run: () => void): number[] {
  return Array.from({ length: runs + 1 }, () => {
    const started = performance.now();
    run();
    return performance.now() - started;
  }).slice(1);
}

const passes: Pass[] = Array.from({ length: count }, (_, i) => ({
  name: `pass${i}`,
  role: 'diffuse',
  part: 0,
  channels: ['R', 'G', 'B'].map((c) => ({ component: c, name: `pass${i}.${c}`, type: 'half' })),
}));
const common = { enabled: true, mix: 1 } as const;
const entries = passes.map((p, i): Entry => ({
  ...common,
  id: p.name,
  name: p.name,
  kind: 'pass',
  sourceId: 's',
  pass: p.name,
  operation: 'plus',
  adjustments: [{ kind: 'exposure', enabled: true, stops: i / 10 }],
}));
const compile = (list: readonly Entry[], space: string) => {
  const document: LedgerDocument = { version: 2, entries: list, alphaFrom: null };
  return compilePlan(document, [{ id: 's', name: 's', space, passes }], 'ACEScg', colour);
};

function ledger(): number {
  const plan = compile(entries, 'Linear Rec.709');
  const halves = Uint16Array.from({ length: 1000 }, (_, k) => numberToHalf(k / 500));
  const inputs = plan.inputs.map((_, i): InputPlanes => {
    const plane = () => Uint16Array.from({ length: width * height }, (__, k) => halves[(k * (i + 3)) % 1000]!);
    return { colour: [plane(), plane(), plane()] };
  });
  const mark = heap.mark();
  const view = prepareSteps(colour.view('ACEScg', { display: 'sRGB', view: 'ACES SDR', exposure: 0 }), heap);
  const times = timed(() =>
    evaluate(plan, heap, {
      width,
      rows: height,
      inputs,
      onBand: (_row, rows, [r, g, b]) => view(r, g, b, rows * width),
    }),
  );
  heap.release(mark);
  return best(times);
}

function blur(radius: number, w: number, h: number): number {
  const finish: Entry = { ...common, id: 'b', name: 'Blur', kind: 'finish', finish: 'blur', size: radius / 3.5 };
  const plan = compile([entries[0]!, finish], 'ACEScg');
  const plane = () => Float32Array.from({ length: w * h }, (_, k) => ((k * 7919) % 1000) / 1000);
  const inputs: InputPlanes[] = [{ colour: [plane(), plane(), plane()] }];
  return best(timed(() => evaluate(plan, heap, { width: w, rows: h, inputs, onBand: () => undefined })));
}

const [step] = colour.conversion('Linear Rec.709', 'ACEScg');
const matrix = step?.kind === 'matrix' ? step.matrix : [];
const args = [width, height, count, runs, JSON.stringify(matrix), JSON.stringify(blurs)].map(String);
const theirs = JSON.parse(
  execFileSync('/usr/bin/python3', [join(process.cwd(), 'bench/ledger.py'), ...args], { encoding: 'utf8' }),
) as { ledger: number[]; blurs: Record<string, number[]> };
const report = (bench: string, ours: number, reference: number) =>
  console.log(JSON.stringify({ bench, ours, reference, ratio: ours / reference }));
report('twelve passes of halves, converted, exposed, summed and shown, 1920x1080', ledger(), best(theirs.ledger));
for (const [radius, w, h] of blurs)
  report(`blur of radius ${radius}, ${w}x${h}`, blur(radius, w, h), best(theirs.blurs[radius]!));
