import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { greyTargets, neutralising, blackAndWhite, neutralisingWays, patchMean } from '../../src/match/greyPatch.ts';
import type { LightPicture, ThreePlanes } from '../../src/match/pictures.ts';
import { adjusted, randomFrom } from '../operations/surroundings.ts';

const weights = new ShotColour().luminance('ACEScg');
/** A card of a tinted grey with grain, a scratch and a glint, on black. */
function card(grain: number): LightPicture {
  const [width, height] = [40, 30];
  const random = randomFrom(4);
  const planes = [0, 1, 2].map(() => new Float32Array(width * height)) as unknown as ThreePlanes;
  const tint = [0.22, 0.2, 0.13];
  for (let y = 5; y < 25; y++)
    for (let x = 5; x < 35; x++) {
      const noise = 1 + grain * (random() + random() + random() - 1.5);
      const level = y === 10 ? 0.1 : x === 20 && y > 15 && y < 19 ? 30 : noise;
      tint.forEach((t, c) => (planes[c]![y * width + x] = t * level));
    }
  return { width, height, planes };
}
const inside = { x: 6, y: 6, width: 28, height: 18 };

describe('a patch that shall be grey', () => {
  test('its mean leaves a scratch and a glint out, which would move it', () => {
    const { mean, rejected, noise } = patchMean(card(0.04), inside, weights);
    [0.22, 0.2, 0.13].forEach((t, c) => expect(mean[c]! / t).toBeCloseTo(1, 2));
    // A row of 28 and 3 pixels of 504.
    expect(rejected).toBeGreaterThanOrEqual(31 / 504);
    expect(rejected).toBeLessThan(0.1);
    // Three even draws in 0 … 1 have a variance of 3 / 12.
    expect(noise).toBeCloseTo(0.04 * 0.5, 2);
  });

  test('without grain nothing but what is another thing is left out', () => {
    const { mean, rejected, noise } = patchMean(card(0), inside, weights);
    expect(mean[1]).toBeCloseTo(0.2, 6);
    expect([rejected, noise]).toEqual([expect.closeTo(31 / 504, 6), expect.closeTo(0, 6)]);
  });

  test('a region that reaches out of the picture counts what is in it; one without light is refused', () => {
    // 25 by 7 pixels of the card but for one of the glint; black beside it is left out.
    expect(patchMean(card(0), { x: 10, y: 18, width: 100, height: 7 }, weights).count).toBe(174);
    const { mean } = patchMean(card(0), { x: 0, y: 0, width: 4, height: 4 }, weights);
    expect(() => neutralising(mean, 0.18, 'gains', weights)).toThrow('no light');
    expect(() => patchMean(card(0), { x: 900, y: 0, width: 4, height: 4 }, weights)).toThrow('no pixels');
  });

  test.each(neutralisingWays)('by %s it becomes the grey that it is meant to be', (way) => {
    const { mean } = patchMean(card(0.04), inside, weights);
    for (const { value } of greyTargets) {
      let pixel: number[] = [...mean];
      for (const adjustment of neutralising(mean, value, way, weights)) pixel = adjusted(adjustment, [pixel])[0]!;
      pixel.forEach((v) => expect(v).toBeCloseTo(value, 4));
    }
  });

  test('Bradford and CAT02 take other colours elsewhere than gains do', () => {
    const red = [0.5, 0.1, 0.05];
    const through = (way: (typeof neutralisingWays)[number]) =>
      neutralising([0.22, 0.2, 0.13], 0.18, way, weights).reduce<number[]>((p, a) => adjusted(a, [p])[0]!, red);
    const [bradford, cat02, gains] = neutralisingWays.map(through);
    expect(Math.abs(bradford![0]! - gains![0]!)).toBeGreaterThan(0.005);
    expect(Math.abs(bradford![0]! - cat02![0]!)).toBeGreaterThan(0.0001);
  });

  test('a black and a white become what they are meant to be, and what lies between stays in between', () => {
    const fit = blackAndWhite([0.04, 0.05, 0.06], [0.9, 0.8, 0.5], { black: 0, white: 0.9 });
    const through = (colour: readonly number[]) =>
      adjusted({ kind: 'matrix', enabled: true, ...fit } as never, [colour])[0]!;
    through([0.04, 0.05, 0.06]).forEach((v) => expect(v).toBeCloseTo(0, 6));
    through([0.9, 0.8, 0.5]).forEach((v) => expect(v).toBeCloseTo(0.9, 6));
    through([0.47, 0.425, 0.28]).forEach((v) => expect(v).toBeCloseTo(0.45, 6));
    expect(() => blackAndWhite([0.1, 0.1, 0.6], [0.9, 0.8, 0.5], { black: 0, white: 0.9 })).toThrow(RangeError);
  });
});
