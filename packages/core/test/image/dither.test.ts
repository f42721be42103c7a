import { describe, expect, test } from '@jest/globals';
import { ditherCodes } from '@june-haze/core';

describe('codes between which chance decides', () => {
  test('a number that is a code stays it, and none moves by a whole code', () => {
    const whole = Uint16Array.from({ length: 256 }, (_, i) => i * 257);
    expect([...ditherCodes(whole, 3)]).toEqual([...Array(256).keys()]);
    const any = Uint16Array.from({ length: 65_536 }, (_, i) => i);
    // Asked of all at once: an expectation for each takes seconds.
    expect([...ditherCodes(any, 7)].filter((code, i) => !(Math.abs(code - i / 257) < 1))).toEqual([]);
  });

  // Zero mean of the error: Lipshitz, Wannamaker and Vanderkooy 1992, of dither of rectangular density.
  test.each([0.25, 0.5, 0.9])('the mean of what lies at %f between two codes is what it was', (part) => {
    const n = 40_000;
    const value = Math.round((100 + part) * 257);
    const codes = ditherCodes(new Uint16Array(n).fill(value), 1);
    const mean = codes.reduce((sum, c) => sum + c, 0) / n;
    // Five times the spread of a mean of n throws of a coin.
    expect(Math.abs(mean - value / 257)).toBeLessThan((5 * 0.5) / Math.sqrt(n));
  });

  test('another frame has another pattern, the same frame the same', () => {
    const grey = new Uint16Array(1000).fill(128 * 257 + 128);
    expect(ditherCodes(grey, 5)).toEqual(ditherCodes(grey, 5));
    expect(ditherCodes(grey, 5)).not.toEqual(ditherCodes(grey, 6));
  });
});
