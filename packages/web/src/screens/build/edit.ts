import type { Entry, LedgerDocument } from '@june-haze/core';

/** Pure edits of a ledger document. */
type Change = (entry: Entry) => Entry | undefined;

function mapEntries(entries: readonly Entry[], id: string, change: Change): Entry[] {
  return entries.flatMap((e) => {
    if (e.id === id) {
      const next = change(e);
      return next ? [next] : [];
    }
    return [e.kind === 'subtotal' ? { ...e, entries: mapEntries(e.entries, id, change) } : e];
  });
}

/** Changes one entry wherever it stands; `undefined` takes it out. */
export function changeEntry(document: LedgerDocument, id: string, change: Change): LedgerDocument {
  return { ...document, entries: mapEntries(document.entries, id, change) };
}

/** The document with other mattes; as it is where none are given. */
export function withMattes(document: LedgerDocument, mattes: LedgerDocument['mattes']): LedgerDocument {
  return mattes ? { ...document, version: 2, mattes } : document;
}

export interface FlatEntry {
  readonly entry: Entry;
  readonly depth: number;
  readonly parent: string | undefined;
}

export function flatten(entries: readonly Entry[], depth = 0, parent?: string): FlatEntry[] {
  return entries.flatMap((entry) => [
    { entry, depth, parent },
    ...(entry.kind === 'subtotal' ? flatten(entry.entries, depth + 1, entry.id) : []),
  ]);
}

function contains(entry: Entry, id: string): boolean {
  return entry.id === id || (entry.kind === 'subtotal' && entry.entries.some((e) => contains(e, id)));
}

/** Moves an entry before or after another, or into a subtotal as its last. Moving into itself changes nothing. */
export function moveEntry(
  document: LedgerDocument,
  id: string,
  target: string,
  place: 'before' | 'after' | 'into',
): LedgerDocument {
  const moving = flatten(document.entries).find((f) => f.entry.id === id)?.entry;
  if (!moving || contains(moving, target)) return document;
  const without = mapEntries(document.entries, id, () => undefined);
  const insert = (entries: readonly Entry[]): Entry[] =>
    entries.flatMap((e) => {
      const inner: Entry =
        e.kind === 'subtotal'
          ? { ...e, entries: place === 'into' && e.id === target ? [...e.entries, moving] : insert(e.entries) }
          : e;
      if (e.id !== target || place === 'into') return [inner];
      return place === 'before' ? [moving, inner] : [inner, moving];
    });
  return { ...document, entries: insert(without) };
}
