import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { direction } from '../../src/transform/aces2/appearance.ts';
import { builtinStyleNames, builtinStyleSteps } from '../../src/transform/builtin/styles.ts';
import { run, worstExcess, type Rgb } from '../colour/run.ts';

interface Fixture {
  library: string;
  light: Rgb[];
  codes: Rgb[];
  styles: { style: string; from: 'light' | 'codes'; to: Rgb[]; back: Rgb[] }[];
}

/** Written by newerStyles.py with the reference colour library 2.5.1: Debian 12 has 2.1.2, which does not know these styles. */
const fixture = JSON.parse(
  readFileSync(join(process.cwd(), 'packages/core/test/config/newerStyles.json'), 'utf8'),
) as Fixture;

/**
 * 2e-5 + 2e-4 is float rounding. The ACES 2 rendering finds its gamut tables by halving in float32 there, in float64 here: 1e-4 + 1e-3;
 * PQ and the phone log are half-float tables there: 1e-4 + 1e-3.
 */
const tolerance = (style: string): [number, number] =>
  /ACES-OUTPUT|ST2084|HLG|LOG_to_LINEAR|CLOG|APPLE/.test(style) ? [1e-4, 1e-3] : [2e-5, 2e-4];

describe('builtin styles newer than Debian 12, against the reference library 2.5.1', () => {
  test('all 47 are known', () => {
    expect(fixture.library).toBe('2.5.1');
    expect(fixture.styles.length).toBe(47);
    expect(fixture.styles.filter((s) => !builtinStyleNames.includes(s.style))).toEqual([]);
  });

  test.each(fixture.styles.map((s) => [s.style, s] as const))('%s', (style, { from, to, back }) => {
    const forward = run(builtinStyleSteps(style, 'forward'), fixture[from]);
    expect(worstExcess(forward, to, ...tolerance(style))).toBeLessThanOrEqual(0);
    const inverse = run(builtinStyleSteps(style, 'inverse'), to);
    // Colours at the edge of a display's gamut are flung far apart backwards.
    const [absolute, relative] = /ACES-OUTPUT/.test(style) ? [1e-3, 2e-3] : tolerance(style);
    expect(worstExcess(inverse, back, absolute, relative)).toBeLessThanOrEqual(0);
  });
});

test('18 % grey of the ACES 2 SDR rendering is shown at 10 cd/m², its published anchor (from memory)', () => {
  const style = 'ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-100nit-REC709_2.0';
  const [[, y]] = run(builtinStyleSteps(style, 'forward'), [[0.18, 0.18, 0.18]]) as [Rgb];
  expect(Math.abs(y * 100 - 10)).toBeLessThan(0.01);
});

test('exact cosine and sine are those of the engine within 1e-15', () => {
  for (let degrees = -720; degrees <= 720; degrees += 0.37) {
    const { cosine, sine } = direction(degrees);
    const angle = (degrees * Math.PI) / 180;
    expect(Math.abs(cosine - Math.cos(angle))).toBeLessThan(5e-15);
    expect(Math.abs(sine - Math.sin(angle))).toBeLessThan(5e-15);
  }
});
