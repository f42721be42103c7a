import { expect, test } from '@jest/globals';
import { DrawnPictures, type Drawn } from '../src/viewer/engine/drawnPictures.ts';

const picture = (bytes: number): Drawn => ({
  width: 1,
  height: 1,
  rgba: new Uint8ClampedArray(bytes),
  clipped: undefined,
  warned: [],
  scopes: undefined,
});

test('pictures are told by what they show and by frame; those used longest ago go when the budget is full', () => {
  const drawn = new DrawnPictures(1000);
  const first = picture(400);
  drawn.set('a', 1, first);
  drawn.set('a', 2, picture(400));
  expect([drawn.get('a', 1), drawn.get('b', 1), drawn.get('a', 3)]).toEqual([first, undefined, undefined]);
  expect([drawn.fits(200), drawn.fits(201)]).toEqual([true, false]);
  // 1 was used last: 2 goes.
  drawn.set('b', 1, picture(400));
  expect([drawn.frames('a'), drawn.frames('b')]).toEqual([new Set([1]), new Set([1])]);
  drawn.set('b', 1, picture(100));
  expect(drawn.fits(500)).toBe(true);
  drawn.set('c', 1, picture(1001));
  expect([drawn.frames('c').size, drawn.frames('a').size]).toEqual([0, 1]);
  // A smaller budget lets the oldest go at once.
  drawn.limit = 100;
  expect([drawn.bytes, drawn.frames('b').size]).toEqual([100, 1]);
});
