import { adjustmentsOf, findAdjustment, walkEntries, type Adjustment, type LedgerDocument } from '@june-haze/core';

/**
 * Names of entries whose numbers mean another colour in another working space: fills that are not grey, and adjustments that change
 * channels unlike each other, or mix them. Exposures and grey fills stay what they are.
 */
export function changedMeanings(document: LedgerDocument): string[] {
  return [...walkEntries(document.entries)].flatMap((entry) => {
    const changes = adjustmentsOf(entry).some((a) => a.enabled && meansAnother(a));
    const fill = entry.kind === 'fill' && uneven(entry.colour);
    return changes || fill ? [entry.name] : [];
  });
}

const uneven = (values: readonly unknown[]) => values.some((v) => JSON.stringify(v) !== JSON.stringify(values[0]));

/** Kinds that treat every channel alike, whatever the primaries, as long as their channels are even. */
const alike = ['exposure', 'gain', 'tint', 'look', 'lut', 'conversion'];

function meansAnother(a: Adjustment): boolean {
  const values = a as unknown as Record<string, unknown>;
  const table = findAdjustment(a.kind)?.parameters ?? {};
  // In a space of its own it means what it meant.
  if (a.space) return false;
  if (!alike.includes(a.kind)) return true;
  const channels = ['red', 'green', 'blue'].filter((c) => c in table).map((c) => values[c] ?? table[c]!.default);
  return uneven(channels) || (a.kind === 'tint' && uneven(a.colour ?? [1, 1, 1]));
}
