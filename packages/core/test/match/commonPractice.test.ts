import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { throughSteps } from '../../src/match/candidates.ts';
import { compareToReference } from '../../src/match/referenceProof.ts';
import type { LightPicture } from '../../src/match/pictures.ts';
import { frame, heap, hazeTruth, planesOf, plainTruth, saveAs } from './cases.ts';

// What compositors check by eye when a render comes in: common practice, no source.
const colour = new ShotColour();
const view = { display: 'sRGB', view: 'ACES SDR', exposure: 0 };
const light = frame(90);
const pixels = light.width * light.height;
const numbersAt =
  ({ planes: [r, g, b] }: LightPicture) =>
  (i: number) =>
    [r[i]!, g[i]!, b[i]!] as const;

describe('common practice', () => {
  test.each([
    ['ACES SDR', plainTruth],
    ['Haze', hazeTruth],
  ])(
    'a picture with %s in it and the linear frame through the same view are the same; through another they are not',
    (_, truth) => {
      const picture = { ...light, planes: planesOf(saveAs(truth, light)) };
      const through = (name: string) => {
        const steps = truth.of.config.colour.view('ACEScg', { ...view, view: name });
        return compareToReference(light, steps, picture, 'srgb', heap).verdict;
      };
      expect(through(truth.view)).toBe('identical');
      expect(through(truth.view === 'Haze' ? 'Untoned' : 'Gentle')).not.toMatch(/identical|equal/);
    },
  );

  test('two stops before the view keep the fall-off of a light; two stops on its codes burn it', () => {
    const ramp = Array.from({ length: 64 }, (_, i) => 0.2 * 2 ** (i / 16));
    const at = (i: number) => [ramp[i]!, ramp[i]!, ramp[i]!] as const;
    const green = (values: Float32Array) => ramp.map((_, i) => Math.min(1, values[3 * i + 1]!));
    const before = green(throughSteps(colour.view('ACEScg', { ...view, exposure: 2 }), heap, ramp.length, at));
    const after = green(throughSteps(colour.view('ACEScg', view), heap, ramp.length, at).map((v) => 4 * v));
    expect(before.every((v, i) => i === 0 || v > before[i - 1]!)).toBe(true);
    expect(before.filter((v) => v === 1)).toHaveLength(0);
    expect(after.filter((v) => v === 1).length).toBeGreaterThan(48);
  });

  test('the same place in three spaces, each declared as what it is, looks the same; taken for another it does not', () => {
    const seen = (numbers: Float32Array, declared: string) => {
      const steps = [...colour.conversion(declared, 'ACEScg'), ...colour.view('ACEScg', view)];
      const at = (i: number) => [numbers[3 * i]!, numbers[3 * i + 1]!, numbers[3 * i + 2]!] as const;
      return throughSteps(steps, heap, pixels, at);
    };
    const inSpace = (space: string) => throughSteps(colour.conversion('ACEScg', space), heap, pixels, numbersAt(light));
    const own = seen(inSpace('ACEScg'), 'ACEScg');
    const far = (codes: Float32Array) => codes.reduce((most, v, i) => Math.max(most, 255 * Math.abs(v - own[i]!)), 0);
    for (const space of ['ACES2065-1', 'Linear Rec.709', 'ACEScct', 'V-Log']) {
      expect([space, far(seen(inSpace(space), space)) < 1]).toEqual([space, true]);
      expect([space, far(seen(inSpace(space), 'ACEScg')) > 10]).toEqual([space, true]);
    }
  });
});
