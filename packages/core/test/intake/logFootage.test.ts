import { describe, expect, test } from '@jest/globals';
import { logCandidates, looksFlat } from '../../src/intake/logFootage.ts';
import { pixelEvidence, traitsOf } from '../../src/intake/pixelEvidence.ts';
import { weighEvidence, agrees } from '../../src/intake/evidence.ts';
import { channelStatistics } from '../../src/intake/statistics.ts';
import { randomFrom } from '../operations/surroundings.ts';

/*
 * Codes of 18 % grey and of no light that the makers publish, of 1023: S-Log3 420 and 95 (technical summary), V-Log 433 and 128 (reference
 * manual), LogC3 at 800 400 and 95 (curve's usage paper); ACEScct 0.4135884 and 0.0729055 (Academy S-2016-001). From memory.
 */
const published: Record<string, readonly [grey: number, black: number]> = {
  'S-Log3 S-Gamut3.Cine': [420 / 1023, 95 / 1023],
  'V-Log': [433 / 1023, 128 / 1023],
  LogC3: [400 / 1023, 95 / 1023],
  ACEScct: [0.4135884, 0.0729055],
};

test.each(Object.entries(published))('%s: grey is grey by its curve', (space, [grey, black]) => {
  const flat = { floor: black, median: grey, bright: 0.8, spread: 0.4, maximum: 0.9 };
  expect(looksFlat(flat)).toBe(true);
  const own = logCandidates(flat).find((c) => c.space === space)!;
  expect(Math.abs(own.middle)).toBeLessThan(0.03);
});

/** Light of a place: shadows to highlights about a middle, in stops from grey. */
function place(middle: number, seed: number): Float32Array {
  const random = randomFrom(seed);
  return Float32Array.from({ length: 40_000 }, () => {
    const stops = middle + 1.5 * (random() + random() + random() - 1.5) * 2;
    return random() < 0.004 ? 0 : 0.18 * 2 ** stops;
  });
}
/** The published formulas: S-Log3 and V-Log above their cuts, straight below. */
const slog3 = (l: number) =>
  l >= 0.01125
    ? (420 + Math.log10((l + 0.01) / 0.19) * 261.5) / 1023
    : ((l * (171.2102946929 - 95)) / 0.01125 + 95) / 1023;
const vlog = (l: number) => (l < 0.01 ? 5.6 * l + 0.125 : 0.241514 * Math.log10(l + 0.00873) + 0.598206);
const srgb = (l: number) => Math.min(1, l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
const evidenceOf = (values: Float32Array, kind: 'dpx' | 'png' | 'exr' = 'dpx', integer = true) =>
  pixelEvidence(kind, integer, { channels: [channelStatistics(values)], imaginary: {} }).filter(
    (e) => e.about === 'log',
  );

describe('flat footage', () => {
  test.each([
    ['S-Log3 S-Gamut3.Cine', slog3],
    ['V-Log', vlog],
  ] as const)('of %s is recognised, its curve among the first three', (space, encode) => {
    for (const [middle, seed] of [
      [-1, 1],
      [0, 2],
      [1, 3],
    ] as const) {
      const codes = place(middle, seed).map(encode);
      const [evidence] = evidenceOf(codes);
      expect(evidence?.says).toMatch(/^flat as log footage is/);
      const named = logCandidates(traitsOf([channelStatistics(codes)])!).slice(0, 3);
      expect(named.map((c) => c.space)).toContain(space);
    }
  });

  test('is told as a guess, and agrees with any log that a person declares', () => {
    const evidence = evidenceOf(place(0, 2).map(slog3));
    const guess = weighEvidence([
      { from: 'kind of file', says: 'a DPX mostly holds a log curve', weight: 0.2 },
      ...evidence,
    ]);
    expect([guess.guess, guess.confidence]).toEqual([evidence[0]!.space, 0.5]);
    expect([agrees(evidence[0]!, 'V-Log'), agrees(evidence[0]!, 'sRGB')]).toEqual([true, false]);
  });

  test('pictures for screens, light, and what has black or white are not flat', () => {
    const light = place(0, 4);
    expect(evidenceOf(light.map(srgb))).toEqual([]);
    expect(
      evidenceOf(
        light.map((l) => Math.min(1, l)),
        'exr',
        false,
      ),
    ).toEqual([]);
    expect(evidenceOf(light.map(slog3), 'png')).toEqual([]);
    expect(looksFlat({ floor: 0, median: 0.4, bright: 0.8, spread: 0.4, maximum: 0.9 })).toBe(false);
    expect(looksFlat({ floor: 0.1, median: 0.4, bright: 0.99, spread: 0.4, maximum: 1 })).toBe(false);
  });
});
