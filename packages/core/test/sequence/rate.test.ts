import { expect, test } from '@jest/globals';
import { rateFraction } from '../../src/sequence/rate.ts';

// SMPTE ST 12-1: rates of colour television are whole ones times 1000/1001.
test.each([
  [23.976, [24000, 1001]],
  [24000 / 1001, [24000, 1001]],
  [23.98, [24000, 1001]],
  [29.97, [30000, 1001]],
  [47.952, [48000, 1001]],
  [59.94, [60000, 1001]],
  [119.88, [120000, 1001]],
  [24, [24, 1]],
  [25, [25, 1]],
  [12.5, [12500, 1000]],
  [15.2, [15200, 1000]],
])('%d frames a second are %j', (rate, fraction) => {
  expect(rateFraction(rate)).toEqual(fraction);
});
