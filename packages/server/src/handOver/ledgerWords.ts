import { blends, findAdjustment, finishes, type Entry, type Keyed } from '@june-haze/core';

/** A row of a ledger for somebody who reads it on paper. */
export interface LedgerWords {
  /** How deep it lies in subtotals; 0 is the ledger itself. */
  readonly depth: number;
  readonly name: string;
  readonly what: string;
  /** Its changes, in order. */
  readonly changes: readonly string[];
  readonly resting: boolean;
}

/** A ledger's rows from the first that is laid down to the last, in words. */
export function ledgerWords(entries: readonly Entry[], depth = 0): LedgerWords[] {
  return entries.flatMap((entry) => [
    {
      depth,
      name: entry.name,
      what: whatOf(entry),
      changes: (entry.adjustments ?? []).map(
        (a) => `${findAdjustment(a.kind)?.title ?? a.kind}${a.enabled === false ? ' (resting)' : ''}`,
      ),
      resting: !entry.enabled,
    },
    ...(entry.kind === 'subtotal' ? ledgerWords(entry.entries, depth + 1) : []),
  ]);
}

function whatOf(entry: Entry): string {
  const mix = mixWords(entry.mix);
  const matte = entry.matte ? `, where ${entry.matte} is white` : '';
  if (entry.kind === 'finish')
    return `${finishes.find((f) => f.kind === entry.finish)?.title ?? entry.finish} of all below${mix}${matte}`;
  const operation = blends.find((b) => b.kind === entry.operation)?.title ?? entry.operation;
  const picture =
    entry.kind === 'pass' ? `the pass ${entry.pass}` : entry.kind === 'fill' ? 'one colour' : 'a subtotal';
  return `${operation}: ${picture}${mix}${matte}`;
}

const mixWords = (mix: Keyed): string =>
  typeof mix !== 'number' ? ', its mix keyed' : mix === 1 ? '' : `, mixed by ${Number(mix.toFixed(4))}`;
