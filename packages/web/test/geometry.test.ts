import { describe, expect, test } from '@jest/globals';
import {
  fitScale,
  lay,
  mostScale,
  panned,
  placeOf,
  regionBetween,
  seenOf,
  toPane,
  toPicture,
  viewOf,
  zoomAbout,
  type Lying,
  type View,
} from '../src/viewer/geometry.ts';
import { partAround } from '../src/viewer/partAround.ts';

const lying = (width: number, height: number, more: Partial<Lying> = {}): Lying => ({
  picture: { width, height },
  aspect: 1,
  pane: { width: 800, height: 600 },
  ...more,
});

describe('where a picture lies', () => {
  test('fitted it is seen whole, with room around; wide pixels take their room', () => {
    expect(fitScale(lying(960, 540))).toBeCloseTo(768 / 960, 9);
    expect(fitScale(lying(960, 540, { aspect: 2 }))).toBeCloseTo(768 / 1920, 9);
    const { scale, scaleX, left } = lay('fit', lying(960, 540, { aspect: 2 }));
    expect(scaleX).toBe(2 * scale);
    expect(left).toBeCloseTo(16, 9);
  });

  test('at whole scales its corner lies on a whole pixel of the screen', () => {
    const view: View = { scale: 1, centre: [480.3, 270.7] };
    const { left, top } = lay(view, lying(960, 540, { pane: { width: 801, height: 599 } }));
    expect([Number.isInteger(left), Number.isInteger(top)]).toEqual([true, true]);
  });

  test('what is under the pointer stays under it while it is zoomed', () => {
    let view: View = 'fit';
    const at = lying(960, 540);
    const before = toPicture(lay(view, at), 200, 300);
    for (let i = 0; i < 20; i++) view = zoomAbout(view, at, lay(view, at).scale * 1.13, 200, 300);
    const [x, y] = toPicture(lay(view, at), 200, 300);
    expect(x).toBeCloseTo(before[0], 6);
    expect(y).toBeCloseTo(before[1], 6);
    expect(lay(zoomAbout(view, at, 1000, 0, 0), at).scale).toBe(mostScale);
    const moved = panned(view, at, 30, -10);
    expect(toPane(lay(moved, at), x, y)).toEqual([expect.closeTo(230, 6), expect.closeTo(290, 6)]);
  });
});

describe('a remembered place', () => {
  test.each([
    [960, 540],
    [1920, 1080],
    [480, 270],
    [4096, 2304],
  ])('is the same part of a picture of %i by %i, and its middle the same pixel', (width, height) => {
    // Remembered in the middle of pixel 301, 200 of 960 by 540.
    const here = lying(960, 540);
    const place = placeOf({ scale: 8, centre: [301.5, 200.5] }, here);
    const there = lying(width, height);
    const view = viewOf(place, there.picture);
    const [x, y] = toPicture(lay(view, there), 400, 300);
    expect(Math.floor((x * 960) / width)).toBe(301);
    expect(Math.floor((y * 540) / height)).toBe(200);
    // As large on the screen: the same share of the picture is seen.
    expect(lay(view, there).scale * width).toBeCloseTo(8 * 960, 6);
    expect(placeOf(view, there)).toEqual({ ...place, scale: expect.closeTo((8 * 960) / width, 9), width });
  });
});

describe('parts of a picture', () => {
  test('what is seen, in whole pixels, is what lies under the pane', () => {
    const at = lying(4096, 2160);
    expect(seenOf(lay('fit', at), at)).toEqual({ x: 0, y: 0, width: 4096, height: 2160 });
    const view: View = { scale: 1, centre: [1000, 500] };
    expect(seenOf(lay(view, at), at)).toEqual({ x: 600, y: 200, width: 800, height: 600 });
  });

  test('a region is what lies between two points, in whole pixels, within the picture', () => {
    const size = { width: 100, height: 50 };
    expect(regionBetween([10.2, 5.9], [20.1, 8], size)).toEqual({ x: 10, y: 5, width: 11, height: 3 });
    expect(regionBetween([20.1, 8], [-5, 70], size)).toEqual({ x: 0, y: 8, width: 21, height: 42 });
    expect(regionBetween([-9, 5], [-2, 8], size)).toBeUndefined();
  });

  test('what is fetched reaches around what is seen, stays for small moves, and is all of it where that is hardly more', () => {
    const size = { width: 4096, height: 2160 };
    const seen = { x: 1000, y: 500, width: 800, height: 600 };
    const part = partAround(seen, size, 0)!;
    expect(part).toEqual({ x: 768, y: 256, width: 1280, height: 1024 });
    expect(partAround({ ...seen, x: 1010, y: 510 }, size, 0)).toEqual(part);
    expect(partAround({ x: 0, y: 0, ...size }, size, 0)).toBeUndefined();
    // At a level its pixels are the level's.
    expect(partAround({ x: 2000, y: 1000, width: 800, height: 400 }, size, 1)).toEqual({
      x: 768,
      y: 256,
      width: 768,
      height: 768,
    });
    // At the edge it ends with the picture.
    expect(partAround({ x: 3800, y: 2000, width: 296, height: 160 }, size, 0)).toEqual({
      x: 3584,
      y: 1792,
      width: 512,
      height: 368,
    });
  });
});
