import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Window } from '../../src/image/level.ts';
import { bandOf, codeBands, deltaEBands, drawDifference } from '../../src/proof/differencePicture.ts';
import {
  addDifferences,
  comparePictures,
  compareSomeRows,
  countDifferences,
  differenceOf,
  noDifferences,
} from '../../src/proof/differences.ts';
import { deltaEOfCodes } from '../../src/proof/ciede2000.ts';
import { randomFrom } from '../operations/surroundings.ts';

const [width, height] = [61, 47];
const all: Window = { x: 0, y: 0, width, height };
let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'june-differences-'))));
afterAll(() => rmSync(folder, { recursive: true }));

/** Two pictures that differ here and there; `least` codes where they differ. */
function pair(seed: number, least = 1): [Uint8Array, Uint8Array] {
  const random = randomFrom(seed);
  const a = Uint8Array.from({ length: width * height * 4 }, () => Math.floor(random() * 256));
  const b = a.map((v) => (random() < 0.2 ? Math.min(255, v + least + Math.floor(random() ** 4 * 60)) : v));
  return [a, b];
}

function reference(a: Uint8Array, b: Uint8Array, region: readonly number[] = []) {
  const [one, other] = [join(folder, 'a.raw'), join(folder, 'b.raw')];
  writeFileSync(one, a);
  writeFileSync(other, b);
  const script = join(import.meta.dirname, 'differences.py');
  const figures = [one, other, width, height, ...region].map(String);
  return JSON.parse(execFileSync('/usr/bin/python3', [script, ...figures], { encoding: 'utf8' })) as {
    max: number;
    mean: number;
    at: [number, number];
    p95: number;
    p99: number;
  };
}

describe('the figures between two pictures', () => {
  test.each([1, 2, 3])('are those of the reference image library and numpy, seed %i', (seed) => {
    const [a, b] = pair(seed);
    const [ours, theirs] = [comparePictures(a, b, width, 'srgb'), reference(a, b)];
    expect(ours.maxCode).toBe(theirs.max);
    expect(ours.meanCode).toBeCloseTo(theirs.mean, 5);
    expect(ours.codes).toEqual({ p95: theirs.p95, p99: theirs.p99 });
    expect(ours.at).toEqual(theirs.at);
  });

  test('of a region are those of its pixels alone, and the place is one of the whole picture', () => {
    const [a, b] = pair(4);
    const region = { x: 7, y: 11, width: 30, height: 21 };
    const counts = noDifferences();
    countDifferences(a, b, width, 'srgb', region, counts);
    const [ours, theirs] = [differenceOf(counts, width), reference(a, b, [7, 11, 30, 21])];
    expect(counts.pixels).toBe(630);
    expect([ours.maxCode, ours.codes.p95, ours.codes.p99]).toEqual([theirs.max, theirs.p95, theirs.p99]);
    expect(ours.meanCode).toBeCloseTo(theirs.mean, 5);
    expect(ours.at).toEqual([theirs.at[0] + 7, theirs.at[1] + 11]);
  });

  test('counted in parts, in any order, are those of the whole', () => {
    const [a, b] = pair(5);
    const sum = noDifferences();
    for (const y of [30, 0, 16]) {
      const part = noDifferences();
      const rows = y === 30 ? 17 : y === 0 ? 16 : 14;
      countDifferences(a, b, width, 'srgb', { ...all, y, height: rows }, part);
      addDifferences(sum, part);
    }
    const whole = comparePictures(a, b, width, 'srgb');
    const parts = differenceOf(sum, width);
    expect({ ...parts, meanCode: 0, deltaE: 0 }).toEqual({ ...whole, meanCode: 0, deltaE: 0 });
    expect(parts.meanCode).toBeCloseTo(whole.meanCode, 9);
    expect(parts.deltaE.mean).toBeCloseTo(whole.deltaE.mean, 9);
  });

  test('CIEDE2000: mean and largest of all pixels; percentiles to a two-hundredth, from above', () => {
    const [a, b] = pair(6);
    const each = Array.from({ length: width * height }, (_, i) => deltaEOfCodes(a, b, 4 * i, 'bt1886')).sort(
      (x, y) => x - y,
    );
    const { deltaE } = comparePictures(a, b, width, 'bt1886');
    expect(deltaE.max).toBeCloseTo(each.at(-1)!, 9);
    expect(deltaE.mean).toBeCloseTo(each.reduce((s, e) => s + e, 0) / each.length, 9);
    for (const [share, found] of [
      [0.95, deltaE.p95],
      [0.99, deltaE.p99],
    ] as const) {
      const exact = each[Math.ceil(share * each.length) - 1]!;
      expect(found - exact).toBeGreaterThanOrEqual(0);
      expect(found - exact).toBeLessThan(1 / 200);
    }
  });

  test('of equal pictures are 0, alpha is passed over', () => {
    const [a] = pair(7);
    const b = a.map((v, i) => (i % 4 === 3 ? 255 - v : v));
    expect(comparePictures(a, b, width, 'srgb')).toEqual({
      maxCode: 0,
      meanCode: 0,
      codes: { p95: 0, p99: 0 },
      at: [0, 0],
      deltaE: { mean: 0, p95: 0, p99: 0, max: 0 },
    });
  });
});

describe('a difference as a picture', () => {
  test('times: codes apart by each channel, multiplied and held at white', () => {
    const to = new Uint8Array(8);
    drawDifference(
      Uint8Array.of(10, 20, 30, 255, 5, 5, 5, 255),
      Uint8Array.of(12, 20, 200, 255, 5, 5, 4, 0),
      to,
      { kind: 'times', times: 16 },
      'srgb',
    );
    expect([...to]).toEqual([32, 0, 255, 255, 0, 0, 16, 255]);
  });

  test('bands: each pixel has the colour of the band that its largest difference, or its CIEDE2000, falls in', () => {
    const [a, b] = pair(8);
    for (const [kind, bands, of] of [
      ['codes', codeBands, (i: number) => Math.max(...[0, 1, 2].map((c) => Math.abs(a[i + c]! - b[i + c]!)))],
      ['deltaE', deltaEBands, (i: number) => deltaEOfCodes(a, b, i, 'srgb')],
    ] as const) {
      const to = new Uint8Array(a.length);
      drawDifference(a, b, to, { kind }, 'srgb');
      for (let i = 0; i < a.length; i += 4) {
        const value = of(i);
        const band = bands.findLastIndex(({ from }) => value >= from);
        if (band !== bandOf(bands, value) || to[i] !== bands[band]!.colour[0])
          throw new Error(`${kind} pixel ${i / 4}`);
      }
    }
  });

  test('bands can be told without hue: each is lighter than the one before', () => {
    const light = codeBands.map(({ colour: [r, g, b] }) => 0.2126 * r + 0.7152 * g + 0.0722 * b);
    light.slice(1).forEach((l, i) => expect(l).toBeGreaterThan(light[i]! + 8));
  });
});

test('one row in so many tells of pictures that are alike in all rows what all of them tell', () => {
  const [width, height] = [8, 16];
  const a = new Uint8Array(width * height * 4).map((_, i) => (i * 7) % 200);
  const rows = (n: number) => a.map((v, i) => (Math.floor(i / 4 / width) % n === 0 ? v + 20 : v));
  const every = comparePictures(a, rows(1), width, 'srgb');
  expect(compareSomeRows(a, rows(1), width, 'srgb', 1)).toEqual(every);
  // Rows 0, 4, 8, 12 are the ones that differ.
  expect(compareSomeRows(a, rows(4), width, 'srgb', 4).meanCode).toBe(20);
  expect(compareSomeRows(a, rows(4), width, 'srgb', 1).meanCode).toBe(5);
});
