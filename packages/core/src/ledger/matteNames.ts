import { findMatte, type Matte } from '../operations/registry.ts';
import { adjustmentsOf, changeRows, walkEntries, type Entry, type LedgerDocument } from './document.ts';

type Mattes = Readonly<Record<string, Matte>>;

/** The parameters of a stored matte that name other mattes. */
const namingKeys = (stored: Matte): string[] =>
  Object.entries(findMatte(stored.kind)?.parameters ?? {}).flatMap(([key, p]) => (p.type === 'matte' ? [key] : []));

const valueOf = (stored: Matte, key: string): unknown => (stored as Readonly<Record<string, unknown>>)[key];

/** Who uses a matte: names of rows (of their adjustments too) and of other mattes. */
export function usesOfMatte({ entries, mattes = {} }: LedgerDocument, name: string): string[] {
  const rows = [...walkEntries(entries)].filter(
    (e) => e.matte === name || adjustmentsOf(e).some((a) => a.matte === name),
  );
  const others = Object.entries(mattes).filter(([, m]) => namingKeys(m).some((key) => valueOf(m, key) === name));
  return [...rows.map((r) => r.name), ...others.map(([other]) => other)];
}

/** The ledger with another name wherever a matte is named; null takes it off. */
function named(document: LedgerDocument, from: string, to: string | null, mattes: Mattes): LedgerDocument {
  const other = (m: string | null | undefined) => (m === from ? to : (m ?? null));
  const entries = changeRows(document.entries, (e): Entry => {
    const uses = e.matte === from || adjustmentsOf(e).some((a) => a.matte === from);
    if (!uses) return e;
    const adjustments = e.adjustments?.map((a) => ({ ...a, matte: other(a.matte) }));
    return { ...e, matte: other(e.matte), ...(adjustments ? { adjustments } : {}) } as Entry;
  });
  const renamed = Object.entries(mattes).map(([name, m]) => {
    const changed = namingKeys(m).filter((key) => valueOf(m, key) === from);
    return [name, changed.length ? { ...m, ...Object.fromEntries(changed.map((k) => [k, to ?? ''])) } : m] as const;
  });
  return { ...document, version: 2, entries, mattes: Object.fromEntries(renamed) };
}

/** The ledger with a matte called otherwise, wherever it is used; its place among the mattes stays. A name that is taken changes nothing. */
export function renameMatte(document: LedgerDocument, from: string, to: string): LedgerDocument {
  const { mattes = {} } = document;
  if (Object.hasOwn(mattes, to) || !Object.hasOwn(mattes, from)) return document;
  const moved = Object.fromEntries(Object.entries(mattes).map(([name, m]) => [name === from ? to : name, m]));
  return named(document, from, to, moved);
}

/** The ledger without a matte: what it limited acts everywhere; mattes that were made of it miss it, and say so. */
export function removeMatte(document: LedgerDocument, name: string): LedgerDocument {
  const rest = Object.entries(document.mattes ?? {}).filter(([other]) => other !== name);
  return named(document, name, null, Object.fromEntries(rest));
}

/** A name that no matte has: the wanted one, or with a number behind it. */
export function freeMatteName(document: LedgerDocument, wanted: string): string {
  const { mattes = {} } = document;
  if (!Object.hasOwn(mattes, wanted)) return wanted;
  for (let n = 2; ; n++) if (!Object.hasOwn(mattes, `${wanted} ${n}`)) return `${wanted} ${n}`;
}

/** What a matte is looked at on: the first row that uses it, with the adjustments before the one that does; the total where none does. */
export function subjectOfMatte({ entries }: LedgerDocument, name: string): Entry | undefined {
  for (const e of walkEntries(entries)) {
    if (e.matte === name) return e;
    const at = adjustmentsOf(e).findIndex((a) => a.matte === name);
    if (at >= 0) return { ...e, adjustments: adjustmentsOf(e).slice(0, at) } as Entry;
  }
  return undefined;
}
