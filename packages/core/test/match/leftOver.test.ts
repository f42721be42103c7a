import { expect, test } from '@jest/globals';
import { leftOver } from '../../src/match/leftOver.ts';

/** Eight pixels across and six down, each colour as often as it is named. */
const picture = (colours: readonly (readonly number[])[]) =>
  Uint8ClampedArray.from({ length: 48 * 4 }, (_, i) => [...colours[(i >> 2) % colours.length]!, 255][i % 4]!);

test('what is left over is counted by saturation: greys, pale, strong and pure colours, darkness as grey', () => {
  const made = picture([
    [128, 128, 128],
    [200, 160, 150],
    [200, 100, 100],
    [200, 20, 10],
    [9, 0, 4],
    [100, 100, 100],
  ]);
  // Everything as it was but the pure colour, which is three codes off in two channels.
  const codes = made.map((v, i) => ((i >> 2) % 6 === 3 && i % 4 < 2 ? v + 3 : v));
  const { saturations } = leftOver(made, codes, { width: 8, height: 6 });
  expect(saturations.map((s) => s.share)).toEqual([1 / 2, 1 / 6, 1 / 6, 1 / 6]);
  expect(saturations.map((s) => s.mean)).toEqual([0, 0, 0, 2]);
});
