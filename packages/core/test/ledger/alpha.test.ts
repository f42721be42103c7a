import { describe, expect, test } from '@jest/globals';
import type { AlphaKind } from '../../src/intake/fileFacts.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createWasmKernels } from '../../src/kernel/load.ts';
import type { Entry, LedgerDocument } from '../../src/ledger/document.ts';
import { evaluate } from '../../src/ledger/evaluate.ts';
import type { InputPlanes } from '../../src/ledger/evaluation.ts';
import { compilePlan } from '../../src/ledger/compile.ts';
import { PlanError } from '../../src/ledger/plan.ts';
import { planSource, type PlanSource } from '../../src/ledger/planSource.ts';
import { summarise } from '../../src/ledger/statistics.ts';
import type { PassRole } from '../../src/sequence/passes.ts';

// The rules of alpha, cell by cell. Values are Porter and Duff 1984 ("Compositing Digital Images", table 1) worked by hand, and
// common practice of summing light (no source): light adds, alpha does not.

const pass = (name: string, role: PassRole, components: string) => ({
  name,
  role,
  part: 0,
  channels: [...components].map((c) => ({ component: c, name: `${name}.${c}`, type: 'float' as const })),
});
const sourceOf = (alpha: AlphaKind, space = 'ACEScg'): PlanSource =>
  planSource({
    id: 's',
    name: 'landing',
    declaredSpace: space,
    alpha,
    width: 8,
    height: 1,
    pixelAspect: 1,
    still: false,
    firstFrame: 1,
    lastFrame: 1,
    reading: { placement: null, beyond: 'stop' },
    passes: [
      pass('beauty', 'beauty', 'RGBA'),
      pass('sun', 'light-group', 'RGB'),
      pass('sky', 'light-group', 'RGB'),
      pass('haze', 'volume', 'RGBA'),
      pass('plain', 'other', 'RGB'),
      pass('depth', 'depth', 'Z'),
      pass('mask', 'matte', 'RGB'),
    ],
  });
const entry = (name: string, more: object = {}) =>
  ({
    id: `${name}${JSON.stringify(more)}`,
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
const sub = (entries: Entry[], more: object = {}) => entry('sub', { kind: 'subtotal', entries, ...more });

/** One pixel of the total: red, green, blue, alpha. */
function total(
  entries: Entry[],
  values: Record<string, number>,
  { alpha = 'premultiplied', space, more = {} }: { alpha?: AlphaKind; space?: string; more?: object } = {},
) {
  const document = { version: 1, entries, ...more } as LedgerDocument;
  const plan = compilePlan(document, [sourceOf(alpha, space)], 'ACEScg');
  const plane = (name: string) => Float32Array.of(values[name] ?? values[name.split('.')[0]!] ?? 0);
  const inputs = plan.inputs.map((i): InputPlanes => ({
    colour: i.colour.map(plane) as never,
    ...(i.alpha ? { alpha: plane(i.alpha.channel) } : {}),
  }));
  let pixel: number[] = [];
  const statistics = evaluate(plan, new Heap(createWasmKernels()), {
    width: 1,
    rows: 1,
    inputs,
    statistics: true,
    onBand: (_row, _rows, quad, heap) => (pixel = quad.map((p) => heap.floats(p, 1)[0]!)),
  })!;
  return { pixel, plan, balance: summarise(plan, [statistics]).balance };
}
const half = { beauty: 0.2, 'beauty.A': 0.5, sun: 0.3, sky: 0.1, plain: 0.4, haze: 0.1, 'haze.A': 0.25 };

describe('alpha of a total', () => {
  test('a ledger summed from passes has the alpha of its render once', () => {
    expect(total([entry('sun'), entry('sky'), entry('haze')], half).pixel[3]).toBe(0.5);
    expect(total([sub([entry('sun')]), entry('sky')], half).pixel[3]).toBe(0.5);
  });

  test('taking a light out and putting it back leaves it to the bit', () => {
    const again = [entry('beauty'), entry('beauty', { operation: 'minus' }), entry('beauty', { id: 'back' })];
    expect(total(again, half).pixel[3]).toBe(0.5);
  });

  test.each(['plus', 'minus', 'multiply'])('%s leaves it', (operation) => {
    expect(total([entry('beauty'), entry('haze', { operation })], half).pixel[3]).toBe(0.5);
  });

  test('over composes it; what has no alpha covers, alone, in a subtotal, and read as having none', () => {
    const under = entry('beauty');
    expect(total([under, entry('haze', { operation: 'over' })], half).pixel[3]).toBe(0.25 + 0.5 * 0.75);
    expect(total([under, entry('plain', { operation: 'over' })], half).pixel).toEqual(
      [0.4, 0.4, 0.4, 1].map(Math.fround),
    );
    expect(total([under, sub([entry('plain')], { operation: 'over' })], half).pixel).toEqual(
      [0.4, 0.4, 0.4, 1].map(Math.fround),
    );
    const none = total([entry('sun'), entry('haze', { operation: 'over' })], half, { alpha: 'none' });
    expect(none.pixel).toEqual([0.1, 0.1, 0.1, 1].map(Math.fround));
  });

  test('a subtotal has alpha when something in it composed one', () => {
    const inner = sub([entry('haze', { operation: 'over' })], { operation: 'over' });
    expect(total([entry('plain', { operation: 'over' }), inner], half).pixel[0]).toBeCloseTo(0.1 + 0.4 * 0.75, 6);
  });

  test('nothing begins after an over: what is laid down first is laid on nothing', () => {
    expect(total([entry('haze', { operation: 'over' }), entry('sun')], half).pixel[3]).toBe(0.25);
  });

  test('a named pass is taken, null means none, and a total without alpha covers', () => {
    const named = { alphaFrom: { sourceId: 's', pass: 'haze' } };
    expect(total([entry('sun')], half, { more: named }).pixel[3]).toBe(0.25);
    const nothing = total([entry('sun')], half, { more: { alphaFrom: null } });
    expect([nothing.pixel[3], nothing.plan.hasAlpha]).toEqual([1, false]);
    expect(total([entry('beauty')], half, { alpha: 'none' }).plan.hasAlpha).toBe(false);
    expect(total([entry('beauty')], half).plan.hasAlpha).toBe(true);
  });

  test('switching the first light off takes the alpha of the next one’s render', () => {
    expect(total([entry('beauty', { enabled: false }), entry('sun')], half).pixel[3]).toBe(0.5);
  });
});

describe('colour and alpha', () => {
  test('straight colour is multiplied by its alpha, premultiplied is not, none ignores A', () => {
    const value = (alpha: AlphaKind) => total([entry('beauty')], half, { alpha }).pixel[0];
    expect(value('straight')).toBeCloseTo(0.1, 7);
    expect(value('premultiplied')).toBe(Math.fround(0.2));
    expect(value('none')).toBe(Math.fround(0.2));
  });

  test.each(['ACEScg', 'Linear Rec.709', 'sRGB', 'ACEScct'])(
    'a beauty built from itself is balanced for every kind of alpha, declared as %s',
    (space) => {
      const adjusted = total([entry('beauty', { adjustments: [] })], half, { space });
      expect(adjusted.balance).toBeUndefined();
      for (const alpha of ['premultiplied', 'straight', 'none'] as const) {
        const more = { balanceAgainst: { sourceId: 's', pass: 'beauty' } };
        expect(total([entry('beauty')], half, { alpha, space, more }).balance).toMatchObject({ largest: 0, share: 0 });
      }
    },
  );

  test('multiplying at mix 1 is the product, next to nothing too', () => {
    const dark = { ...half, beauty: 0.7, sun: 1e-7 };
    const { pixel } = total([entry('beauty'), entry('sun', { operation: 'multiply' })], dark);
    expect(pixel[0]).toBe(Math.fround(Math.fround(0.7) * Math.fround(1e-7)));
    const mixed = total([entry('beauty'), entry('sun', { operation: 'multiply', mix: 0.25 })], dark).pixel[0]!;
    expect(mixed / (0.7 + 0.25 * (0.7e-7 - 0.7))).toBeCloseTo(1, 6);
  });

  test.each([Infinity, -Infinity, NaN])('what covers wholly hides %d beneath', (value) => {
    const { pixel } = total([entry('beauty'), entry('plain', { operation: 'over' })], { ...half, beauty: value });
    expect(pixel).toEqual([0.4, 0.4, 0.4, 1].map(Math.fround));
  });
});

describe('what is no light', () => {
  test.each(['plus', 'minus', 'over'])('depth and mattes are refused by name with %s', (operation) => {
    for (const name of ['depth', 'mask'])
      expect(() => total([entry(name, { operation })], half)).toThrow(
        new RegExp(`Entry "${name}": ${name} of landing holds`),
      );
  });

  test('it may multiply, and smaller levels never average it', () => {
    const { plan } = total([entry('beauty'), entry('mask', { operation: 'multiply' })], half);
    expect(plan.inputs.map((i) => [i.colour[0], i.data ?? false])).toEqual([
      ['beauty.A', false],
      ['beauty.R', false],
      ['mask.R', true],
    ]);
  });

  test('planes of another size are refused, never sheared', () => {
    const plan = compilePlan({ version: 1, entries: [entry('sun')] }, [sourceOf('none')], 'ACEScg');
    const short = new Float32Array(3);
    const job = { width: 2, rows: 2, inputs: [{ colour: [short, short, short] as never }], onBand: () => undefined };
    expect(() => evaluate(plan, new Heap(createWasmKernels()), job)).toThrow(PlanError);
  });
});
