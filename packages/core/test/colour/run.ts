import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { prepareSteps } from '../../src/colour/prepare.ts';
import type { ColourStep } from '../../src/colour/steps.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createWasmKernels } from '../../src/kernel/load.ts';

export type Rgb = [number, number, number];

/** Colours through steps, by the WebAssembly kernels. */
export function run(steps: readonly ColourStep[], values: Rgb[]): Rgb[] {
  const heap = new Heap(createWasmKernels());
  const planes = [0, 1, 2].map(() => heap.allocatePlane(values.length)) as Rgb;
  const process = prepareSteps(steps, heap);
  planes.forEach((p, c) => heap.floats(p, values.length).set(values.map((v) => v[c]!)));
  process(planes[0], planes[1], planes[2], values.length);
  const out = planes.map((p) => heap.floats(p, values.length));
  return values.map((_, i) => [out[0]![i]!, out[1]![i]!, out[2]![i]!]);
}

/** The reference colour library's answers (Debian's python3-pyopencolorio). */
export function reference(cases: { steps: object[]; values: Rgb[] }[]): Rgb[][] {
  const script = join(process.cwd(), 'packages/core/test/colour/reference.py');
  const out = execFileSync('/usr/bin/python3', [script], { input: JSON.stringify(cases), maxBuffer: 1 << 28 });
  return JSON.parse(out.toString()) as Rgb[][];
}

/** Ramps, primaries, negatives, highlights to 200 and random values. */
export function values(negatives: boolean): Rgb[] {
  let state = 20260611;
  const next = () => (state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff) / 0x7fffffff;
  const out: Rgb[] = [
    [0, 0, 0],
    [1, 1, 1],
    [0.18, 0.18, 0.18],
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
    [200, 180, 90],
  ];
  for (let i = 0; i < 200; i++) out.push([i / 100, i / 100, i / 100]);
  for (let i = 0; i < 3000; i++) {
    const size = 10 ** (next() * 5.3 - 3);
    const sign = () => (negatives && next() < 0.1 ? -1 : 1);
    out.push([sign() * next() * size, sign() * next() * size, sign() * next() * size]);
  }
  return out;
}

/** By how much the worst value passes absolute + relative · |expected|; below 0 all are within. */
export function worstExcess(got: Rgb[], want: Rgb[], absolute: number, relative: number): number {
  let worst = -Infinity;
  got.forEach((g, i) => {
    g.forEach((x, c) => {
      const w = want[i]![c]!;
      worst = Math.max(worst, Math.abs(x - w) - absolute - relative * Math.abs(w));
    });
  });
  return worst;
}
