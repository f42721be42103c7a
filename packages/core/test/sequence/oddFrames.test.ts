import { describe, expect, test } from '@jest/globals';
import { oddFrames, printDifference, printOfPicture } from '../../src/sequence/oddFrames.ts';

const [width, height] = [640, 360];
const grey = (code: number) => printOfPicture(new Uint8Array(width * height * 4).fill(code), width, height);
const prints = (...codes: (number | undefined)[]) =>
  new Map(codes.flatMap((c, i) => (c === undefined ? [] : [[1001 + i, grey(c)] as const])));
const kinds = (...codes: (number | undefined)[]) => oddFrames(prints(...codes), 8).map((o) => [o.frame, o.kind]);

describe('frames that are unlike their neighbours', () => {
  test('a flash, a jump, a repeat; slow changes are none', () => {
    expect(kinds(100, 103, 106, 109)).toEqual([]);
    expect(kinds(100, 101, 140, 102, 103)).toEqual([[1003, 'flash']]);
    expect(kinds(100, 101, 140, 141)).toEqual([[1003, 'jump']]);
    expect(kinds(100, 101, 101, 102)).toEqual([[1003, 'repeat']]);
    expect(oddFrames(prints(100, 101, 140, 141), 50)).toEqual([]);
    expect(oddFrames(prints(100, 140), 8)[0]!.difference).toBeCloseTo(40, 5);
  });

  test('only neighbours that are there are compared', () => {
    expect(kinds(100, undefined, 140, 141)).toEqual([]);
  });

  test('a print tells where: a change of a corner is a part of one everywhere', () => {
    const corner = new Uint8Array(width * height * 4).fill(100);
    for (let y = 0; y < height / 2; y++)
      for (let x = 0; x < width / 2; x++) corner.fill(140, 4 * (y * width + x), 4 * (y * width + x) + 3);
    expect(printDifference(printOfPicture(corner, width, height), grey(100))).toBeCloseTo(10, 4);
  });
});
