import { describe, expect, test } from '@jest/globals';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import type { Entry, LedgerDocument } from '../../src/ledger/document.ts';
import { evaluate } from '../../src/ledger/evaluate.ts';
import type { InputPlanes } from '../../src/ledger/evaluation.ts';
import { compilePlan } from '../../src/ledger/compile.ts';
import { stepsOf, type Plan } from '../../src/ledger/plan.ts';
import { summarise, type RowStatistics } from '../../src/ledger/statistics.ts';

const rgb = (name: string, role: 'beauty' | 'diffuse' | 'specular' | 'depth') => ({
  name,
  role,
  part: 0,
  channels: ['R', 'G', 'B', ...(role === 'beauty' ? ['A'] : [])].map((c) => ({
    component: c,
    name: `${name}.${c}`,
    type: 'half' as const,
  })),
});
const source = {
  id: 's',
  name: 'landing',
  space: 'Linear Rec.709',
  passes: [rgb('beauty', 'beauty'), rgb('diffuse', 'diffuse'), rgb('specular', 'specular')],
};
const pass = (name: string, more: Partial<Entry> = {}): Entry =>
  ({
    id: name,
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
const ledger = (entries: Entry[]): LedgerDocument => ({
  version: 1,
  entries,
  balanceAgainst: { sourceId: 's', pass: 'beauty' },
});

const width = 37;
const rows = 23;
/** Any floats: what matters here is that every path gives the same bits. */
function planesOf(plan: Plan, value: (channel: string, i: number) => number): InputPlanes[] {
  return plan.inputs.map((input) => {
    const plane = (name: string) => Float32Array.from({ length: width * rows }, (_, i) => value(name, i));
    return { colour: input.colour.map(plane) as never, ...(input.alpha ? { alpha: plane(input.alpha.channel) } : {}) };
  });
}
const wave = (channel: string, i: number) =>
  Math.fround(Math.abs(Math.sin(i * 0.37 + channel.length * 1.7)) * 2 ** ((i % 9) - 4));

function run(plan: Plan, inputs: InputPlanes[], bandRows: number, kernels = createWasmKernels()) {
  const out = [0, 1, 2, 3].map(() => new Float32Array(width * rows));
  const statistics = evaluate(plan, new Heap(kernels), {
    width,
    rows,
    inputs,
    bandRows,
    statistics: true,
    onBand: (row, count, total, heap) =>
      out.forEach((o, c) => o.set(heap.floats(total[c]!, count * width), row * width)),
  }) as RowStatistics;
  return { out, statistics, summary: summarise(plan, [statistics]) };
}
const one = (entries: Entry[], value: (channel: string, i: number) => number, space = 'Linear Rec.709') => {
  const plan = compilePlan(ledger(entries), [source], space);
  const { out, summary } = run(plan, planesOf(plan, value), rows);
  return { pixel: out.map((o) => o[5]!), summary };
};

describe('the ledger', () => {
  test('plus, minus, multiply and mix', () => {
    const value = (c: string) => (c.startsWith('diffuse') ? 0.5 : c.startsWith('specular') ? 0.25 : 2);
    expect(one([pass('diffuse'), pass('specular')], value).pixel.slice(0, 3)).toEqual([0.75, 0.75, 0.75]);
    expect(one([pass('diffuse'), pass('specular', { operation: 'minus' })], value).pixel[0]).toBe(0.25);
    expect(one([pass('diffuse'), pass('specular', { operation: 'multiply' })], value).pixel[0]).toBe(0.125);
    expect(one([pass('diffuse'), pass('specular', { operation: 'multiply', mix: 0.5 })], value).pixel[0]).toBe(0.3125);
    expect(one([pass('diffuse'), pass('specular', { mix: 0.5 })], value).pixel[0]).toBe(0.625);
  });

  test('over covers by premultiplied alpha; a fill is premultiplied for the person (Porter and Duff 1984, table 1)', () => {
    const value = (c: string) => (c.endsWith('.A') ? 0.25 : 0.2);
    const fill = {
      id: 'f',
      name: 'sky',
      kind: 'fill',
      colour: [1, 0.5, 0],
      alpha: 1,
      enabled: true,
      operation: 'over',
      mix: 1,
      adjustments: [],
    } as Entry;
    const { pixel } = one([fill, pass('beauty', { operation: 'over' })], value);
    expect(pixel[0]).toBeCloseTo(0.2 + 1 * 0.75, 6);
    expect(pixel[1]).toBeCloseTo(0.2 + 0.5 * 0.75, 6);
    expect(pixel[3]).toBe(1);
    const half = one([{ ...fill, alpha: 0.5 } as Entry], value).pixel;
    expect(half).toEqual([0.5, 0.25, 0, 0.5]);
  });

  test('exposure in stops and gain per channel fold into the conversion; disabled ones do nothing', () => {
    const value = () => 0.5;
    const adjustments = [
      { kind: 'exposure', enabled: true, stops: 1 },
      { kind: 'gain', enabled: true, red: 1, green: 0.5, blue: 2 },
      { kind: 'exposure', enabled: false, stops: 9 },
    ] as const;
    expect(one([pass('diffuse', { adjustments })], value).pixel.slice(0, 3)).toEqual([1, 0.5, 2]);
    const plan = compilePlan(ledger([pass('diffuse', { adjustments })]), [source], 'ACEScg');
    expect([...stepsOf(plan)][0]).toMatchObject({ changes: [{ steps: [{ kind: 'matrix' }] }] });
  });

  test('a subtotal is summed on its own, then applied like a pass', () => {
    const value = () => 0.5;
    const subtotal = {
      ...pass('sum'),
      kind: 'subtotal',
      operation: 'multiply',
      entries: [pass('diffuse'), pass('specular')],
    } as Entry;
    expect(one([pass('diffuse', { id: 'x' }), subtotal], value).pixel[0]).toBe(0.5);
  });

  test('shares add up, and the balance finds what is missing', () => {
    const value = (c: string) => (c.startsWith('diffuse') ? 0.75 : c.startsWith('specular') ? 0.25 : 1);
    const whole = one([pass('diffuse'), pass('specular')], value).summary;
    expect(whole.shares.diffuse).toBeCloseTo(0.75, 12);
    expect(whole.balance).toMatchObject({ largest: 0, overShare: 0, balanced: true });
    const part = one([pass('diffuse'), pass('specular', { enabled: false })], value).summary;
    expect(part.balance).toMatchObject({ largest: 0.25, share: 0.25, overShare: 1, balanced: false });
  });

  test('rounding of halves counts as balanced, one step more does not', () => {
    const value = (c: string) => (c.startsWith('beauty') ? 1 : c.startsWith('diffuse') ? 1 + 2 ** -10 : 0);
    expect(one([pass('diffuse'), pass('specular')], value).summary.balance!.balanced).toBe(true);
    const far = (c: string) => (c.startsWith('beauty') ? 1 : c.startsWith('diffuse') ? 1 + 2 ** -8 : 0);
    expect(one([pass('diffuse'), pass('specular')], far).summary.balance!.balanced).toBe(false);
  });

  test('a source that is gone is named', () => {
    expect(() => compilePlan(ledger([pass('diffuse', { sourceId: 'gone' } as never)]), [source], 'ACEScg')).toThrow(
      /Entry "diffuse": its source is no longer/,
    );
  });
});

describe('the same answer everywhere', () => {
  const entries = [
    pass('diffuse', { adjustments: [{ kind: 'exposure', enabled: true, stops: 0.3 }] }),
    {
      ...pass('sum'),
      kind: 'subtotal',
      mix: 0.7,
      entries: [pass('specular'), pass('beauty', { operation: 'over' })],
    } as Entry,
  ];
  const plan = compilePlan(ledger(entries), [source], 'ACEScg');
  const inputs = planesOf(plan, wave);
  const whole = run(plan, inputs, rows);

  test.each([1, 2, 5, 22])('bands of %d rows give the bits of one band', (bandRows) => {
    const split = run(plan, inputs, bandRows);
    expect(split.out).toEqual(whole.out);
    expect(split.summary).toEqual(whole.summary);
  });

  test('the TypeScript twins give the bits of WebAssembly', () => {
    const twin = run(plan, inputs, 4, createTwinKernels());
    expect(twin.out).toEqual(whole.out);
    expect(twin.summary).toEqual(whole.summary);
  });
});
