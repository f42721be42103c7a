import { describe, expect, test } from '@jest/globals';
import { halfToNumber, numberToHalf, withinPacking, type Compression } from '@june-haze/core';
import { losesNumbers, LossMeter } from '../src/packingLoss.ts';

const [width, rows] = [96, 64];
/** Uneven light with an edge, rounded to half. */
const light = (seed: number) =>
  [0, 1, 2].map((c) =>
    Float32Array.from({ length: width * rows }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const v = x > 40 + 0.2 * y ? 3 : 0.2 + 0.1 * Math.sin((x * (c + 2) + seed * y) / 7);
      return halfToNumber(numberToHalf(v));
    }),
  );
async function lossOf(compression: Compression, planes = light(1)) {
  const meter = new LossMeter(width, compression, true, [0.3, 0.6, 0.1]);
  await meter.add(planes);
  return meter.loss;
}

test('which packings change numbers: PXR24 those of full floats alone', () => {
  const lossy = (['none', 'rle', 'zips', 'zip', 'piz', 'pxr24', 'b44', 'b44a', 'dwaa', 'dwab'] as const).filter((c) =>
    losesNumbers(c, 'half'),
  );
  expect(lossy).toEqual(['b44', 'b44a', 'dwaa', 'dwab']);
  expect(losesNumbers('pxr24', 'float')).toBe(true);
});

test.each(['zip', 'piz', 'rle'] as const)('%s loses nothing', async (compression) => {
  expect(await lossOf(compression)).toEqual({ mean: 0, largest: 0 });
});

describe.each(['b44', 'dwaa'] as const)('%s', (compression) => {
  test('loses a little, and the same in whatever strips it is measured', async () => {
    const { mean, largest } = await lossOf(compression);
    expect(mean).toBeGreaterThan(0);
    expect(mean).toBeLessThan(0.02);
    expect(largest).toBeLessThan(0.6);
    const meter = new LossMeter(width, compression, true, [0.3, 0.6, 0.1]);
    for (const top of [0, 32]) await meter.add(light(1).map((p) => p.slice(top * width, (top + 32) * width)));
    expect(meter.loss.mean).toBeCloseTo(mean, 9);
  });
});

test('a sum that differs as its packing may is within it; one that lacks a pass is not', () => {
  const loss = { mean: 0.001, largest: 0.02 };
  expect(withinPacking({ mean: 0.002, largest: 0.05 }, loss)).toBe(true);
  expect(withinPacking({ mean: 0.02, largest: 0.05 }, loss)).toBe(false);
  expect(withinPacking({ mean: 0.002, largest: 0.5 }, loss)).toBe(false);
});
