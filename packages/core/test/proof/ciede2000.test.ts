import { expect, test } from '@jest/globals';
import { ciede2000, labOfCodes, type Lab } from '../../src/proof/ciede2000.ts';

// Sharma, Wu, Dalal 2005, table 1 (a selection of the 34 published pairs, from memory; the stated tolerance is 6e-5).
const pairs: [Lab, Lab, number][] = [
  [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
  [[50, 3.1571, -77.2803], [50, 0, -82.7485], 2.8615],
  [[50, 2.8361, -74.02], [50, 0, -82.7485], 3.4412],
  [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1],
  [[50, 0, 0], [50, -1, 2], 2.3669],
  [[50, 2.49, -0.001], [50, -2.49, 0.0009], 7.1792],
  [[50, 2.5, 0], [73, 25, -18], 27.1492],
  [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
  [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
];

test.each(pairs)('CIEDE2000 of %j and %j is %d', (a, b, expected) => {
  expect(Math.abs(ciede2000(a, b) - expected)).toBeLessThan(6e-5);
});

test('white is L 100 and neutral, mid code 119 is close to L 50 (sRGB)', () => {
  const [l, a, b] = labOfCodes(255, 255, 255, 'srgb');
  expect([l, a, b].map((x) => Math.round(x * 1000) / 1000 + 0)).toEqual([100, 0, 0]);
  expect(labOfCodes(119, 119, 119, 'srgb')[0]).toBeCloseTo(50.03, 1);
});
