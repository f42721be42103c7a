import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import {
  bakedLooks,
  lookFilesOf,
  type Adjustment,
  type Entry,
  type PassEntry,
  type SubtotalEntry,
} from '../../src/ledger/document.ts';
import { evaluate } from '../../src/ledger/evaluate.ts';
import { compilePlan } from '../../src/ledger/compile.ts';
import { summarise } from '../../src/ledger/statistics.ts';
import { readLut } from '../../src/lut/read.ts';
import { run } from '../colour/run.ts';
import { open, write } from '../config/compare.ts';
import { landingConfig, landingFiles } from '../config/configs.ts';

/** ASC CDL 1.2: slope 2, offset 0.1, power 2 in each channel, no saturation: (2 x + 0.1)². */
const cdl = readLut(
  new TextEncoder().encode(
    '<ColorCorrection id="a"><SOPNode><Slope>2 2 2</Slope><Offset>0.1 0.1 0.1</Offset><Power>2 2 2</Power></SOPNode></ColorCorrection>',
  ),
  'a.cc',
);
const lift = readLut(
  new TextEncoder().encode(
    '<ColorCorrection id="b"><SOPNode><Slope>1 1 1</Slope><Offset>0.25 0.25 0.25</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection>',
  ),
  'b.cc',
);
const graded = (x: number) => (2 * x + 0.1) ** 2;
const colour = new ShotColour(
  undefined,
  new Map([
    ['a', cdl],
    ['b', lift],
  ]),
);

const look = (id: string, enabled = true): Adjustment => ({
  kind: 'look',
  enabled,
  look: null,
  lookFile: { id, name: `${id}.cc`, space: 'ACEScg' },
});
const brighter: Adjustment = { kind: 'exposure', enabled: true, stops: 1 };
const common = { enabled: true, mix: 1, operation: 'plus' } as const;
const fill = (value: number, alpha: number, adjustments: readonly Adjustment[]): Entry => ({
  ...common,
  kind: 'fill',
  id: 'fill',
  name: 'Mist',
  operation: 'over',
  colour: [value, value, value],
  alpha,
  adjustments,
});
const source = {
  id: 's',
  name: 'landing',
  space: 'ACEScg',
  passes: [
    {
      name: 'beauty',
      role: 'beauty' as const,
      part: 0,
      channels: ['R', 'G', 'B', 'A'].map((c) => ({ component: c, name: c, type: 'float' as const })),
    },
  ],
};
const pass = (adjustments: readonly Adjustment[]): PassEntry => ({
  ...common,
  kind: 'pass',
  id: 'pass',
  name: 'Beauty',
  sourceId: 's',
  pass: 'beauty',
  adjustments,
});

/** Red and alpha of one pixel; `planes` is its colour and alpha in the source. */
function pixel(entries: Entry[], planes: readonly [number, number] = [0, 0], kernels = createWasmKernels()) {
  const plan = compilePlan({ version: 1, entries }, [source], 'ACEScg', colour);
  const flat = (x: number) => Float32Array.of(x, x, x, x);
  let out: [number, number] = [NaN, NaN];
  evaluate(plan, new Heap(kernels), {
    width: 4,
    rows: 1,
    inputs: plan.inputs.map((i) => ({
      colour: i.colour.map((c) => flat(planes[c === 'A' ? 1 : 0])) as never,
      ...(i.alpha ? { alpha: flat(planes[1]) } : {}),
    })),
    onBand: (_row, _rows, total, heap) => (out = [heap.floats(total[0], 4)[1]!, heap.floats(total[3], 4)[1]!]),
  });
  return out;
}

describe('a look baked by an adjustment', () => {
  test('runs where it stands in the chain', () => {
    expect(pixel([fill(0.2, 1, [look('a')])])[0]).toBeCloseTo(graded(0.2), 6);
    expect(pixel([fill(0.2, 1, [brighter, look('a')])])[0]).toBeCloseTo(graded(0.4), 6);
    expect(pixel([fill(0.2, 1, [look('a'), brighter])])[0]).toBeCloseTo(2 * graded(0.2), 6);
    expect(pixel([fill(0.2, 1, [look('a', false)])])[0]).toBeCloseTo(0.2, 6);
  });

  test('works on colour that is divided by alpha, and multiplies it in again', () => {
    expect(pixel([fill(0.2, 0.5, [look('a')])])[0]).toBeCloseTo(graded(0.2) * 0.5, 6);
    // 0.1 over alpha 0.5 is a straight 0.2.
    expect(pixel([pass([look('a')])], [0.1, 0.5])[0]).toBeCloseTo(graded(0.2) * 0.5, 6);
    // An offset alone is no multiplication either.
    expect(pixel([pass([look('b')])], [0.1, 0.5])[0]).toBeCloseTo((0.2 + 0.25) * 0.5, 6);
  });

  test('light where alpha is 0 has no straight colour: it stays as it was and does not vanish', () => {
    expect(pixel([pass([look('a')])], [0.3, 0])).toEqual([expect.closeTo(0.3, 6), 0]);
  });

  test('on a subtotal it works on the sum', () => {
    const again = { ...pass([]), id: 'again' };
    const subtotal = (first: Entry): SubtotalEntry => ({
      ...common,
      kind: 'subtotal',
      id: 'sum',
      name: 'Sum',
      entries: [first, again],
      adjustments: [look('a')],
    });
    // Two times 0.1 over one alpha of 0.25: straight 0.8. Light that is only summed has no alpha of its own.
    expect(pixel([subtotal({ ...pass([]), operation: 'over' })], [0.1, 0.25])[0]).toBeCloseTo(graded(0.8) * 0.25, 6);
    expect(pixel([subtotal(pass([]))], [0.1, 0.25])[0]).toBeCloseTo(graded(0.2), 6);
  });

  test('is the same to the bit with the twins', () => {
    const entries = [pass([brighter, look('a')]), fill(0.3, 0.4, [look('b'), look('a')])];
    expect(pixel(entries, [0.123, 0.77])).toEqual(pixel(entries, [0.123, 0.77], createTwinKernels()));
  });

  test('pixels beyond the ends of a look’s table are counted, entry by entry', () => {
    const table = readLut(new TextEncoder().encode('LUT_1D_SIZE 3\n0 0 0\n0.6 0.6 0.6\n1 1 1\n'), 'c.cube');
    const shot = new ShotColour(undefined, new Map([['c', table]]));
    const plan = compilePlan({ version: 1, entries: [pass([look('c')]), fill(0.5, 1, [])] }, [source], 'ACEScg', shot);
    const planes = Float32Array.of(0.2, 0.9, 1.1, 5);
    const statistics = evaluate(plan, new Heap(createWasmKernels()), {
      width: 4,
      rows: 1,
      statistics: true,
      inputs: plan.inputs.map(() => ({ colour: [planes, planes, planes], alpha: Float32Array.of(1, 1, 1, 10) })),
      onBand: () => undefined,
    })!;
    // Of 0.2, 0.9, 1.1 and 5 / 10 only the third lies beyond 1.
    expect(summarise(plan, [statistics]).cutOff).toEqual({ pass: 0.25 });
    expect(summarise(plan, [statistics, statistics]).cutOff).toEqual({ pass: 0.25 });
  });

  test('what is gone is named with its entry', () => {
    expect(() => pixel([fill(0.2, 1, [look('c')])])).toThrow(/Entry "Mist": baked look: .*look file.*"c\.cc"/);
    const named: Adjustment = { kind: 'look', enabled: true, look: 'dawn', lookFile: null };
    expect(() => pixel([fill(0.2, 1, [named])])).toThrow(/Entry "Mist": baked look: .*"dawn"/);
  });

  test('looks of a config come back in the working space', () => {
    const config = open(write(landingConfig, landingFiles));
    const shot = new ShotColour(config);
    const steps = shot.lookInPlace('Linear Rec.709', { look: 'dusk', lookFile: null });
    const there = shot.conversion('Linear Rec.709', 'ACEScg');
    const by = [...there, ...config.look('ACEScg', 'dusk'), ...shot.conversion('ACEScg', 'Linear Rec.709')];
    const colours: [number, number, number][] = [
      [0.18, 0.18, 0.18],
      [0.5, 0.2, 0.1],
    ];
    const [got, want] = [run(steps, colours), run(by, colours)];
    got.forEach((v, i) => v.forEach((x, c) => expect(x).toBeCloseTo(want[i]![c]!, 5)));
    expect(got[0]![0]).not.toBeCloseTo(0.18, 3);
  });

  test('the ledger says which looks act, and which files it needs', () => {
    const off = { ...fill(1, 1, [look('b')]), enabled: false };
    const document = { version: 1 as const, entries: [fill(0.2, 1, [look('a'), look('b', false)]), off] };
    expect(bakedLooks(document)).toEqual([{ entry: 'Mist', look: 'a.cc' }]);
    expect(lookFilesOf(document)).toEqual(['a', 'b']);
  });
});
