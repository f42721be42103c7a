/** How two equally large sets of samples differ. */
export interface Difference {
  readonly samples: number;
  readonly equal: number;
  readonly largest: number;
  readonly mean: number;
  /** Index of the largest difference. */
  readonly at: number;
}

/** Compares samples as numbers; two NaNs are equal, a NaN against a number is an infinite difference. */
export function compareSamples(a: ArrayLike<number>, b: ArrayLike<number>): Difference {
  let [equal, largest, sum, at] = [0, 0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    const x = a[i]!;
    const y = b[i]!;
    if (x === y || (x !== x && y !== y)) {
      equal++;
      continue;
    }
    const difference = Math.abs(x - y);
    const size = difference === difference ? difference : Infinity;
    sum += size;
    if (size > largest) {
      largest = size;
      at = i;
    }
  }
  return { samples: a.length, equal, largest, mean: a.length ? sum / a.length : 0, at };
}
