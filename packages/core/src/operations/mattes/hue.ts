import { number } from '../parameters.ts';
import { matte } from '../matte.ts';
import { ramp, rampBetween, soft } from './ramp.ts';

const f = Math.fround;

export const hueRange = matte({
  kind: 'hue',
  title: 'Hue and saturation',
  does: '1 where the hue lies within a width about the middle, falling off outside, and saturation between low and high; of the straight colour of what it is applied to. Saturation is 1 − least / most.',
  published: 'hue of the colour hexagon: A. R. Smith, "Color Gamut Transform Pairs", SIGGRAPH 1978',
  search: ['colour', 'key', 'chroma', 'saturation'],
  parameters: {
    middle: number('Hue', 0, [0, 360], { unit: '°', step: 1, scale: 'angle' }),
    width: number('Width', 40, [0, 360], { unit: '°', step: 1, scale: 'angle' }),
    falloff: number('Falloff', 20, [0, 180], { unit: '°', step: 1, scale: 'angle' }),
    low: number('Least saturation', 0.1, [0, 1]),
    high: number('Most saturation', 1, [0, 1]),
    softness: number('Softness of saturation', 0.1, [0, 1]),
    soft,
  },
  ofSubject: true,
  measure: {
    of: 'hue',
    scale: 'even',
    ends: [],
    shape: ({ middle, width, falloff }) => [
      [middle - width / 2 - falloff, 0],
      [middle - width / 2, 1],
      [middle + width / 2, 1],
      [middle + width / 2 + falloff, 0],
    ],
  },
  run({ heap, n, values, to, subject }) {
    // Hue and saturation do not change when all channels are multiplied by alpha.
    const [r, g, b] = subject.slice(0, 3).map((p) => heap.floats(p, n)) as [Float32Array, Float32Array, Float32Array];
    const plane = heap.floats(to, n);
    const { middle, width, falloff, low, high, softness, soft: between } = values;
    for (let i = 0; i < n; i++) {
      const [red, green, blue] = [r[i]!, g[i]!, b[i]!];
      const most = Math.max(red, green, blue);
      const least = Math.min(red, green, blue);
      const saturation = most > 0 ? Math.min(1, 1 - least / most) : 0;
      if (!(saturation > 0)) {
        plane[i] = low <= 0 && width >= 360 ? 1 : 0;
        continue;
      }
      const away = Math.abs(((hueOf(red, green, blue, most, least) - middle + 540) % 360) - 180);
      const ofHue = falloff > 0 ? ramp(1 - (away - width / 2) / falloff, between) : away <= width / 2 ? 1 : 0;
      const enough = rampBetween(saturation, low - softness, low, between);
      const tooMuch = high >= 1 ? 0 : rampBetween(saturation, high, high + softness, between);
      plane[i] = f(ofHue * enough * (1 - tooMuch));
    }
  },
});

/** In degrees, red at 0; `most` and `least` are those of the three. */
export function hueOf(r: number, g: number, b: number, most: number, least: number): number {
  const range = most - least;
  const sixth = r === most ? (g - b) / range : g === most ? 2 + (b - r) / range : 4 + (r - g) / range;
  return (60 * sixth + 360) % 360;
}
