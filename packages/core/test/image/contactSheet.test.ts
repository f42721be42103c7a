import { describe, expect, test } from '@jest/globals';
import { coveringCodes, cutFromSheet, drawOnSheet, emptySheet, sheetLayout, toEightBits } from '@june-haze/core';

const cell = { width: 32, height: 18 };
const picture = (seed: number) => Uint8Array.from({ length: 32 * 18 * 3 }, (_, i) => (i * 31 + seed * 97) % 256);

describe('a contact sheet', () => {
  test.each([
    // 24 pictures of 16:9: about as wide as a screen is 5 by 5.
    [24, null, 5, 5],
    [24, 6, 6, 4],
    [3, 10, 3, 1],
    [1, null, 1, 1],
    [7, 3, 3, 3],
  ])('of %i pictures, %p in a row: %i by %i', (count, columns, across, rows) => {
    const layout = sheetLayout(count, cell, { columns, labels: false });
    expect([layout.columns, layout.rows]).toEqual([across, rows]);
    expect(layout.width).toBe(across * 32 + (across + 1) * layout.gap);
    expect(layout.height).toBe(rows * 18 + (rows + 1) * layout.gap);
  });

  test('holds every picture as it is, none over another, and what is no picture is one grey', () => {
    const layout = sheetLayout(7, cell, { columns: 3, labels: true });
    const sheet = emptySheet(layout);
    for (let i = 0; i < 7; i++) drawOnSheet(sheet, layout, i, picture(i), '');
    const rgba = coveringCodes(sheet);
    const own = new Set<number>();
    for (let i = 0; i < 7; i++) {
      expect(cutFromSheet(rgba, layout, i)).toEqual(coveringCodes(picture(i)));
      const { x, y } = layout.at(i);
      expect(x + 32 + layout.gap).toBeLessThanOrEqual(layout.width);
      expect(y + 18).toBeLessThan(layout.height);
      for (let at = 0; at < 32 * 18; at++) own.add((y + Math.floor(at / 32)) * layout.width + x + (at % 32));
    }
    expect(own.size).toBe(7 * 32 * 18);
    const ground = new Set<number>();
    for (let p = 0; p < layout.width * layout.height; p++)
      if (!own.has(p)) for (let c = 0; c < 3; c++) ground.add(sheet[p * 3 + c]!);
    expect([...ground]).toEqual([24]);
  });

  test('numbers stand below their picture, within its width, and touch none', () => {
    const layout = sheetLayout(2, cell, { columns: 2, labels: true });
    const sheet = emptySheet(layout);
    [0, 1].forEach((i) => drawOnSheet(sheet, layout, i, picture(i), i ? '1001' : '-123456789'));
    const rgba = coveringCodes(sheet);
    [0, 1].forEach((i) => expect(cutFromSheet(rgba, layout, i)).toEqual(coveringCodes(picture(i))));
    /** The label's rows as text. */
    const { x, y } = layout.at(1);
    const rows = Array.from({ length: 7 }, (_, r) =>
      Array.from({ length: 24 }, (_, c) => {
        const at = ((y + 18 + layout.gap + r) * layout.width + x + c) * 3;
        return sheet[at] === 160 ? '#' : '.';
      }).join(''),
    );
    expect(rows).toEqual([
      '..#....###...###....#...',
      '.##...#...#.#...#..##...',
      '..#...#...#.#...#...#...',
      '..#...#...#.#...#...#...',
      '..#...#...#.#...#...#...',
      '..#...#...#.#...#...#...',
      '.###...###...###...###..',
    ]);
    // Five digits of six dots are 30 of 32 pixels: the others of the first label are left out.
    const beside = (y + 18 + layout.gap) * layout.width;
    for (let r = 0; r < 7; r++)
      for (let c = layout.at(0).x + 30; c < x; c++) expect(sheet[(beside + r * layout.width + c) * 3]).toBe(24);
  });

  test('a larger one has larger digits', () => {
    expect(sheetLayout(4, { width: 640, height: 360 }, { columns: 2, labels: true }).dot).toBe(4);
    expect(sheetLayout(4, { width: 640, height: 360 }, { columns: 2, labels: false }).dot).toBe(0);
  });
});

test('codes of 16 bits are rounded to those of 8', () => {
  expect([...toEightBits(Uint16Array.from([0, 128, 129, 257, 385, 386, 65_535]))]).toEqual([0, 0, 1, 1, 1, 2, 255]);
});
