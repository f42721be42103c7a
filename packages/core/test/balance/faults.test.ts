import { describe, expect, test } from '@jest/globals';
import { balanceFaults, type SampledPart, type LightSamples } from '../../src/balance/faults.ts';
import { halfToNumber, numberToHalf } from '../../src/image/half.ts';
import { randomFrom } from '../operations/surroundings.ts';

// Invented material: light that was rounded to half, as renders keep it. What a fault is follows from the sum alone.

const n = 4000;
const half = (v: number) => halfToNumber(numberToHalf(v));

/** A pass of uneven light, some of it black. */
function light(seed: number, strength = 1): LightSamples {
  const next = randomFrom(seed);
  const plane = () =>
    Float32Array.from({ length: n }, () => (next() < 0.3 ? 0 : half(strength * 2 ** (6 * next() - 4) * next())));
  return [plane(), plane(), plane()];
}
const names = ['diffuse_direct', 'diffuse_indirect', 'specular', 'emission', 'volume', 'coat'];
const passes = new Map(names.map((name, i) => [name, light(i + 1, i === 3 ? 20 : 1)]));
const albedo = light(77, 0.5);

const sum = (...parts: readonly (readonly [LightSamples, number])[]): LightSamples =>
  [0, 1, 2].map((c) =>
    Float32Array.from({ length: n }, (_, i) => parts.reduce((v, [p, k]) => v + k * p[c]![i]!, 0)),
  ) as unknown as LightSamples;
const rounded = (s: LightSamples) => s.map((p) => p.map(half)) as unknown as LightSamples;
const whole = rounded(sum(...names.map((name) => [passes.get(name)!, 1] as const)));

function faultsOf(
  counts: Readonly<Record<string, number>>,
  beauty = whole,
  scaled: Readonly<Record<string, number>> = {},
) {
  const parts: SampledPart[] = [
    ...names.map((pass) => ({ pass, count: counts[pass] ?? 0, factor: false, samples: passes.get(pass)! })),
    { pass: 'albedo', count: 0, factor: true, samples: albedo },
  ];
  const total = sum(...names.map((p) => [passes.get(p)!, (counts[p] ?? 0) * (scaled[p] ?? 1)] as const));
  return balanceFaults({ total, beauty, parts });
}
const all = Object.fromEntries(names.map((p) => [p, 1]));

test('what balances to the rounding of half has no fault', () => {
  expect(faultsOf(all)).toEqual({ faults: [], explained: 1, whole: true });
});

describe('one, two and three passes', () => {
  test.each(names)('%s missing', (pass) => {
    const found = faultsOf({ ...all, [pass]: 0 });
    expect(found).toMatchObject({ faults: [{ kind: 'missing', pass }], whole: true });
  });
  test.each(names)('%s counted twice', (pass) => {
    expect(faultsOf({ ...all, [pass]: 2 })).toMatchObject({ faults: [{ kind: 'twice', pass }], whole: true });
  });
  test('a dim one missing beside a bright one', () => {
    const { faults, whole: balanced } = faultsOf({ ...all, volume: 0, emission: 0 });
    expect(faults.map((f) => [f.kind, f.pass]).sort()).toEqual([
      ['missing', 'emission'],
      ['missing', 'volume'],
    ]);
    expect(balanced).toBe(true);
  });
  test('one missing, one doubled and one that does not belong', () => {
    const beauty = rounded(sum(...names.slice(0, 5).map((p) => [passes.get(p)!, 1] as const)));
    const { faults } = faultsOf({ ...all, volume: 0, specular: 2 }, beauty);
    expect(faults.map((f) => [f.kind, f.pass]).sort()).toEqual([
      ['missing', 'volume'],
      ['twice', 'coat'],
      ['twice', 'specular'],
    ]);
  });
});

test.each([1, -1, 0.5, -0.333, 3.2])('a pass that is %p stops too dark is told, with how much', (stops) => {
  const beauty = rounded(sum(...names.map((p) => [passes.get(p)!, p === 'specular' ? 2 ** stops : 1] as const)));
  const { faults } = faultsOf(all, beauty);
  // A factor of two is a pass that is missing once; it is said as what it is: the same pass once more, or in another exposure.
  expect(faults).toHaveLength(1);
  const [fault] = faults;
  expect([fault!.kind, fault!.pass]).toEqual(['exposure', 'specular']);
  expect((fault as { stops: number }).stops).toBeCloseTo(stops, 2);
});

test('another exposure beside a missing pass', () => {
  const beauty = rounded(sum(...names.map((p) => [passes.get(p)!, p === 'specular' ? 2 ** 0.7 : 1] as const)));
  const { faults } = faultsOf({ ...all, volume: 0 }, beauty);
  expect(faults.map((f) => [f.kind, f.pass])).toEqual([
    ['missing', 'volume'],
    ['exposure', 'specular'],
  ]);
  expect((faults[1] as { stops: number }).stops).toBeCloseTo(0.7, 2);
});

test('a light that is to be multiplied by its albedo', () => {
  const lit = passes.get('coat')!.map((p, c) => p.map((v, i) => v * albedo[c]![i]!)) as unknown as LightSamples;
  const beauty = rounded(sum(...names.slice(0, 5).map((p) => [passes.get(p)!, 1] as const), [lit, 1]));
  const { faults } = faultsOf({ ...all, coat: 0 }, beauty);
  expect(faults).toEqual([{ kind: 'missing', pass: 'coat', by: 'albedo' }]);
});

test('what no pass explains is not explained', () => {
  const beauty = sum([whole, 1], [light(500), 1]);
  expect(faultsOf(all, beauty)).toMatchObject({ faults: [], whole: false });
});
