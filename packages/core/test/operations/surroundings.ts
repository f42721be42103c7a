import { Heap } from '../../src/kernel/heap.ts';
import type { Kernels } from '../../src/kernel/kernels.ts';
import { createWasmKernels } from '../../src/kernel/load.ts';
import { compilePlan, type CompileOptions } from '../../src/ledger/compile.ts';
import type { Adjustment, Entry, LedgerDocument } from '../../src/ledger/document.ts';
import { evaluate } from '../../src/ledger/evaluate.ts';
import type { Evaluation, InputPlanes, KeptPicture, KeptTotal } from '../../src/ledger/evaluation.ts';
import { completeWhole, emptyWhole, gather, wholeNodes } from '../../src/ledger/gather.ts';
import { canBeKept, keepPicture, keepTotal } from '../../src/ledger/kept.ts';
import { stepsOf, type Plan, type PlanStep } from '../../src/ledger/plan.ts';
import type { PlanSource } from '../../src/ledger/planSource.ts';
import type { WholePicture } from '../../src/operations/finish.ts';
import type { PassRole } from '../../src/sequence/passes.ts';

export const pass = (name: string, role: PassRole, components: string) => ({
  name,
  role,
  part: 0,
  channels: [...components].map((c) => ({ component: c, name: `${name}.${c}`, type: 'float' as const })),
});

export const source = (more: Partial<PlanSource> = {}): PlanSource => ({
  id: 's',
  name: 'landing',
  space: 'ACEScg',
  alpha: 'premultiplied',
  passes: [
    pass('beauty', 'beauty', 'RGBA'),
    pass('light', 'light-group', 'RGB'),
    pass('haze', 'volume', 'RGBA'),
    pass('mask', 'matte', 'Y'),
    pass('depth', 'depth', 'Z'),
    pass('place', 'position', 'XYZ'),
    pass('crypto00', 'id-matte', 'RGBA'),
    pass('crypto01', 'id-matte', 'RGBA'),
  ],
  ...more,
});

export const entry = (name: string, more: object = {}): Entry =>
  ({
    id: `${name} ${JSON.stringify(more)}`,
    name,
    kind: 'pass',
    sourceId: 's',
    pass: name,
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [],
    ...more,
  }) as Entry;

export const finish = (kind: string, more: object = {}): Entry =>
  ({
    id: `${kind} ${JSON.stringify(more)}`,
    name: kind,
    kind: 'finish',
    finish: kind,
    enabled: true,
    mix: 1,
    ...more,
  }) as Entry;

/** Samples of a channel of the stand-in source. */
export type Samples = (channel: string) => Float32Array;

export function compile(
  entries: readonly Entry[],
  more: Partial<LedgerDocument> = {},
  options: CompileOptions & { readonly sources?: readonly PlanSource[]; readonly working?: string } = {},
): Plan {
  const { sources = [source()], working = 'ACEScg', ...rest } = options;
  return compilePlan({ version: 2, entries, ...more }, sources, working, undefined, rest);
}

export function inputsOf(plan: Plan, samples: Samples, window?: Partial<InputPlanes>): InputPlanes[] {
  return plan.inputs.map(({ colour, alpha }) => ({
    colour: colour.map(samples) as unknown as InputPlanes['colour'],
    ...(alpha ? { alpha: samples(alpha.channel) } : {}),
    ...window,
  }));
}

interface Picture {
  readonly width: number;
  readonly height: number;
  readonly kernels?: Kernels;
  readonly bandRows?: number;
  readonly level?: number;
  /** Makes the pictures of steps beforehand and keeps them. */
  readonly keep?: boolean;
  /** Makes the totals of runs before their later steps beforehand and keeps them. */
  readonly keepTotals?: boolean;
  /** The first rows of the strips that it is evaluated in; one when left out. */
  readonly cuts?: readonly number[];
}

/** The total's four planes, premultiplied, evaluated in strips. */
export function evaluated(plan: Plan, inputs: readonly InputPlanes[], picture: Picture): Float32Array[] {
  const { width, height, kernels = createWasmKernels(), bandRows, level = 0, cuts = [0] } = picture;
  const { keep = false, keepTotals = false } = picture;
  const heap = new Heap(kernels);
  const total = [0, 1, 2, 3].map(() => new Float32Array(width * height));
  const whole = new Map<number, WholePicture>();
  const windowed = inputs.map((i) => ({ window: { x: 0, y: 0, width, height }, ...i }));
  const common: Omit<Evaluation, 'onBand' | 'rows'> = {
    width,
    height,
    level,
    inputs: windowed,
    whole,
    ...(bandRows ? { bandRows } : {}),
  };
  for (const node of wholeNodes(plan)) {
    const into = emptyWhole(plan, node, width, height, level);
    gather(plan, heap, { ...common, rows: height }, node, into);
    completeWhole(plan, heap, node, into, level);
    whole.set(node, into);
  }
  const kept = new Map<PlanStep, KeptPicture>();
  for (const step of keep ? stepsOf(plan) : []) {
    const made = canBeKept(step) ? keepPicture(plan, heap, { ...common, rows: height }, step) : undefined;
    if (made) kept.set(step, made);
  }
  const keptTotals = new Map<number, KeptTotal>();
  plan.nodes.forEach((node, i) => {
    if (!keepTotals || node.kind !== 'run') return;
    const rows = { node: i, steps: Math.ceil(node.steps.length / 2), top: 0, end: height };
    keptTotals.set(i, keepTotal(plan, heap, { ...common, kept, keptTotals }, rows));
  });
  cuts.forEach((firstRow, i) =>
    evaluate(plan, heap, {
      ...common,
      kept,
      keptTotals,
      firstRow,
      rows: (cuts[i + 1] ?? height) - firstRow,
      onBand: (row, rows, quad, h) =>
        quad.forEach((p, c) => total[c]!.set(h.floats(p, rows * width), (firstRow + row) * width)),
    }),
  );
  return total;
}

/** Pixels through one adjustment: red, green, blue, and alpha where they have four; the pass has alpha then. */
export function adjusted(
  adjustment: object,
  pixels: readonly (readonly number[])[],
  { kernels, working, matte, frame = 0 }: { kernels?: Kernels; working?: string; matte?: object; frame?: number } = {},
): number[][] {
  const hasAlpha = pixels[0]!.length === 4;
  const plan = compile(
    [
      entry(hasAlpha ? 'haze' : 'light', {
        operation: 'replace',
        adjustments: [{ enabled: true, ...adjustment } as Adjustment],
      }),
    ],
    { alphaFrom: null, ...(matte ? { mattes: { m: matte as never } } : {}) },
    { frame, ...(working ? { working, sources: [source({ space: working })] } : {}) },
  );
  const channel = (c: number) => Float32Array.from(pixels, (p) => p[c] ?? 0);
  const inputs = inputsOf(plan, (name) => channel('RGBA'.indexOf(name.at(-1)!)));
  const planes = evaluated(plan, inputs, { width: pixels.length, height: 1, ...(kernels ? { kernels } : {}) });
  return pixels.map((p, i) => p.map((_, c) => planes[c]![i]!));
}

/** Numbers of a seed, 0 … 1. */
export function randomFrom(seed: number): () => number {
  let state = seed * 2654435761;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    return (state >>> 0) / 4294967296;
  };
}
