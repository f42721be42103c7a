import { ciede2000, labOfCodes } from './ciede2000.ts';

/** The difference between two shown pictures, on the 8-bit code scale and in CIEDE2000. */
export interface PictureDifference {
  readonly maxCode: number;
  readonly meanCode: number;
  /** Pixel of the largest code difference. */
  readonly at: readonly [x: number, y: number];
  readonly deltaE: { readonly mean: number; readonly p95: number; readonly p99: number; readonly max: number };
}

/** Compares two RGBA8 pictures of a display (alpha is passed over). Percentiles come from a histogram of 1/200 steps. */
export function comparePictures(
  a: Uint8Array | Uint8ClampedArray,
  b: Uint8Array | Uint8ClampedArray,
  width: number,
  encoding: 'srgb' | 'bt1886',
): PictureDifference {
  const pixels = a.length / 4;
  const histogram = new Uint32Array(20001);
  let [maxCode, sumCode, atPixel, sumE, maxE] = [0, 0, 0, 0, 0];
  for (let i = 0; i < pixels; i++) {
    const [r1, g1, b1] = [a[4 * i]!, a[4 * i + 1]!, a[4 * i + 2]!];
    const [r2, g2, b2] = [b[4 * i]!, b[4 * i + 1]!, b[4 * i + 2]!];
    const [dr, dg, db] = [Math.abs(r1 - r2), Math.abs(g1 - g2), Math.abs(b1 - b2)];
    const worst = Math.max(dr, dg, db);
    let e = 0;
    if (worst > 0) {
      e = ciede2000(labOfCodes(r1, g1, b1, encoding), labOfCodes(r2, g2, b2, encoding));
      sumCode += (dr + dg + db) / 3;
      sumE += e;
      if (worst > maxCode) [maxCode, atPixel] = [worst, i];
      if (e > maxE) maxE = e;
    }
    histogram[Math.min(20000, Math.ceil(e * 200))]!++;
  }
  const percentile = (share: number) => {
    let seen = 0;
    for (let i = 0; i < histogram.length; i++) {
      seen += histogram[i]!;
      if (seen >= share * pixels) return Math.min(i / 200, maxE);
    }
    return maxE;
  };
  return {
    maxCode,
    meanCode: sumCode / pixels,
    at: [atPixel % width, Math.floor(atPixel / width)],
    deltaE: { mean: sumE / pixels, p95: percentile(0.95), p99: percentile(0.99), max: maxE },
  };
}

/**
 * The largest difference of the means of 8x8 blocks between two RGBA8 pictures, in code values, any channel.
 * A JPEG quantises detail within blocks but keeps their means (the DC coefficient is eight times the mean, ITU-T T.81 A.3.3),
 * so this stays near rounding for honest lossy files and grows with any wrong encoding or tag. Blocks cut by the border count.
 */
export function largestBlockDifference(
  a: Uint8Array | Uint8ClampedArray,
  b: Uint8Array | Uint8ClampedArray,
  width: number,
): number {
  const height = a.length / 4 / width;
  let worst = 0;
  for (let top = 0; top < height; top += 8) {
    for (let left = 0; left < width; left += 8) {
      const bottom = Math.min(top + 8, height);
      const right = Math.min(left + 8, width);
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let y = top; y < bottom; y++)
          for (let x = left, i = (y * width + left) * 4 + c; x < right; x++, i += 4) sum += a[i]! - b[i]!;
        worst = Math.max(worst, Math.abs(sum) / ((bottom - top) * (right - left)));
      }
    }
  }
  return worst;
}
