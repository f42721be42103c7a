import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { open, write } from '../config/compare.ts';
import { landingConfig, landingFiles } from '../config/configs.ts';
import { run, type Rgb } from './run.ts';

// Common practice, no source: what is brighter than white is shown as white, never as black.
const configs = {
  'the built-in config': new ShotColour(),
  'a config file': new ShotColour(open(write(landingConfig, landingFiles))),
};
const views = Object.entries(configs).flatMap(([name, colour]) =>
  colour
    .displays()
    .flatMap(({ name: display, views: all }) =>
      all.map((view) => [`${name}: ${display} / ${view}`, colour, display, view] as const),
    ),
);

describe('no view turns a bright value black', () => {
  test.each(views)('%s', (_name, colour, display, view) => {
    for (const working of ['ACEScg', 'Linear Rec.709']) {
      const greys = [1, 16, 200, 65504, 1e10, 1e30, Infinity].map((x): Rgb => [x, x, x]);
      const shown = run(colour.view(working, { display, view, exposure: 0 }), greys);
      shown.forEach((codes, i) => {
        const before = shown[i - 1] ?? codes;
        codes.forEach((c, k) => expect(c).toBeGreaterThanOrEqual(before[k]! - 0.02));
      });
      const [hot] = run(colour.view(working, { display, view, exposure: 3 }), [[Infinity, 4, 0.5]]);
      expect(Math.max(...hot!)).toBeGreaterThan(0.3);
      expect(hot!.every((c) => c >= 0 && c <= 1)).toBe(true);
    }
  });

  test('Gentle reaches the top at infinity and nowhere before', () => {
    const steps = new ShotColour().view('Linear Rec.709', { display: 'sRGB', view: 'Gentle', exposure: 0 });
    const [far, endless] = run(steps, [[100, 100, 100], [Infinity, Infinity, Infinity]]); // prettier-ignore
    expect(far![0]).toBeLessThan(0.999);
    endless!.forEach((c) => expect(c).toBeCloseTo(1, 5));
  });
});
