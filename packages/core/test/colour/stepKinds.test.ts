import { describe, expect, test } from '@jest/globals';
import { cinemaSpline, rrtSpline } from '../../src/colour/acesTonescale.ts';
import { invertSteps } from '../../src/colour/invert.ts';
import { mergeSteps } from '../../src/colour/merge.ts';
import { prepareSteps } from '../../src/colour/prepare.ts';
import { ap1, luminanceWeights, rec709 } from '../../src/colour/primaries.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { conversion } from '../../src/colour/conversion.ts';
import { stepKinds } from '../../src/colour/stepKinds/registry.ts';
import type { ColourStep } from '../../src/colour/steps.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';

const find = (from: string, to: string, kind: string) =>
  conversion(requireSpace(from), requireSpace(to)).find((s) => s.kind === kind)!;
const table = Float32Array.from({ length: 17 }, (_, i) => (i / 16) ** 0.7);
const cube = Float32Array.from({ length: 5 ** 3 * 3 }, (_, i) => ((i * 7) % 31) / 30);

/** A step of every kind: a kind that is added and not listed here does not compile. */
const samples: Record<ColourStep['kind'], ColourStep> = {
  matrix: { kind: 'matrix', matrix: [0.7, 0.2, 0.1, 0.1, 0.8, 0.1, 0, 0.1, 0.9], offset: [0.01, 0, -0.02] },
  encode: find('Linear Rec.709', 'sRGB', 'encode'),
  decode: find('sRGB', 'Linear Rec.709', 'decode'),
  power: { kind: 'power', exponent: 1.7, negatives: 'mirror' },
  encodeLog: find('ACEScg', 'ACEScct', 'encodeLog'),
  decodeLog: find('ACEScct', 'ACEScg', 'decodeLog'),
  encodePq: { kind: 'encodePq' },
  decodePq: { kind: 'decodePq' },
  clamp: { kind: 'clamp', low: 0.1, high: 0.6 },
  table: { kind: 'table', table },
  plainPlane: { kind: 'plainPlane', recipe: { what: 'undoTone', splines: [rrtSpline, cinemaSpline()] } },
  channels: {
    kind: 'channels',
    each: [
      { kind: 'power', exponent: 2, negatives: 'mirror' },
      { kind: 'power', exponent: 1.2, negatives: 'mirror' },
      { kind: 'power', exponent: 0.8, negatives: 'mirror' },
    ],
  },
  cube: { kind: 'cube', size: 5, values: cube, interpolation: 'tetrahedral' },
  acesGlowAndRed: { kind: 'acesGlowAndRed' },
  aces2: { kind: 'aces2', peak: 100, limiting: rec709 },
  tone: { kind: 'tone', splines: [rrtSpline, cinemaSpline()] },
  surround: { kind: 'surround', weights: luminanceWeights(ap1), exponent: 0.9811 },
  plain: { kind: 'plain', recipe: { what: 'undoAces2', peak: 100, limiting: rec709 } },
};
const n = 64;
/** Steps over colours of 0.05 … 0.9. */
function run(steps: readonly ColourStep[], wasm = true, change: (planes: Float32Array[]) => void = () => undefined) {
  const heap = new Heap(wasm ? createWasmKernels() : createTwinKernels());
  const colours = [3, 5, 7].map((k) => Float32Array.from({ length: n }, (_, i) => 0.05 + (((i * k) % 29) / 29) * 0.85));
  change(colours);
  const [r, g, b] = colours.map((c) => heap.placeFloats(c)) as [number, number, number];
  prepareSteps(steps, heap)(r, g, b, n);
  return [r, g, b].map((p) => heap.floats(p, n).slice());
}

describe('kinds of colour steps', () => {
  test('each is listed once, under its own name', () => {
    expect(stepKinds.map((k) => k.kind).sort()).toEqual(Object.keys(samples).sort());
  });

  for (const [kind, step] of Object.entries(samples)) {
    test(`${kind}: the same bits by kernels and twins; what is no number stays in its pixel`, () => {
      const whole = run([step]);
      expect(run([step], false)).toEqual(whole);
      const spoilt = run([step], true, (planes) => (planes[0]![20] = NaN));
      spoilt.forEach((p, c) => p.forEach((v, i) => i !== 20 && expect(v).toBe(whole[c]![i])));
    });
  }

  const lossy = ['clamp', 'table', 'cube', 'plainPlane', 'plain'];
  for (const [kind, step] of Object.entries(samples).filter(([k]) => !lossy.includes(k)))
    test(`${kind}: turned round, it gives back what it took`, () => {
      const start = run([]);
      // The Academy's own ways back are made to be seen, not measured (to a hundredth); the rest undo to float rounding.
      const near = ['acesGlowAndRed', 'aces2', 'tone', 'surround'].includes(kind) ? 1e-2 : 5e-5;
      run([step, ...invertSteps([step])]).forEach((p, c) =>
        p.forEach((v, i) => expect(Math.abs(v - start[c]![i]!)).toBeLessThan(near)),
      );
    });

  test('what cannot be turned round says so; a clamp stays one', () => {
    for (const kind of ['table', 'cube', 'plainPlane', 'plain'] as const)
      expect(() => invertSteps([samples[kind]])).toThrow('cannot be turned round');
    expect(invertSteps([samples.clamp])).toEqual([samples.clamp]);
  });

  test('pairs that undo each other go; channels go when all three do', () => {
    for (const kind of ['encode', 'decode', 'encodeLog', 'decodeLog', 'channels', 'power'] as const)
      expect({ kind, left: mergeSteps([samples[kind], ...invertSteps([samples[kind]])]) }).toEqual({ kind, left: [] });
    expect(mergeSteps([samples.table, samples.clamp])).toHaveLength(2);
  });
});
