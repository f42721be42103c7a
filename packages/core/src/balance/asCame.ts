import { adjustmentsOf, walkEntries, type Entry, type LedgerDocument } from '../ledger/document.ts';
import { documentOf } from '../ledger/subjects.ts';

/**
 * The rows of the render that a ledger is balanced against, as they came: without adjustments, mattes, mixes and finishes, without fills and
 * what other sources bring. It answers whether the passes rebuild their beauty, whatever was done with them since. Undefined where the
 * ledger names no beauty.
 */
export function asCame(document: LedgerDocument): LedgerDocument | undefined {
  const against = document.balanceAgainst;
  if (!against) return undefined;
  const ofIt = (entry: Entry): Entry[] => {
    if (entry.kind === 'pass') return entry.sourceId === against.sourceId ? [entry] : [];
    if (entry.kind !== 'subtotal') return [];
    const inner = entry.entries.flatMap(ofIt);
    return inner.length ? [{ ...entry, entries: inner }] : [];
  };
  const start = documentOf(document, { kind: 'start' });
  return { ...start, mattes: {}, entries: start.entries.filter((e) => e.enabled).flatMap(ofIt) };
}

/** Whether a ledger does more with the passes of its render than put them together, or takes in more than those. */
export function changesPasses({ entries, balanceAgainst }: LedgerDocument): boolean {
  return [...walkEntries(entries)].some(
    (e) =>
      e.enabled &&
      (e.kind === 'finish' ||
        e.kind === 'fill' ||
        (e.kind === 'pass' && e.sourceId !== balanceAgainst?.sourceId) ||
        e.mix !== 1 ||
        (e.matte ?? null) !== null ||
        adjustmentsOf(e).some((a) => a.enabled)),
  );
}
