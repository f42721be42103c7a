import { describe, expect, test } from '@jest/globals';
import { logCurves, rec709Curve, srgbCurve } from '../../src/colour/curves.ts';
import { prepareSteps } from '../../src/colour/prepare.ts';
import type { ColourStep } from '../../src/colour/steps.ts';
import { viewSteps } from '../../src/colour/views.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import type { Kernels } from '../../src/kernel/kernels.ts';

// Curves run as tables: each within 2e-6 of full scale of its formula in double precision, the same bits everywhere, and exact where a
// table would not be: at a jump, below it, above it, for what is no number.

function through(step: ColourStep, values: readonly number[], kernels: Kernels = createWasmKernels()): number[] {
  const heap = new Heap(kernels);
  const run = prepareSteps([step], heap);
  const planes = [0, 1, 2].map(() => {
    const at = heap.allocatePlane(values.length);
    heap.floats(at, values.length).set(values);
    return at;
  }) as [number, number, number];
  run(...planes, values.length);
  return [...heap.floats(planes[1], values.length)];
}
const dense = [
  ...Array.from({ length: 20_000 }, (_, i) => i / 19_999),
  ...Array.from({ length: 4000 }, (_, i) => 2 ** (i / 200 - 19)),
];
const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
const decode = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

const cct = logCurves.acescct;
const curves: [string, ColourStep, (v: number) => number][] = [
  ['sRGB to code (IEC 61966-2-1)', { kind: 'encode', curve: srgbCurve }, encode],
  ['sRGB to light', { kind: 'decode', curve: srgbCurve }, decode],
  ['BT.709 to code', { kind: 'encode', curve: rec709Curve }, (v) => (v <= 0.018 ? 4.5 * v : 1.099 * v ** 0.45 - 0.099)],
  [
    'ACEScct (S-2016-001)',
    { kind: 'encodeLog', curve: cct },
    (v) => (v <= 0.0078125 ? 10.5402377416545 * v + 0.0729055341958355 : (Math.log2(v) + 9.72) / 17.52),
  ],
  ['a display of BT.1886', { kind: 'power', exponent: 1 / 2.4 }, (v) => v ** (1 / 2.4)],
  ['light of BT.1886', { kind: 'power', exponent: 2.4 }, (v) => v ** 2.4],
];

describe('a curve as a table', () => {
  test.each(curves)('%s is within 2e-6 of full scale', (_, step, formula) => {
    const inside = dense.filter((v) => v <= 1);
    const worst = through(step, inside).reduce(
      (w, v, i) => Math.max(w, Math.abs(v - formula(Math.fround(inside[i]!)))),
      0,
    );
    expect(worst).toBeLessThan(2e-6);
  });

  test('the jump that BT.709 has at its cut stays where it is', () => {
    const [at, behind] = through({ kind: 'encode', curve: rec709Curve }, [0.018, 0.01800001]);
    expect(at).toBeCloseTo(0.081, 7);
    expect(behind).toBeCloseTo(1.099 * 0.01800001 ** 0.45 - 0.099, 6);
  });

  const tone = viewSteps(requireSpace('ACEScg'), { display: 'sRGB', view: 'ACES SDR', exposure: 0 }).find(
    (s) => s.kind === 'tone',
  )!;
  test.each([...curves.map(([name, step]) => [name, step] as const), ['the ACES tone scale', tone] as const])(
    '%s: the same bits by twins, and each sample by itself whatever lies beside it',
    (_, step) => {
      const odd = [
        0,
        -0,
        -1,
        1e-30,
        3e-20,
        1,
        15.9,
        16,
        17,
        1e9,
        3e38,
        Infinity,
        -Infinity,
        NaN,
        ...dense.filter((__, i) => i % 97 === 0),
      ];
      const together = through(step, odd);
      const twins = through(step, odd, createTwinKernels());
      const kernels = createWasmKernels();
      odd.forEach((v, i) => {
        const [alone] = through(step, [v], kernels);
        expect([v, together[i], twins[i]]).toEqual([v, alone, alone]);
      });
    },
  );
});
