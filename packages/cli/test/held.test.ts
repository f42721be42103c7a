import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';

// The script of the test run is no module of the packages: it is loaded as it is.
const script = join(process.cwd(), 'scripts/held.mjs');
const { heldRatios, slower } = (await import(script)) as {
  heldRatios(text: string): Map<string, number>;
  slower(held: Map<string, number>, measured: Map<string, number>): string[];
};

test('the rows of the table that are held are those of the documentation', () => {
  const held = heldRatios(readFileSync(join(process.cwd(), 'docs/performance.md'), 'utf8'));
  expect([...held.keys()].filter((name) => name.startsWith('decode '))).toHaveLength(10);
  expect(held.get('ACEScg to sRGB')).toBeGreaterThan(0);
  expect([...held.values()].every((ratio) => ratio > 0 && ratio < 2)).toBe(true);
  expect(heldRatios('## Other\n| decode none | 1 |\n').size).toBe(0);
});

test('what is worse by more than half, not measured or not held is told by name', () => {
  const held = new Map([
    ['decode zip', 0.7],
    ['decode piz', 1],
    ['decode rle', 0.6],
  ]);
  const measured = new Map([
    ['decode zip', 1.04],
    ['decode piz', 1.51],
    ['decode none', 0.5],
  ]);
  expect(slower(held, measured)).toEqual([
    'decode rle: not measured',
    'decode piz: 1.51 of the reference’s time, 1 is held',
    'decode none: it has no row in docs/performance.md',
  ]);
});
