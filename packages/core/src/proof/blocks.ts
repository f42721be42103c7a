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
