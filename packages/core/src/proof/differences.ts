import type { CodeEncoding } from '../colour/displayCodes.ts';
import type { Window } from '../image/level.ts';
import { deltaEOfCodes } from './ciede2000.ts';

/** The figures of one measure over all pixels compared. Percentiles are nearest-rank: the least value that so many pixels do not pass. */
export interface Figures {
  readonly mean: number;
  readonly p95: number;
  readonly p99: number;
  readonly max: number;
}

/** The difference between two shown pictures, on the 8-bit code scale and in CIEDE2000. */
export interface PictureDifference {
  readonly maxCode: number;
  /** Over all pixels and the three channels. */
  readonly meanCode: number;
  /** Of each pixel's largest channel. */
  readonly codes: { readonly p95: number; readonly p99: number };
  /** Pixel of the largest code difference, the first in reading order; the first pixel compared where none differs. */
  readonly at: readonly [x: number, y: number];
  readonly deltaE: Figures;
}

type Codes = Uint8Array | Uint8ClampedArray;

/** CIEDE2000 is counted in steps of 1/200 up to 100; percentiles are the upper ends of steps. */
const stepsOfOne = 200;
const stepCount = 100 * stepsOfOne + 1;

/** What is counted of differences: parts of a picture are counted by themselves and added. */
export interface DifferenceCounts {
  pixels: number;
  readonly codes: Uint32Array;
  readonly deltaE: Uint32Array;
  sumCode: number;
  sumDeltaE: number;
  maxDeltaE: number;
  maxCode: number;
  /** Index of the pixel of the largest code difference; −1 before anything is counted. */
  at: number;
}

export const noDifferences = (): DifferenceCounts => ({
  pixels: 0,
  codes: new Uint32Array(256),
  deltaE: new Uint32Array(stepCount),
  sumCode: 0,
  sumDeltaE: 0,
  maxDeltaE: 0,
  maxCode: 0,
  at: -1,
});

/**
 * Counts the differences of two RGBA8 pictures of one display and size (alpha is passed over) within some of their pixels, `region` in
 * pixels, into `counts`. Regions of one picture may be counted in any order; of equal largest ones the first in reading order is kept.
 */
export function countDifferences(
  a: Codes,
  b: Codes,
  width: number,
  encoding: CodeEncoding,
  region: Window,
  counts: DifferenceCounts,
): void {
  for (let y = region.y; y < region.y + region.height; y++)
    for (let x = region.x, pixel = y * width + x; x < region.x + region.width; x++, pixel++)
      countPixel(a, b, pixel, encoding, counts);
}

function countPixel(a: Codes, b: Codes, pixel: number, encoding: CodeEncoding, counts: DifferenceCounts): void {
  const i = 4 * pixel;
  const dr = Math.abs(a[i]! - b[i]!);
  const dg = Math.abs(a[i + 1]! - b[i + 1]!);
  const db = Math.abs(a[i + 2]! - b[i + 2]!);
  const worst = Math.max(dr, dg, db);
  counts.pixels++;
  counts.codes[worst]!++;
  if (worst > counts.maxCode || (worst === counts.maxCode && (counts.at < 0 || pixel < counts.at))) {
    counts.maxCode = worst;
    counts.at = pixel;
  }
  if (worst === 0) {
    counts.deltaE[0]!++;
    return;
  }
  counts.sumCode += (dr + dg + db) / 3;
  const e = deltaEOfCodes(a, b, i, encoding);
  counts.sumDeltaE += e;
  if (e > counts.maxDeltaE) counts.maxDeltaE = e;
  counts.deltaE[Math.min(stepCount - 1, Math.ceil(e * stepsOfOne))]!++;
}

/** Adds what was counted of another part of the same pictures. */
export function addDifferences(to: DifferenceCounts, other: DifferenceCounts): void {
  other.codes.forEach((n, i) => (to.codes[i]! += n));
  other.deltaE.forEach((n, i) => (to.deltaE[i]! += n));
  to.pixels += other.pixels;
  to.sumCode += other.sumCode;
  to.sumDeltaE += other.sumDeltaE;
  to.maxDeltaE = Math.max(to.maxDeltaE, other.maxDeltaE);
  const earlier = other.at >= 0 && (to.at < 0 || other.at < to.at);
  if (other.maxCode > to.maxCode || (other.maxCode === to.maxCode && earlier)) {
    to.maxCode = other.maxCode;
    to.at = other.at;
  }
}

/** The figures of what was counted; `width` is the pictures'. */
export function differenceOf(counts: DifferenceCounts, width: number): PictureDifference {
  const { pixels, codes, deltaE, maxCode, maxDeltaE, sumCode, sumDeltaE } = counts;
  const many = Math.max(1, pixels);
  const at = Math.max(0, counts.at);
  const ofE = (share: number) => Math.min(nearestRank(deltaE, share, pixels) / stepsOfOne, maxDeltaE);
  return {
    maxCode,
    meanCode: sumCode / many,
    codes: { p95: nearestRank(codes, 0.95, pixels), p99: nearestRank(codes, 0.99, pixels) },
    at: [at % width, Math.floor(at / width)],
    deltaE: { mean: sumDeltaE / many, p95: ofE(0.95), p99: ofE(0.99), max: maxDeltaE },
  };
}

/** The first bin by which so large a share of all is counted. */
function nearestRank(bins: Uint32Array, share: number, all: number): number {
  let seen = 0;
  for (let i = 0; i < bins.length; i++) {
    seen += bins[i]!;
    if (seen >= share * all) return i;
  }
  return bins.length - 1;
}

/** Compares two whole RGBA8 pictures of a display (alpha is passed over). */
export function comparePictures(a: Codes, b: Codes, width: number, encoding: CodeEncoding): PictureDifference {
  const counts = noDifferences();
  countDifferences(a, b, width, encoding, { x: 0, y: 0, width, height: a.length / 4 / width }, counts);
  return differenceOf(counts, width);
}

/** The same of one row in so many, for figures that only say how far two pictures are apart. */
export function compareSomeRows(
  a: Codes,
  b: Codes,
  width: number,
  encoding: CodeEncoding,
  every: number,
): PictureDifference {
  const counts = noDifferences();
  const height = a.length / 4 / width;
  for (let y = 0; y < height; y += every)
    countDifferences(a, b, width, encoding, { x: 0, y, width, height: 1 }, counts);
  return differenceOf(counts, width);
}
