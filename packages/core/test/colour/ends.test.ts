import { describe, expect, test } from '@jest/globals';
import { placeSamples, takeSamples } from '../../src/colour/ends.ts';
import { conversion } from '../../src/colour/conversion.ts';
import { invertSteps } from '../../src/colour/invert.ts';
import { prepareFindCut } from '../../src/colour/lookClip.ts';
import { liveDomain } from '../../src/colour/stepKinds/table.ts';
import { spectralLocus } from '../../src/colour/locus.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { viewSteps } from '../../src/colour/views.ts';
import { builtinStyleSteps } from '../../src/transform/builtin/styles.ts';
import { arctangent2, exp2Exact, log2Exact, powExact } from '../../src/kernel/exactPower.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createWasmKernels } from '../../src/kernel/load.ts';
import { reference, run, values, worstExcess, type Rgb } from './run.ts';

describe('ends of processors', () => {
  const heap = new Heap(createWasmKernels());
  const floats = Float32Array.of(0, 0.5, 1, 1.5, -0.25, NaN, 0.001);

  test('codes stand for 0 … 1, are rounded to the nearest and limited; NaN becomes 0', () => {
    const at = placeSamples(floats, 'float', heap);
    expect([...takeSamples(at, 7, 'code8', heap)]).toEqual([0, 128, 255, 255, 0, 0, 0]);
    expect([...takeSamples(at, 7, 'code16', heap)]).toEqual([0, 32768, 65535, 65535, 0, 0, 66]);
  });

  test.each([
    ['code8', Uint8Array.from({ length: 256 }, (_, i) => i)],
    ['code16', Uint16Array.from({ length: 65536 }, (_, i) => i)],
  ] as const)('every %s survives the way in and out', (end, codes) => {
    const back = takeSamples(placeSamples(codes, end, heap), codes.length, end, heap);
    expect(back.every((c, i) => c === codes[i])).toBe(true);
  });

  test('halves and floats come back to the bit', () => {
    const halves = Uint16Array.of(0x3c00, 0x3555, 0x8001, 0x7bff, 0x0001);
    expect(takeSamples(placeSamples(halves, 'half', heap), 5, 'half', heap)).toEqual(halves);
    expect(takeSamples(placeSamples(floats, 'float', heap), 7, 'float', heap)).toEqual(floats);
  });
});

describe('built-in displays and spaces against the reference colour library', () => {
  const all = values(true);
  test('ACES for a P3 projector and for 1000 cd/m² PQ (tolerance 2e-4 + 2e-3: tables in the library)', () => {
    const output = 'ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - ';
    const [p3, pq] = reference([
      {
        steps: [
          { style: 'ACEScg_to_ACES2065-1' },
          { style: `${output}SDR-CINEMA_1.0` },
          { style: 'DISPLAY - CIE-XYZ-D65_to_G2.6-P3-D65' },
        ],
        values: all,
      },
      {
        steps: [
          { style: 'ACEScg_to_ACES2065-1' },
          { style: `${output}HDR-VIDEO-1000nit-15nit-REC2020lim_1.1` },
          { style: 'DISPLAY - CIE-XYZ-D65_to_REC.2100-PQ' },
        ],
        values: all,
      },
    ]) as [Rgb[], Rgb[]];
    const clip = (list: Rgb[]) => list.map((v) => v.map((x) => Math.min(Math.max(x, 0), 1)) as Rgb);
    const seen = (display: string, view: string) =>
      run(viewSteps(requireSpace('ACEScg'), { display, view, exposure: 0 }), all);
    expect(worstExcess(seen('P3-D65', 'ACES SDR'), clip(p3), 2e-4, 2e-3)).toBeLessThanOrEqual(0);
    expect(worstExcess(seen('Rec.2100 PQ', 'ACES HDR 1000 nits'), clip(pq), 2e-4, 2e-3)).toBeLessThanOrEqual(0);
  });

  test('ACEScc', () => {
    const some = values(false).filter((v) => v.every((x) => x < 200));
    const [want] = reference([{ steps: [{ style: 'ACEScc_to_ACES2065-1', inverse: true }], values: some }]) as [Rgb[]];
    const got = run(conversion(requireSpace('ACES2065-1'), requireSpace('ACEScc')), some);
    expect(worstExcess(got, want, 1e-4, 1e-3)).toBeLessThanOrEqual(0);
  });
});

describe('published points', () => {
  const at = (from: string, to: string, v: number) =>
    run(conversion(requireSpace(from), requireSpace(to)), [[v, v, v]])[0]![0];
  // ITU-R BT.2408-4, table 1 and annex: PQ codes of 100, 203 and 1000 cd/m² are 51 %, 58 % and 75 %.
  test.each([
    [1, 0.508],
    [2.03, 0.581],
    [10, 0.752],
    [100, 1],
  ])('PQ: light of %f hundred cd/m² is code %f', (light, code) => {
    expect(at('Linear Rec.2020', 'PQ', light)).toBeCloseTo(code, 3);
  });
  // ITU-R BT.2100-2, table 5: E of 1/12 is code 0.5; full light of the display is code 1. BT.2408-4: 203 cd/m² is 75 %.
  test.each([
    [10, 1, 3],
    [2.03, 0.75, 2],
    [0, 0, 6],
  ])('HLG: light of %f hundred cd/m² is code %f', (light, code, digits) => {
    expect(at('Linear Rec.2020', 'HLG', light)).toBeCloseTo(code, digits);
  });
  test('HLG comes back', () => {
    expect(at('HLG', 'Linear Rec.2020', at('Linear Rec.2020', 'HLG', 0.7))).toBeCloseTo(0.7, 4);
  });
  test('the spectral locus goes from violet by green to red (CIE 015:2018)', () => {
    expect(spectralLocus[0]).toEqual([0.1741, 0.005]);
    expect(spectralLocus.at(-1)).toEqual([0.7347, 0.2653]);
    expect(spectralLocus.every(([x, y]) => x >= 0 && y > 0 && x + y <= 1.0001)).toBe(true);
  });
});

test('arctangents agree with the engine within 1e-14', () => {
  for (let i = 0; i < 2000; i++) {
    const angle = (i / 1000 - 1) * 3.1;
    const size = 10 ** ((i % 7) - 3);
    const [y, x] = [Math.sin(angle) * size, Math.cos(angle) * size];
    expect(Math.abs(arctangent2(y, x) - Math.atan2(y, x))).toBeLessThan(1e-14);
  }
});

test('powers and logarithms agree with the engine within 1e-10, and hold the limits of float32', () => {
  for (let i = 0; i < 4000; i++) {
    const x = 10 ** ((i % 71) - 35) * (1 + (i % 977) / 977);
    const wanted = Math.min(Math.max(x, 1.1754943508222875e-38), 3.4028234663852886e38);
    expect(Math.abs(log2Exact(x) - Math.log2(wanted))).toBeLessThan(1e-10);
    const p = (i % 253) - 126 + (i % 97) / 97;
    expect(Math.abs(exp2Exact(p) / 2 ** p - 1)).toBeLessThan(1e-10);
  }
  expect([log2Exact(0), log2Exact(-1), exp2Exact(-127), exp2Exact(128), exp2Exact(127.99999)]).toEqual([
    -126,
    -126,
    0,
    Infinity,
    expect.closeTo(3.40279e38, -34),
  ]);
  expect([powExact(0, 0.5), powExact(-2, 0.5), powExact(9, 0.5)]).toEqual([0, 0, expect.closeTo(3, 9)]);
  expect([log2Exact(NaN), exp2Exact(NaN)]).toEqual([NaN, NaN]);
});

test('the gentle view moves nothing up to middle grey and never reaches white', () => {
  const steps = viewSteps(requireSpace('Linear Rec.709'), { display: 'sRGB', view: 'Gentle', exposure: 0 });
  const plain = viewSteps(requireSpace('Linear Rec.709'), { display: 'sRGB', view: 'Untoned', exposure: 0 });
  const grey = (x: number): Rgb => [x, x, x];
  const dark = [0, 0.01, 0.1, 0.18].map(grey);
  expect(run(steps, dark)).toEqual(run(plain, dark));
  const light = run(steps, [0.2, 1, 4, 16, 1000].map(grey)).map(([r]) => r);
  expect([...light].sort((a, b) => a - b)).toEqual(light);
  expect(light.every((x) => x < 1)).toBe(true);
  // Light 1 is shown as 0.18 + 0.82 / 2 = 0.59.
  expect(light[1]).toBeCloseTo(run(plain, [grey(0.59)])[0]![0], 5);
});

test.each([
  ['sRGB', 'ACES 2.0 SDR', 'SDR-100nit-REC709', 'sRGB'],
  ['Rec.709', 'ACES 2.0 SDR', 'SDR-100nit-REC709', 'REC.1886-REC.709'],
  ['P3-D65', 'ACES 2.0 SDR', 'SDR-100nit-P3-D65', 'G2.6-P3-D65'],
  ['Rec.2100 PQ', 'ACES 2.0 HDR 1000 nits', 'HDR-1000nit-REC2020', 'REC.2100-PQ'],
])('%s, %s: as the builtin styles of the config format', (display, view, output, encoding) => {
  const all = values(true);
  const style = (name: string) => builtinStyleSteps(name, 'forward');
  const chain = [
    ...style(`ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - ${output}_2.0`),
    ...style(`DISPLAY - CIE-XYZ-D65_to_${encoding}`),
  ];
  const seen = run(viewSteps(requireSpace('ACES2065-1'), { display, view, exposure: 0 }), all);
  const wanted = run(chain, all).map((v) => v.map((x) => Math.min(Math.max(x, 0), 1)) as Rgb);
  // The last bits of light at the gamut's edge become visible codes near 0, where the encoding is steep.
  const clear = (list: Rgb[]) => list.map((v, i) => v.map((x, c) => (wanted[i]![c]! > 0.03 ? x : 0)) as Rgb);
  // sRGB's two pieces meet at rounded constants here.
  expect(worstExcess(clear(seen), clear(wanted), 3e-5, 3e-4)).toBeLessThanOrEqual(0);
});

test('views turned round give back what they did not cut off', () => {
  const colours = values(false).filter(
    (v) => v.every((x) => x > 0.02 && x < 2) && Math.max(...v) < 1.4 * Math.min(...v),
  );
  for (const view of ['ACES SDR', 'ACES 2.0 SDR', 'Gentle', 'Untoned']) {
    const steps = viewSteps(requireSpace('ACEScg'), { display: 'sRGB', view, exposure: 0 });
    const inside = view === 'Untoned' ? colours.filter((v) => v.every((x) => x < 0.6)) : colours;
    const back = run(invertSteps(steps), run(steps, inside));
    // Where the tone scale is nearly level, the codes' float rounding is many times larger in light.
    expect(worstExcess(back, inside, 1e-3, 5e-3)).toBeLessThanOrEqual(0);
  }
});

describe('what a look cuts off', () => {
  test('flat ends of a table are no part of its domain', () => {
    expect(liveDomain(Float32Array.of(0, 0, 0.2, 0.5, 0.9, 0.9))).toEqual([1 / 5, 4 / 5]);
    expect(liveDomain(Float32Array.of(0, 1))).toEqual([0, 1]);
  });
  test('pixels outside the first table or cube are counted, after the steps before it', () => {
    const heap = new Heap(createWasmKernels());
    const table = Float32Array.of(0, 0.5, 1);
    const count = prepareFindCut(
      [
        { kind: 'matrix', matrix: [0.5, 0, 0, 0, 0.5, 0, 0, 0, 0.5] },
        { kind: 'table', table },
      ],
      heap,
    )!;
    const planes = [
      [1, 2.5, 0],
      [1, 1, 1],
      [1, 1, -0.5],
    ].map((p) => placeSamples(Float32Array.from(p), 'float', heap)) as Rgb;
    expect(count(...planes, 3)).toBe(2);
    expect(prepareFindCut([{ kind: 'power', exponent: 2 }], heap)).toBeUndefined();
  });
});
