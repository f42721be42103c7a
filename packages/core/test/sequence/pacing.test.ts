import { describe, expect, test } from '@jest/globals';
import {
  asNumbered,
  framesInShot,
  ownFrame,
  shotFramesShowing,
  type Beyond,
  type OwnFrames,
} from '../../src/sequence/pacing.ts';

const own: OwnFrames = { firstFrame: 101, lastFrame: 104, step: 1 };
const shown = (beyond: Beyond, speed: number, from: number, to: number, of = own) =>
  Array.from({ length: to - from + 1 }, (_, i) => ownFrame(of, 1001, { speed, beyond }, from + i));

describe('whole frames of a source in a shot', () => {
  test('as numbered: each file once, nothing outside', () => {
    expect(shown('stop', 1, 1000, 1005)).toEqual([undefined, 101, 102, 103, 104, undefined]);
    expect(shown('nothing', 1, 1000, 1005)).toEqual([undefined, 101, 102, 103, 104, undefined]);
    expect(framesInShot(own, asNumbered)).toBe(4);
  });

  test('beyond its ends it is held, begins again, or turns round without showing an end twice', () => {
    expect(shown('hold', 1, 999, 1006)).toEqual([101, 101, 101, 102, 103, 104, 104, 104]);
    expect(shown('loop', 1, 999, 1010)).toEqual([103, 104, 101, 102, 103, 104, 101, 102, 103, 104, 101, 102]);
    expect(shown('thereAndBack', 1, 998, 1010)).toEqual([
      ...[104, 103, 102, 101, 102, 103, 104, 103, 102, 101, 102, 103, 104],
    ]);
    const still: OwnFrames = { firstFrame: 7, lastFrame: 7, step: 1 };
    for (const beyond of ['hold', 'loop', 'thereAndBack'] as const)
      expect(shown(beyond, 1, 995, 1005, still)).toEqual(Array(11).fill(7));
  });

  test('slower repeats, faster leaves out, below zero runs backwards', () => {
    expect(shown('stop', 0.5, 1000, 1009)).toEqual([undefined, ...[101, 101, 102, 102, 103, 103, 104, 104], undefined]);
    expect(shown('stop', 2, 1001, 1003)).toEqual([101, 103, undefined]);
    expect(shown('stop', -1, 1001, 1005)).toEqual([104, 103, 102, 101, undefined]);
    expect(shown('loop', -2, 1001, 1004)).toEqual([104, 102, 104, 102]);
    expect(framesInShot(own, { speed: 0.5 })).toBe(8);
    expect(framesInShot(own, { speed: -3 })).toBe(2);
  });

  test('at its own pace a second stays a second: 25 frames of 25 fps fill 24 of 24 fps, one of them left out', () => {
    const second: OwnFrames = { firstFrame: 0, lastFrame: 24, step: 1 };
    expect(framesInShot(second, { speed: 25 / 24 })).toBe(24);
    const frames = shown('stop', 25 / 24, 1001, 1024, second);
    expect(new Set(frames).size).toBe(24);
    expect(frames.at(-1)).toBe(23);
    // No frame is lost to the way thirds are stored: 24 own frames at a third of their speed last 72.
    const thirds = shown('stop', 1 / 3, 1001, 1072, { ...second, lastFrame: 23 });
    expect(thirds).toEqual(Array.from({ length: 72 }, (_, i) => Math.floor(i / 3)));
  });

  test('files numbered on twos: at another speed, and beyond the ends, only numbers that there are', () => {
    const twos: OwnFrames = { firstFrame: 11, lastFrame: 15, step: 2 };
    expect(shown('stop', 1, 1001, 1005, twos)).toEqual([11, 12, 13, 14, 15]);
    expect(shown('loop', 1, 1006, 1012, twos)).toEqual([15, 11, 11, 13, 13, 15, 15]);
    expect(shown('hold', 2, 1001, 1004, twos)).toEqual([11, 13, 15, 15]);
  });

  test('where in the shot a missing file is missed', () => {
    expect(shotFramesShowing(new Set([102, 104]), own, 1001, { speed: 1 })).toEqual([1002, 1004]);
    expect(shotFramesShowing(new Set([102]), own, 1001, { speed: 0.5 })).toEqual([1003, 1004]);
    expect(shotFramesShowing(new Set([102]), own, 1001, { speed: 2 })).toEqual([]);
  });
});
