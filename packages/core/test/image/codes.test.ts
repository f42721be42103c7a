import { expect, test } from '@jest/globals';
import { channelOf, coloursOf, coveringCodes, toEightBits } from '../../src/index.ts';

test('every code of 16 bits becomes the nearest of 8, where 255 is 65535', () => {
  const all = Uint16Array.from({ length: 65536 }, (_, i) => i);
  const wanted = Uint8Array.from(all, (v) => Math.round((v / 65535) * 255));
  expect(Buffer.compare(Buffer.from(toEightBits(all)), Buffer.from(wanted))).toBe(0);
});

test('samples of four are taken apart and put together again', () => {
  const rgba = Uint8Array.from([1, 2, 3, 51, 5, 6, 7, 255]);
  expect([...coloursOf(rgba)]).toEqual([1, 2, 3, 5, 6, 7]);
  expect([...coveringCodes(coloursOf(rgba))]).toEqual([1, 2, 3, 255, 5, 6, 7, 255]);
  expect([...channelOf(rgba, 4, 3)]).toEqual([Math.fround(0.2), 1]);
  const deep = Uint16Array.from([0, 1, 65535, 13107, 2, 3]);
  expect(coloursOf(Uint16Array.from([9, 8, 7, 6]))).toEqual(Uint16Array.from([9, 8, 7]));
  expect([...channelOf(deep, 3, 0)]).toEqual([0, Math.fround(0.2)]);
});
