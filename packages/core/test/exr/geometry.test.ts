import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  chunksOver,
  countChunks,
  levelBox,
  levelCounts,
  levelSide,
  sampleGrid,
  samplesBetween,
  tableLevels,
  tileLayout,
} from '../../src/exr/geometry.ts';
import { linesPerChunk, type Box, type Compression, type ExrPart } from '../../src/exr/types.ts';

const part = (window: Box, compression: Compression, tiles?: { x: number; y: number; mode: number }): ExrPart => ({
  index: 0,
  name: '',
  type: tiles ? 'tiledimage' : 'scanlineimage',
  compression,
  dataWindow: window,
  displayWindow: window,
  pixelAspect: 1,
  channels: [],
  attributes: new Map(
    tiles ? [['tiles', { type: 'tiledesc', value: { xSize: tiles.x, ySize: tiles.y, mode: tiles.mode } }]] : [],
  ),
  offsets: new Float64Array(0),
});
const box = (width: number, height: number, xMin = 0, yMin = 0): Box => ({
  xMin,
  yMin,
  xMax: xMin + width - 1,
  yMax: yMin + height - 1,
});
const mip = 1;
const rip = 2;
const up = 16;

describe('levels of tiled pictures (OpenEXR technical introduction, "Mip-map and rip-map levels")', () => {
  // The introduction's own example: a 15 x 17 picture.
  test('a 15 x 17 picture, mip-mapped, rounding down: 15x17, 7x8, 3x4, 1x2, 1x1', () => {
    const p = part(box(15, 17), 'zip', { x: 8, y: 8, mode: mip });
    const layout = tileLayout(p)!;
    expect(levelCounts(layout, p.dataWindow)).toEqual([5, 5]);
    const sizes = tableLevels(layout, p.dataWindow).map(([x, y]) => {
      const b = levelBox(layout, p.dataWindow, x, y);
      return [b.xMax - b.xMin + 1, b.yMax - b.yMin + 1];
    });
    expect(sizes).toEqual([
      [15, 17],
      [7, 8],
      [3, 4],
      [1, 2],
      [1, 1],
    ]);
  });

  test('rounding up: 15x17, 8x9, 4x5, 2x3, 1x2, 1x1', () => {
    const p = part(box(15, 17), 'zip', { x: 8, y: 8, mode: mip | up });
    expect(levelCounts(tileLayout(p)!, p.dataWindow)).toEqual([6, 6]);
    expect([0, 1, 2, 3, 4, 5].map((l) => [levelSide(15, l, true), levelSide(17, l, true)])).toEqual([
      [15, 17],
      [8, 9],
      [4, 5],
      [2, 3],
      [1, 2],
      [1, 1],
    ]);
  });

  test('a rip-map has every pair of sides, x fastest', () => {
    const p = part(box(15, 17), 'zip', { x: 8, y: 8, mode: rip });
    expect(levelCounts(tileLayout(p)!, p.dataWindow)).toEqual([4, 5]);
    expect(tableLevels(tileLayout(p)!, p.dataWindow).slice(0, 5)).toEqual([
      [0, 0],
      [1, 0],
      [2, 0],
      [3, 0],
      [0, 1],
    ]);
  });

  test('a mode that does not exist is no layout', () => {
    expect(tileLayout(part(box(15, 17), 'zip', { x: 8, y: 8, mode: 7 }))).toBeUndefined();
  });
});

const windows = fc.record({
  width: fc.integer({ min: 1, max: 90 }),
  height: fc.integer({ min: 1, max: 90 }),
  x: fc.integer({ min: -50, max: 50 }),
  y: fc.integer({ min: -50, max: 50 }),
});

describe('chunks', () => {
  test('of lines cover the window once, without a gap', () => {
    fc.assert(
      fc.property(windows, fc.constantFrom(...(Object.keys(linesPerChunk) as Compression[])), (w, compression) => {
        const p = part(box(w.width, w.height, w.x, w.y), compression);
        const all = chunksOver(p, p.dataWindow, [0, 0]);
        expect(all).toHaveLength(countChunks(p));
        const lines = all.flatMap((c) => Array.from({ length: c.box.yMax - c.box.yMin + 1 }, (_, i) => c.box.yMin + i));
        expect(lines).toEqual(Array.from({ length: w.height }, (_, i) => w.y + i));
        expect(all.map((c) => c.index)).toEqual(all.map((_, i) => i));
      }),
    );
  });

  test('of tiles cover every level once, and their places in the table are all different', () => {
    const tile = fc.integer({ min: 1, max: 40 });
    fc.assert(
      fc.property(windows, tile, tile, fc.constantFrom(0, mip, rip, mip | up, rip | up), (w, x, y, mode) => {
        const p = part(box(w.width, w.height, w.x, w.y), 'zip', { x, y, mode });
        const layout = tileLayout(p)!;
        const places: number[] = [];
        for (const level of tableLevels(layout, p.dataWindow)) {
          const whole = levelBox(layout, p.dataWindow, level[0], level[1]);
          const chunks = chunksOver(p, whole, level);
          const area = chunks.reduce((n, c) => n + (c.box.xMax - c.box.xMin + 1) * (c.box.yMax - c.box.yMin + 1), 0);
          expect(area).toBe((whole.xMax - whole.xMin + 1) * (whole.yMax - whole.yMin + 1));
          places.push(...chunks.map((c) => c.index));
        }
        expect(places).toEqual(Array.from({ length: countChunks(p) }, (_, i) => i));
      }),
      { numRuns: 60 },
    );
  });

  test('a region asks for those that touch it, and no others', () => {
    fc.assert(
      fc.property(windows, windows, fc.boolean(), (w, r, tiled) => {
        const p = part(box(w.width, w.height, w.x, w.y), 'zip', tiled ? { x: 16, y: 12, mode: 0 } : undefined);
        const region = {
          xMin: Math.max(w.x, r.x),
          yMin: Math.max(w.y, r.y),
          xMax: Math.min(p.dataWindow.xMax, r.x + r.width - 1),
          yMax: Math.min(p.dataWindow.yMax, r.y + r.height - 1),
        };
        fc.pre(region.xMin <= region.xMax && region.yMin <= region.yMax);
        const touches = (b: Box) =>
          b.xMin <= region.xMax && b.xMax >= region.xMin && b.yMin <= region.yMax && b.yMax >= region.yMin;
        const all = chunksOver(p, p.dataWindow, [0, 0]);
        expect(chunksOver(p, region, [0, 0])).toEqual(all.filter((c) => touches(c.box)));
      }),
    );
  });
});

test('samples of a sub-sampled channel are the multiples of its sampling, left of 0 as well', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -60, max: 60 }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 1, max: 5 }),
      (first, length, sampling) => {
        const counted = Array.from({ length }, (_, i) => first + i).filter((n) => n % sampling === 0).length;
        expect(samplesBetween(first, first + length - 1, sampling)).toBe(counted);
      },
    ),
  );
  expect(sampleGrid({ xSampling: 2, ySampling: 2 }, box(5, 4, -3, -1))).toEqual({ width: 2, height: 2 });
});
