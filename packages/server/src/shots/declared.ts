import { walkEntries, type LedgerDocument } from '@june-haze/core';
import { sourceReadingSchema } from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Database, DeclaredSource } from '../database/tables.ts';

type SourceRow = Selectable<Database['sources']>;

/** What is declared of the sources that a ledger's entries use, in the order of their ids. */
export function declaredOf(document: LedgerDocument, rows: readonly SourceRow[]): DeclaredSource[] {
  const used = new Set([...walkEntries(document.entries)].flatMap((e) => (e.kind === 'pass' ? [e.sourceId] : [])));
  return rows
    .filter((r) => used.has(r.id))
    .map((r) => ({ id: r.id, space: r.declared_space, reading: sourceReadingSchema.parse(r.reading) }))
    .sort((a, b) => (a.id < b.id ? -1 : 1));
}

/** The sources as they were declared when a run began: its frames are of one piece, whatever is said of them meanwhile. */
export function asDeclared(rows: readonly SourceRow[], declared: readonly DeclaredSource[]): SourceRow[] {
  const said = new Map(declared.map((d) => [d.id, d]));
  return rows.map((row) => {
    const was = said.get(row.id);
    return was ? { ...row, declared_space: was.space, reading: was.reading } : row;
  });
}
