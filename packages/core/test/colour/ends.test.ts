import { describe, expect, test } from '@jest/globals';
import { placeSamples, takeSamples } from '../../src/colour/ends.ts';
import { conversion } from '../../src/colour/conversion.ts';
import { invertSteps } from '../../src/colour/invert.ts';
import { liveDomain, prepareClipCount } from '../../src/colour/lookClip.ts';
import { spectralLocus } from '../../src/colour/locus.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { viewSteps } from '../../src/colour/views.ts';
import { arctangent2 } from '../../src/kernel/exactPower.ts';
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

test('views turned round give back what they did not cut off', () => {
  const colours = values(false).filter(
    (v) => v.every((x) => x > 0.02 && x < 2) && Math.max(...v) < 1.4 * Math.min(...v),
  );
  for (const view of ['ACES SDR', 'Untoned']) {
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
    const count = prepareClipCount(
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
    expect(prepareClipCount([{ kind: 'power', exponent: 2 }], heap)).toBeUndefined();
  });
});
