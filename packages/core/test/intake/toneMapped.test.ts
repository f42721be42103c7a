import { describe, expect, test } from '@jest/globals';
import { traitsOf } from '../../src/intake/pixelEvidence.ts';
import { channelStatistics } from '../../src/intake/statistics.ts';
import { looksToneMapped } from '../../src/intake/toneMapped.ts';
import { throughSteps } from '../../src/match/candidates.ts';
import { configs, frame, heap } from '../match/cases.ts';

/** Whether planes of a frame look tone-mapped. */
function looks(planes: readonly Float32Array[]): boolean {
  const { maximum, top } = traitsOf(planes.map(channelStatistics))!;
  return looksToneMapped(maximum, top!);
}

/** IEC 61966-2-1, clause 5.2: codes back to light, so that the tone curve alone is left. */
const decode = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const frames = Array.from({ length: 12 }, (_, i) => frame(1 + i));
const views = [
  [0, 'ACES SDR'],
  [0, 'ACES 2.0 SDR'],
  [0, 'Gentle'],
  [1, 'Haze'],
] as const;

describe('light that went through a tone curve', () => {
  test.each(views)(
    'view %i %s, its codes decoded to light again: at least nine of ten frames are doubted',
    (at, view) => {
      const { colour } = configs[at]!.config;
      const steps = colour.view('ACEScg', { display: 'sRGB', view, exposure: 0 });
      const doubted = frames.filter(({ planes, width, height }) => {
        const [r, g, b] = planes;
        const shown = throughSteps(steps, heap, width * height, (i) => [r[i]!, g[i]!, b[i]!]);
        return looks([0, 1, 2].map((c) => planes[c]!.map((_, i) => decode(shown[3 * i + c]!))));
      });
      expect(doubted.length).toBeGreaterThanOrEqual(0.9 * frames.length);
    },
  );

  test('light is not, whatever it is scaled to, nor is a wall of even white', () => {
    for (const { planes } of frames) {
      const most = Math.max(...planes.map((p) => p.reduce((a, b) => Math.max(a, b))));
      for (const gain of [1, 1 / most, 0.98 / most, 4 / most])
        expect(looks(planes.map((p) => p.map((v) => v * gain)))).toBe(false);
    }
    const wall = Float32Array.from({ length: 6000 }, (_, i) => (i % 3 ? 0.98 - 0.01 * (i % 2) : 0.1));
    expect(looks([wall, wall, wall])).toBe(false);
  });

  test('light that was cut off at 1 is doubted as well', () => {
    const clipped = frames.filter(({ planes }) => looks(planes.map((p) => p.map((v) => Math.min(0.5 * v, 1)))));
    expect(clipped.length).toBeGreaterThanOrEqual(0.8 * frames.length);
  });
});
