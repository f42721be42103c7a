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
  return blockMeans(a, b, width).reduce((most, x) => Math.max(most, x), 0);
}

/** How far the means of each block's channels are apart. */
function blockMeans(a: Uint8Array | Uint8ClampedArray, b: Uint8Array | Uint8ClampedArray, width: number): Float64Array {
  const height = a.length / 4 / width;
  const apart = new Float64Array(Math.ceil(width / 8) * Math.ceil(height / 8) * 3);
  let block = 0;
  for (let top = 0; top < height; top += 8) {
    for (let left = 0; left < width; left += 8) {
      const bottom = Math.min(top + 8, height);
      const right = Math.min(left + 8, width);
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let y = top; y < bottom; y++)
          for (let x = left, i = (y * width + left) * 4 + c; x < right; x++, i += 4) sum += a[i]! - b[i]!;
        apart[block++] = Math.abs(sum) / ((bottom - top) * (right - left));
      }
    }
  }
  return apart;
}

/**
 * Differences of the means of 8x8 blocks as above, over blocks and channels: the largest, and the one that 99 of 100 do not pass. A movie's
 * halved colour moves the means of a few blocks at edges, a wrong tag moves most.
 */
export function blockDifferences(
  a: Uint8Array | Uint8ClampedArray,
  b: Uint8Array | Uint8ClampedArray,
  width: number,
): { readonly largest: number; readonly most: number } {
  const all = blockMeans(a, b, width).sort();
  return { largest: all.at(-1) ?? 0, most: all[Math.max(0, Math.ceil(0.99 * all.length) - 1)] ?? 0 };
}
