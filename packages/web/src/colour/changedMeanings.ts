import { walkEntries, type LedgerDocument } from '@june-haze/core';

/**
 * Names of entries whose numbers mean another colour in another working space: fills that are not grey, and gains that
 * differ by channel. Exposures and grey fills stay what they are.
 */
export function changedMeanings(document: LedgerDocument): string[] {
  const uneven = (values: readonly number[]) => values.some((v) => v !== values[0]);
  return [...walkEntries(document.entries)].flatMap((entry) => {
    const gains = entry.adjustments.some((a) => a.enabled && a.kind === 'gain' && uneven([a.red, a.green, a.blue]));
    const fill = entry.kind === 'fill' && uneven(entry.colour);
    return gains || fill ? [entry.name] : [];
  });
}
