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

/** Changes several entries, wherever they stand; `undefined` takes one out. */
export function changeEntries(document: LedgerDocument, ids: ReadonlySet<string>, change: Change): LedgerDocument {
  const visit = (entries: readonly Entry[]): Entry[] =>
    entries.flatMap((e) => {
      const inner = e.kind === 'subtotal' ? { ...e, entries: visit(e.entries) } : e;
      const next = ids.has(e.id) ? change(inner) : inner;
      return next ? [next] : [];
    });
  return { ...document, entries: visit(document.entries) };
}

/** An entry with ids of its own. */
export function copyOf(entry: Entry, newId: () => string): Entry {
  const inner = entry.kind === 'subtotal' ? { entries: entry.entries.map((e) => copyOf(e, newId)) } : {};
  return { ...entry, ...inner, id: newId() } as Entry;
}

/** Each entry with a copy behind it. */
export function duplicate(document: LedgerDocument, ids: ReadonlySet<string>, newId: () => string): LedgerDocument {
  const visit = (entries: readonly Entry[]): Entry[] =>
    entries.flatMap((e) => {
      if (ids.has(e.id)) return [e, copyOf({ ...e, name: `${e.name} copy` }, newId)];
      return [e.kind === 'subtotal' ? { ...e, entries: visit(e.entries) } : e];
    });
  return { ...document, entries: visit(document.entries) };
}

/**
 * The entries as one subtotal, where the first of them stood. Only light that is summed can be put together without changing the total:
 * undefined for entries of several subtotals, for what multiplies, covers or finishes, and where such a thing stands between them.
 */
export function group(
  document: LedgerDocument,
  ids: ReadonlySet<string>,
  newId: () => string,
): LedgerDocument | undefined {
  const rows = flatten(document.entries).filter((r) => ids.has(r.entry.id));
  const parent = rows[0]?.parent;
  if (!rows.length || rows.some((r) => r.parent !== parent)) return undefined;
  const beside = flatten(document.entries).filter((r) => r.parent === parent);
  const at = (r: FlatEntry) => beside.findIndex((b) => b.entry.id === r.entry.id);
  if (!beside.slice(at(rows[0]!), at(rows.at(-1)!) + 1).every((r) => isSummed(r.entry))) return undefined;
  const subtotal: Entry = {
    id: newId(),
    kind: 'subtotal',
    name: rows
      .map((r) => r.entry.name)
      .join(' + ')
      .slice(0, 60),
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [],
    entries: rows.map((r) => r.entry),
  };
  const first = rows[0]!.entry.id;
  return changeEntries(document, ids, (e) => (e.id === first ? subtotal : undefined));
}

const isSummed = (e: Entry): boolean => e.kind !== 'finish' && (e.operation === 'plus' || e.operation === 'minus');

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
