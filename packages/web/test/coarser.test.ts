import { expect, test } from '@jest/globals';
import { worthDrawing, type Coarser } from '../src/viewer/engine/coarser.ts';
import type { PictureRequest } from '../src/viewer/engine/messages.ts';

const at = (level: number) => ({ level }) as PictureRequest;
const coarser = [
  { request: at(1), after: 25 },
  { request: at(2), after: 100 },
  { request: at(3), after: 100 },
] as readonly Coarser[];
const levels = (took: readonly (readonly [number, number])[], of = coarser) =>
  worthDrawing(at(0), of, new Map(took)).map((r) => r.level);

test('a quick picture moves as it is; a slow one at the nearest level; one that is slow even there, more coarsely', () => {
  expect(levels([])).toEqual([]);
  expect(levels([[0, 20]])).toEqual([]);
  expect(levels([[0, 90]])).toEqual([1]);
  // 440 ms at level 0 is about 110 at the nearest, which is still too long.
  expect(levels([[0, 440]])).toEqual([1, 2]);
  expect(levels([[0, 4000]])).toEqual([1, 2, 3]);
  // What was measured counts more than what was reckoned.
  expect(
    levels([
      [0, 440],
      [1, 70],
    ]),
  ).toEqual([1]);
});

test('where the picture is seen at its own level, it is made coarser only when it is slow', () => {
  const rough = coarser.slice(1);
  expect(levels([[0, 90]], rough)).toEqual([]);
  expect(levels([[0, 160]], rough)).toEqual([2]);
});
