import { describe, expect, test } from '@jest/globals';
import { compareSamples } from '../../src/image/compare.ts';
import { halfToNumber, numberToHalf } from '../../src/image/half.ts';
import { halvePlane, sideAtLevel } from '../../src/image/level.ts';

describe('halving a plane', () => {
  test('light is averaged over what is there, also at odd edges', () => {
    const plane = Float32Array.of(1, 3, 10, 5, 7, 20, 2, 4, 30);
    expect([...halvePlane(plane, 3, 3, false)]).toEqual([4, 15, 3, 30]);
  });

  test('data takes a sample that exists: no ID or depth is made up', () => {
    const ids = Uint32Array.from({ length: 25 }, (_, i) => i * 1000003);
    const small = halvePlane(ids, 5, 5, true);
    expect(small).toHaveLength(9);
    for (const v of small) expect([...ids]).toContain(v);
    expect([...small.slice(0, 3)]).toEqual([ids[0], ids[2], ids[4]]);
  });

  test('halves are averaged as numbers and rounded once', () => {
    const plane = Uint16Array.from([0.1, 0.2, 0.3, 0.4], numberToHalf);
    const mean = [0.1, 0.2, 0.3, 0.4].reduce((s, v) => s + halfToNumber(numberToHalf(v)), 0) / 4;
    expect(halvePlane(plane, 2, 2, false)[0]).toBe(numberToHalf(mean));
  });

  test('sides round up', () => {
    expect([0, 1, 2, 3, 10].map((l) => sideAtLevel(1080, l))).toEqual([1080, 540, 270, 135, 2]);
  });
});

describe('halves as numbers (IEEE 754 binary16)', () => {
  test.each([
    [0x0000, 0],
    [0x0001, 2 ** -24],
    [0x03ff, 1023 * 2 ** -24],
    [0x0400, 2 ** -14],
    [0x3c00, 1],
    [0x3c01, 1 + 2 ** -10],
    [0x7bff, 65504],
    [0xc000, -2],
  ])('%i is %d', (bits, value) => {
    expect(halfToNumber(bits)).toBe(value);
    expect(numberToHalf(value)).toBe(bits);
  });

  test('every half comes back, ties go to even, too much is infinite', () => {
    for (let h = 0; h < 65536; h++) {
      const value = halfToNumber(h);
      if (Number.isNaN(value)) continue;
      if (numberToHalf(value) !== h) throw new Error(`half ${h} comes back as ${numberToHalf(value)}`);
    }
    expect(numberToHalf(1 + 2 ** -11)).toBe(0x3c00);
    expect(numberToHalf(1 + 3 * 2 ** -11)).toBe(0x3c02);
    expect([numberToHalf(65519), numberToHalf(65520)]).toEqual([0x7bff, 0x7c00]);
  });
});

test('samples are compared as numbers: NaN equals NaN, and is infinitely far from a number', () => {
  expect(compareSamples([1, NaN, 3], [1, NaN, 3.5])).toEqual({
    samples: 3,
    equal: 2,
    largest: 0.5,
    mean: 0.5 / 3,
    at: 2,
  });
  expect(compareSamples([1, 2], [1, NaN])).toMatchObject({ equal: 1, largest: Infinity, at: 1 });
  expect(compareSamples([0], [-0])).toMatchObject({ equal: 1, largest: 0 });
});
