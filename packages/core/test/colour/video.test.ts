import { describe, expect, test } from '@jest/globals';
import { codesOfVideo, type VideoFrame } from '../../src/index.ts';
import { bars } from './bars.ts';

/** A frame of one colour. */
const flat = (ycc: readonly number[], change: Partial<VideoFrame> = {}): VideoFrame => {
  const own = { width: 6, height: 4, bits: 10, shared: [2, 2], matrix: 'bt709', range: 'legal', ...change } as const;
  const small = Math.ceil(own.width / own.shared[0]) * Math.ceil(own.height / own.shared[1]);
  const [y, cb, cr] = ycc as [number, number, number];
  return {
    ...own,
    y: new Uint16Array(own.width * own.height).fill(y),
    cb: new Uint16Array(small).fill(cb),
    cr: new Uint16Array(small).fill(cr),
  };
};

describe('bars of 75 %', () => {
  test.each(bars)('%s', (_, rgb, ycc) => {
    for (const shared of [
      [2, 2],
      [2, 1],
      [1, 1],
    ] as const) {
      const codes = codesOfVideo(flat(ycc, { shared }));
      const apart = [...codes].map((v, i) => Math.abs(v - 255 * (i % 4 === 3 ? 1 : rgb[i % 4]!)));
      expect(Math.max(...apart)).toBeLessThanOrEqual(1);
    }
  });
});

test('white, black and what lies beyond, of 8, 10 and 12 bits (BT.709-6, item 5.6)', () => {
  for (const bits of [8, 10, 12]) {
    const step = 2 ** (bits - 8);
    const grey = (y: number) => codesOfVideo(flat([y * step, 128 * step, 128 * step], { bits }))[0];
    expect([grey(235), grey(16), grey(254), grey(1), grey(126)]).toEqual([
      255,
      0,
      255,
      0,
      Math.round((255 * 110) / 219),
    ]);
  }
});

test('full range has all codes (H.273, 8.3)', () => {
  const red = codesOfVideo(flat([54, 99, 255], { bits: 8, range: 'full' }));
  // Luma 0.2126 of red alone, Cb −0.2126 / 1.8556, Cr 0.5.
  expect([...red.subarray(0, 3)].map((v, c) => Math.abs(v - [255, 0, 0][c]!) <= 1)).toEqual([true, true, true]);
  expect(codesOfVideo(flat([255, 128, 128], { bits: 8, range: 'full' }))[0]).toBe(255);
});

test('BT.2020’s red has its own share of luma (BT.2020-2, table 4)', () => {
  // Red alone: luma 0.2627, so Y' = 16 + 219 · 0.2627, Cr = 128 + 112, Cb = 128 - 112 · 0.2627 / 0.9407.
  const ycc = [4 * (16 + 219 * 0.2627), 4 * (128 - (112 * 0.2627) / 0.9407), 4 * 240].map(Math.round);
  expect([...codesOfVideo(flat(ycc, { matrix: 'bt2020nc' })).subarray(0, 3)]).toEqual([255, 0, 0]);
});

test('colour lies on the first of two pixels across, and between both down', () => {
  const frame = flat([512, 512, 512], { width: 4, height: 4, bits: 10 });
  const cr = Uint16Array.from([512, 612, 912, 1012]);
  const reds = codesOfVideo({ ...frame, cr, y: new Uint16Array(16).fill(300) });
  const red = (x: number, y: number) => reds[4 * (y * 4 + x)]!;
  const of = (c: number) => Math.round(Math.min(255, 255 * ((300 - 64) / 876 + (2 * (1 - 0.2126) * (c - 512)) / 896)));
  expect([red(0, 0), red(1, 0), red(2, 0), red(3, 0)]).toEqual([512, 562, 612, 612].map(of));
  expect([red(0, 0), red(0, 1), red(0, 2), red(0, 3)]).toEqual([512, 612, 812, 912].map(of));
});
