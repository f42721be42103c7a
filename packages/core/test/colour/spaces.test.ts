import { describe, expect, test } from '@jest/globals';
import { conversion } from '../../src/colour/conversion.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { reference, run, values, worstExcess, type Rgb } from './run.ts';

const aces = requireSpace('ACES2065-1');
const grey = (v: number): Rgb => [v, v, v];
/** The code of a grey of a space's own linear light. */
const codeOf = (space: string, light: number) => {
  const s = requireSpace(space);
  const linear = { ...s, encoding: 'linear' as const, name: 'its own light' };
  return run(conversion(linear, s), [grey(light)])[0]![0];
};

describe('check points of the log curves that their makers publish', () => {
  test.each([
    // Academy S-2016-001: 0.18 is 0.4135884.
    ['ACEScct', 0.18, 0.4135884, 1e-6],
    // S-Log3 technical summary: 0 %, 18 % and 90 % at 10-bit codes 95, 420, 598.
    ['S-Log3 S-Gamut3', 0, 95 / 1023, 1e-6],
    ['S-Log3 S-Gamut3', 0.18, 420 / 1023, 1e-6],
    ['S-Log3 S-Gamut3.Cine', 0.9, 598 / 1023, 5e-4],
    // LogC3, exposure index 800: 18 % grey at 0.391.
    ['LogC3', 0.18, 0.391, 5e-4],
    ['LogC3', 0, 0.092809, 1e-6],
    // LogC4: 18 % grey at 0.2784, 0 at 95/1023 over its scale.
    ['LogC4', 0.18, 0.2784, 5e-4],
    // Log3G10: 18 % grey at a third, 0 at 0.091551, 184.322 at 1.
    ['Log3G10', 0.18, 1 / 3, 1e-4],
    ['Log3G10', 0, 0.091551, 1e-5],
    ['Log3G10', 184.322, 1, 1e-4],
    // V-Log: 0 %, 18 % and 90 % at 10-bit codes 128, 433, 602.
    ['V-Log', 0, 128 / 1023, 5e-4],
    ['V-Log', 0.18, 433 / 1023, 5e-4],
    ['V-Log', 0.9, 602 / 1023, 1e-3],
    // ST 2084: 100 cd/m2 at 0.508078, 10,000 at 1.
    ['PQ', 1, 0.508078, 1e-5],
    ['PQ', 100, 1, 1e-6],
    ['Gamma 2.2', 0.5, 0.5 ** (1 / 2.2), 1e-6],
    ['Gamma 1.8', 0.5, 0.5 ** (1 / 1.8), 1e-6],
  ])('%s: %d is %d', (space, light, code, tolerance) => {
    expect(Math.abs(codeOf(space, light) - code)).toBeLessThan(tolerance);
  });
});

describe('against the reference colour library', () => {
  const codes = values(true).map((v) => v.map((x) => Math.max(-0.1, Math.min(x / 3, 1.05))) as Rgb);
  // Formulas 1e-5 + 1e-4; camera styles 1e-4 + 1e-3, since the library keeps some of them as 4,096-entry tables.
  test.each([
    ['ACEScct', 'ACEScct_to_ACES2065-1', 2e-5, 2e-4],
    ['S-Log3 S-Gamut3', 'SONY_SLOG3-SGAMUT3_to_ACES2065-1', 1e-4, 1e-3],
    ['S-Log3 S-Gamut3.Cine', 'SONY_SLOG3-SGAMUT3.CINE_to_ACES2065-1', 1e-4, 1e-3],
    ['LogC3', 'ARRI_ALEXA-LOGC-EI800-AWG_to_ACES2065-1', 1e-4, 1e-3],
    ['Log3G10', 'RED_LOG3G10-RWG_to_ACES2065-1', 1e-4, 1e-3],
    ['V-Log', 'PANASONIC_VLOG-VGAMUT_to_ACES2065-1', 1e-4, 1e-3],
  ])('%s to ACES2065-1 and back', (name, style, absolute, relative) => {
    const space = requireSpace(name);
    const [want] = reference([{ steps: [{ style }], values: codes }]) as [Rgb[]];
    expect(worstExcess(run(conversion(space, aces), codes), want, absolute, relative)).toBeLessThan(0);
    const back = run(conversion(aces, space), want);
    expect(worstExcess(back, codes, 3e-4, 1e-3)).toBeLessThan(0);
  });

  test('PQ, BT.2020 and gamma 2.2 from display light (1e-4 + 1e-3 for PQ, whose table the library keeps)', () => {
    const light = values(false).map((v) => v.map((x) => Math.min(x, 90)) as Rgb);
    const cases = [
      ['PQ', 'DISPLAY - CIE-XYZ-D65_to_REC.2100-PQ', 1e-4, 1e-3],
      ['BT.2020', 'DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.2020', 1e-5, 2e-4],
      ['Gamma 2.2', 'DISPLAY - CIE-XYZ-D65_to_G2.2-REC.709', 1e-5, 2e-4],
    ] as const;
    const toXyz = { style: 'UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD' };
    const answers = reference(cases.map(([, style]) => ({ steps: [toXyz, { style }], values: light })));
    cases.forEach(([name, , absolute, relative], i) => {
      // Display curves differ below 0, where there is no light to show.
      const positive = run(conversion(aces, { ...requireSpace(name), encoding: 'linear' }), light).map((v) =>
        v.every((x) => x >= 0),
      );
      const keep = (all: Rgb[]) => all.filter((_, k) => positive[k]);
      const got = keep(run(conversion(aces, requireSpace(name)), light));
      expect(got.length).toBeGreaterThan(500);
      expect([name, worstExcess(got, keep(answers[i]!), absolute, relative) < 0]).toEqual([name, true]);
    });
  });
});
