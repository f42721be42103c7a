import { describe, expect, test } from '@jest/globals';
import { fromAxis, histogramOf, measuresOf, onAxis } from '../../src/matte/measure.ts';

const rec709 = [0.2126, 0.7152, 0.0722] as const;
const planes = (...pixels: readonly (readonly number[])[]) =>
  [0, 1, 2, 3].map((c) => Float32Array.from(pixels, (p) => p[c] ?? 1));

describe('what a matte selects by', () => {
  test('a pass gives its own numbers; empty depth gives none', () => {
    const found = measuresOf('pass', planes([3.5], [1e10], [Infinity]), rec709);
    expect([...found]).toEqual([3.5, NaN, NaN]);
  });
  test('brightness is luminance of the straight colour', () => {
    const [whole, half] = measuresOf('brightness', planes([1, 0, 0, 1], [0.25, 0.25, 0.25, 0.5]), rec709);
    expect(whole).toBeCloseTo(0.2126, 6);
    expect(half).toBeCloseTo(0.5, 6);
  });
  // A. R. Smith, "Color Gamut Transform Pairs", SIGGRAPH 1978: red 0, yellow 60, green 120, cyan 180, blue 240.
  test('hue of the pure colours, and none of grey', () => {
    const found = measuresOf('hue', planes([1, 0, 0], [1, 1, 0], [0, 1, 0], [0, 1, 1], [0, 0, 2], [1, 1, 1]), rec709);
    expect([...found]).toEqual([0, 60, 120, 180, 240, NaN]);
  });
});

describe('histograms', () => {
  test('each measure is counted once, none twice; what has none is not counted', () => {
    const measures = Float32Array.from({ length: 1000 }, (_, i) => (i % 10 === 0 ? NaN : i / 1000));
    const { counts, low, high } = histogramOf(measures, 'even', [], 20);
    expect(counts.reduce((a, b) => a + b, 0)).toBe(900);
    expect(low).toBeLessThan(0.01);
    expect(high).toBeGreaterThan(0.99);
  });
  test('a matte’s corners are seen, also beyond the measures', () => {
    const { low, high } = histogramOf(Float32Array.of(2, 3), 'even', [0, 10], 8);
    expect(low).toBeLessThan(0);
    expect(high).toBeGreaterThan(10);
  });
  test('in stops, doubling is one, and what is no light lies at the dark end', () => {
    expect(onAxis('stops', 8) - onAxis('stops', 4)).toBe(1);
    expect(onAxis('stops', -1)).toBe(-10);
    expect(fromAxis('stops', onAxis('stops', 0.18))).toBeCloseTo(0.18, 6);
    expect(histogramOf(Float32Array.of(1, 2, 4), 'stops', [0], 8).low).toBeGreaterThan(-1);
  });
  test('of nothing, empty', () => {
    expect([...histogramOf(Float32Array.of(NaN), 'even', [], 4).counts]).toEqual([0, 0, 0, 0]);
  });
});
