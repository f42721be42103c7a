import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { keyedFrames, valueAt, withKey, withoutKey, type Keyed } from '../../src/operations/keyed.ts';

test('a constant becomes keyed at a frame, and constant again without its last key', () => {
  const keyed = withKey(0.5, 1004, 2);
  expect(keyed).toEqual({ keys: [[1004, 2]] });
  expect(withoutKey(keyed, 1004)).toBe(2);
  expect(withoutKey(0.5, 1004)).toBe(0.5);
});

test('keys stand in order, one a frame, and how they run is kept', () => {
  let keyed: Keyed = { keys: [[1010, 1]], smooth: true };
  for (const [frame, value] of [
    [1001, 0],
    [1020, 3],
    [1010, 5],
  ] as const)
    keyed = withKey(keyed, frame, value);
  expect(keyed).toEqual({
    smooth: true,
    keys: [
      [1001, 0],
      [1010, 5],
      [1020, 3],
    ],
  });
  expect(withoutKey(keyed, 1010)).toEqual({
    smooth: true,
    keys: [
      [1001, 0],
      [1020, 3],
    ],
  });
});

test('a number has at a frame what it was keyed to there, whatever stood before', () => {
  const keys = fc.array(fc.tuple(fc.integer({ min: 990, max: 1030 }), fc.double({ min: -5, max: 5, noNaN: true })), {
    minLength: 1,
    maxLength: 8,
  });
  fc.assert(
    fc.property(keys, fc.boolean(), fc.integer({ min: 985, max: 1035 }), (all, smooth, frame) => {
      expect(valueAt(withKey({ keys: all, smooth }, frame, 0.25), frame)).toBe(0.25);
    }),
    { seed: 7 },
  );
});

test('the frames at which anything of a document is keyed', () => {
  const document = {
    entries: [
      {
        mix: {
          keys: [
            [1003, 1],
            [1009, 0],
          ],
        },
        adjustments: [{ stops: 1 }],
      },
      { entries: [{ adjustments: [{ stops: { keys: [[1001, 0]] } }] }] },
    ],
    mattes: { box: { centre: [{ keys: [[1009, 4]] }, 5] } },
  };
  expect(keyedFrames(document)).toEqual([1001, 1003, 1009]);
  expect(keyedFrames({ mix: 1 })).toEqual([]);
});
