// Twelve RGB passes at 1920x1080 summed with a gain each: the engine against the same sum done by the reference image
// library (OpenImageIO, Debian's python3-openimageio), both from planes in memory, one thread, in one run.
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import {
  compilePlan,
  evaluate,
  Heap,
  kernels,
  type InputPlanes,
  type LedgerDocument,
  type Pass,
} from '@june-haze/core';

const [width, height, count, runs] = [1920, 1080, 12, 5];
const passes: Pass[] = Array.from({ length: count }, (_, i) => ({
  name: `pass${i}`,
  role: 'diffuse',
  part: 0,
  channels: ['R', 'G', 'B'].map((c) => ({ component: c, name: `pass${i}.${c}`, type: 'float' })),
}));
const document: LedgerDocument = {
  version: 1,
  entries: passes.map((p, i) => ({
    id: p.name,
    name: p.name,
    kind: 'pass',
    sourceId: 's',
    pass: p.name,
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [{ kind: 'gain', enabled: true, red: 1 + i / 10, green: 1, blue: 1 - i / 20 }],
  })),
};
const plan = compilePlan(document, [{ id: 's', name: 's', space: 'ACEScg', passes }], 'ACEScg');
const inputs = plan.inputs.map((_, i): InputPlanes => {
  const plane = () => Float32Array.from({ length: width * height }, (__, k) => ((k * (i + 3)) % 1000) / 500);
  return { colour: [plane(), plane(), plane()] };
});
const heap = new Heap(kernels());
const ours: number[] = [];
for (let r = 0; r <= runs; r++) {
  const started = performance.now();
  evaluate(plan, heap, { width, rows: height, inputs, onBand: () => undefined });
  if (r > 0) ours.push(performance.now() - started);
}
const script = join(process.cwd(), 'bench/ledger.py');
const theirs = JSON.parse(
  execFileSync('/usr/bin/python3', [script, String(width), String(height), String(count), String(runs)], {
    encoding: 'utf8',
  }),
) as number[];
const [mine, reference] = [Math.min(...ours), Math.min(...theirs)];
console.log(
  JSON.stringify({ bench: 'ledger of 12 RGB passes, 1920x1080', ours: mine, reference, ratio: mine / reference }),
);
