import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import { describeOperations, operationsPage } from '../../src/operations/describe.ts';
import { schemaOf, whyNotValues, type ParameterTable } from '../../src/operations/parameters.ts';
import { adjustments, blends, finishes, mattes } from '../../src/operations/registry.ts';
import { awkwardFloats } from '../kernel/cases.ts';
import { adjusted, compile, entry, evaluated, finish, inputsOf, randomFrom } from './surroundings.ts';

// Walks everything that a ledger can do: what holds of every definition holds of a new one without a further test.

const all = describeOperations();
/** Values that do something, by kind: the defaults do nothing. */
const acting: Record<string, object> = {
  exposure: { stops: 1.3, red: 0.2 },
  gain: { master: 1.5, blue: 0.5 },
  offset: { master: 0.1, green: -0.3 },
  gamma: { master: 1.8, red: 0.9 },
  lift: { master: 0.05, blue: 0.1 },
  tint: { colour: [1, 0.7, 0.4], amount: 0.8 },
  saturation: { amount: 0.4 },
  hue: { degrees: 77 },
  contrast: { amount: 1.4, green: 1.1 },
  whiteBalance: { kelvin: 4000, tint: 0.01 },
  levels: { blackIn: 0.02, whiteIn: 0.9, blackOut: 0.1, whiteOut: 1.2 },
  curves: {
    master: [
      [0, 0],
      [0.4, 0.5],
      [1, 1],
    ],
  },
  cdl: { slope: [1.2, 1, 0.8], offset: [0.01, 0, -0.02], power: [1.1, 1, 0.9], saturation: 0.7 },
  matrix: { matrix: [0.8, 0.1, 0.1, 0.2, 0.7, 0.1, 0, 0.3, 0.7], offset: [0.1, 0, 0] },
  conversion: { from: 'ACEScct', to: 'ACEScg' },
  view: { display: 'sRGB', view: 'ACES SDR' },
  softClip: { from: 0.5, to: 2 },
  clamp: { low: 0.1, high: 0.8 },
};

/** Pixels that a picture should not hold and sometimes does, four channels each. */
function awkwardPixels(n: number): number[][] {
  const planes = [1, 2, 3].map((seed) => awkwardFloats(seed, n));
  const random = randomFrom(5);
  return Array.from({ length: n }, (_, i) => [...planes.map((p) => p[i]!), i % 5 === 0 ? 0 : random()]);
}
const sameBits = (a: readonly number[], b: readonly number[]) => a.every((v, i) => Object.is(v, b[i]));

describe('every definition', () => {
  test('says what it is, what it does, and where that is published', () => {
    for (const d of all) {
      expect({ kind: d.kind, ok: d.title !== '' && d.does.endsWith('.') && d.published.length > 8 }).toEqual({
        kind: d.kind,
        ok: true,
      });
    }
    for (const list of [blends, adjustments, mattes, finishes]) {
      const kinds = list.map((d) => d.kind);
      expect(new Set(kinds).size).toBe(kinds.length);
    }
    expect(all.filter((d) => d.group === 'blend').map((d) => d.kind)).toEqual(
      expect.arrayContaining([
        'plus',
        'minus',
        'multiply',
        'divide',
        'over',
        'under',
        'screen',
        'max',
        'min',
        'replace',
      ]),
    );
  });

  test('takes its own defaults, and refuses what is out of range in words', () => {
    for (const { kind, parameters } of all)
      for (const [key, p] of Object.entries(parameters as ParameterTable)) {
        expect({ kind, key, ok: schemaOf(p).safeParse(p.default).success }).toEqual({ kind, key, ok: true });
        if (p.type !== 'number') continue;
        expect([p.range[0] <= p.soft[0], p.soft[1] <= p.range[1], p.step > 0]).toEqual([true, true, true]);
        expect(whyNotValues(parameters, { [key]: p.range[1] + 1 })).toMatch(/ goes from .* to /);
        expect(whyNotValues(parameters, { [key]: { keys: [[1, p.default]] } })).toBeUndefined();
      }
  });

  test('is in the documentation, which the registry makes', () => {
    expect(readFileSync('docs/operations.md', 'utf8')).toBe(operationsPage());
  });
});

describe('every adjustment', () => {
  test.each(adjustments.map((d) => d.kind))('%s does nothing to the bit as it is added, unless it says so', (kind) => {
    const pixels = awkwardPixels(50);
    const same = adjusted({ kind }, pixels).every((p, i) => sameBits(p, pixels[i]!.map(Math.fround)));
    expect(same).toBe(!adjustments.some((d) => d.kind === kind && 'actsAtOnce' in d));
  });

  test.each(Object.keys(acting))('%s: the same bits by kernels and by twins, pixel by pixel and together', (kind) => {
    const pixels = awkwardPixels(60);
    const change = { kind, ...acting[kind] };
    const together = adjusted(change, pixels);
    const twins = adjusted(change, pixels, { kernels: createTwinKernels() });
    const kernels = createWasmKernels();
    // What is not finite in one pixel spreads to no other.
    const alone = pixels.map((p) => adjusted(change, [p], { kernels })[0]!);
    const wrong = together.findIndex((p, i) => !sameBits(p, twins[i]!) || !sameBits(p, alone[i]!));
    expect({ wrong, pixel: pixels[wrong], together: together[wrong], alone: alone[wrong] }).toEqual({ wrong: -1 });
    // It does something, leaves alpha, and where alpha is 0 only multiplications change colour.
    expect(together.some((p, i) => !sameBits(p, pixels[i]!.map(Math.fround)))).toBe(true);
    const { alpha } = adjustments.find((d) => d.kind === kind)!;
    for (const [i, p] of together.entries()) {
      expect(p[3]).toBe(Math.fround(pixels[i]![3]!));
      if (pixels[i]![3] === 0 && alpha === 'straight') expect(sameBits(p, pixels[i]!.map(Math.fround))).toBe(true);
    }
  });

  test.each(Object.keys(acting))(
    '%s on premultiplied colour is itself on straight colour, multiplied again',
    (kind) => {
      const straight = [0.3, 0.6, 0.15];
      const [plain] = adjusted({ kind, ...acting[kind] }, [straight]);
      const [covered] = adjusted({ kind, ...acting[kind] }, [[...straight.map((v) => v * 0.25), 0.25]]);
      plain!.forEach((v, c) => expect(covered![c]).toBeCloseTo(v * 0.25, 6));
    },
  );

  test.each(Object.keys(acting))('%s with a matte: nothing where it is black, all where it is white', (kind) => {
    const pixels = [
      [0.01, 0.02, 0.01, 1],
      [0.6, 0.9, 0.7, 1],
    ];
    const matte = { kind: 'brightness', low: 0.1, high: 0.5 };
    const limited = adjusted({ kind, ...acting[kind], matte: 'm' }, pixels, { matte });
    const plain = adjusted({ kind, ...acting[kind] }, pixels);
    expect(sameBits(limited[0]!, pixels[0]!.map(Math.fround))).toBe(true);
    expect(sameBits(limited[1]!, plain[1]!)).toBe(true);
  });
});

describe('every finish', () => {
  const [width, height] = [61, 47];
  const random = randomFrom(9);
  const planes = new Map<string, Float32Array>();
  const samples = (name: string) => {
    const known = planes.get(name) ?? Float32Array.from({ length: width * height }, () => random() ** 4 * 6);
    planes.set(name, known);
    return known;
  };
  const doing: Record<string, object> = {
    blur: { size: 3.3 },
    sharpen: { amount: 0.8, size: 2 },
    glow: { amount: 0.6, size: 9, threshold: 0.5 },
    glare: { amount: 0.5, length: 30, threshold: 0.5 },
    grade: { adjustments: [{ kind: 'gamma', enabled: true, master: 1.3 }] },
    haze: { source: 's', pass: 'depth', density: 0.4, position: 'place', thickness: 1.5 },
    defocus: { source: 's', pass: 'depth', focus: 1.5, size: 5, most: 7 },
    median: { above: 3 },
    vignette: { stops: -1.5 },
    fringe: { size: 2 },
    grain: { amount: 0.1, size: 0.9 },
  };
  test.each(finishes.map((f) => f.kind))(
    '%s: the same bits by twins, in any strips and blocks, with a matte too',
    (kind) => {
      for (const more of [{}, { matte: 'm', mix: 0.7 }]) {
        const plan = compile([entry('beauty'), finish(kind, { ...doing[kind], ...more }), entry('light')], {
          mattes: { m: { kind: 'brightness', low: 0.2, high: 2, soft: 'smooth' } },
        });
        const inputs = inputsOf(plan, samples);
        const one = evaluated(plan, inputs, { width, height });
        const twins = evaluated(plan, inputs, { width, height, kernels: createTwinKernels() });
        const strips = evaluated(plan, inputs, { width, height, cuts: [0, 1, 9, 10, 33], bandRows: 2 });
        one.forEach((p, c) => {
          expect({ kind, c, twins: p.findIndex((v, i) => !Object.is(v, twins[c]![i])) }).toEqual({
            kind,
            c,
            twins: -1,
          });
          expect({ kind, c, strips: p.findIndex((v, i) => !Object.is(v, strips[c]![i])) }).toEqual({
            kind,
            c,
            strips: -1,
          });
        });
      }
    },
  );

  test.each(finishes.map((f) => f.kind))('%s: what is not finite spreads to no other pixel', (kind) => {
    const spoilt = (name: string) => {
      const plane = samples(name).slice();
      plane[20 * width + 30] = name.endsWith('R') ? NaN : Infinity;
      return plane;
    };
    const plan = compile([entry('light'), finish(kind, doing[kind])], { alphaFrom: null });
    const total = evaluated(plan, inputsOf(plan, spoilt), { width, height });
    total
      .slice(0, 3)
      .forEach((p) =>
        expect([...p.keys()].filter((i) => !Number.isFinite(p[i]!)).every((i) => i === 20 * width + 30)).toBe(true),
      );
  });

  // Grain is weaker on a smaller picture, sample by sample another; see its own test.
  const seenSmaller = finishes.map((f) => f.kind).filter((kind) => kind !== 'grain');
  test.each(seenSmaller)('%s at a smaller level is near its picture made smaller', (kind) => {
    const soft = (name: string) => {
      const phase = name.length;
      return Float32Array.from({ length: 64 * 48 }, (_, i) => {
        const [x, y] = [i % 64, Math.floor(i / 64)];
        return 1 + Math.sin(x / 11 + phase) * Math.cos(y / 9);
      });
    };
    const half = (plane: Float32Array) =>
      Float32Array.from({ length: 32 * 24 }, (_, i) => {
        const at = Math.floor(i / 32) * 128 + (i % 32) * 2;
        return (plane[at]! + plane[at + 1]! + plane[at + 64]! + plane[at + 65]!) / 4;
      });
    const plan = compile([entry('light'), finish(kind, { ...doing[kind], size: 6 })], { alphaFrom: null });
    const full = evaluated(plan, inputsOf(plan, soft), { width: 64, height: 48 });
    const small = evaluated(
      plan,
      inputsOf(plan, (n) => half(soft(n))),
      { width: 32, height: 24, level: 1 },
    );
    const reduced = half(full[0]!);
    const worst = small[0]!.reduce((w, v, i) => Math.max(w, Math.abs(v - reduced[i]!)), 0);
    // Depth is taken as it is, never averaged: layers of another depth lie elsewhere.
    // A streak is a line, thinner the larger the picture is.
    expect(worst).toBeLessThan(kind === 'defocus' ? 0.1 : kind === 'glare' ? 0.04 : 0.02);
  });
});
