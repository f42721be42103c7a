import type { Balance } from '../ledger/statistics.ts';

/** So many times what a packing takes from the total the sum may differ from its beauty: the parts and the beauty were each packed once. */
const meanTimes = 3;
/** The same for the worst pixel, where a block of one pass may have lost more than the total's does. */
const largestTimes = 8;

/**
 * Whether a balance lies within what a lossy packing explains; `loss` is what it takes from the total itself. Common practice, no source:
 * no published limit holds for a sum of packed pictures.
 */
export const withinPacking = (
  { mean, largest }: Pick<Balance, 'mean' | 'largest'>,
  loss: { readonly mean: number; readonly largest: number },
): boolean => mean <= meanTimes * loss.mean && largest <= largestTimes * loss.largest;
