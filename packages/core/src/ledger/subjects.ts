import { compilePlan, type CompileOptions } from './compile.ts';
import type { ShotColour } from '../config/shotColour.ts';
import {
  adjustmentsOf,
  walkEntries,
  type Entry,
  type FinishEntry,
  type LedgerDocument,
  type PictureEntry,
} from './document.ts';
import { subjectOfMatte } from './matteNames.ts';
import { PlanError, type Plan, type PlanNode } from './plan.ts';
import type { PlanSource } from './planSource.ts';

/** What of a shot is looked at: the total, or what stands in its place. */
export type Subject =
  | { readonly kind: 'total' }
  /** A pass by itself, also one that holds data. */
  | { readonly kind: 'pass'; readonly sourceId: string; readonly pass: string }
  /** A row with its adjustments, matte and mix, on black. */
  | { readonly kind: 'row'; readonly entry: string }
  /** The total as it is before a row. */
  | { readonly kind: 'above'; readonly entry: string }
  /** The total without a row, or without one of its adjustments. */
  | { readonly kind: 'without'; readonly entry: string; readonly adjustment?: number }
  /** The total with a row as it came, without its adjustments. */
  | { readonly kind: 'unchanged'; readonly entry: string }
  /** The total as far as a row, with it. */
  | { readonly kind: 'through'; readonly entry: string }
  /** What comes to one of a row's adjustments, by its place: the row, or the total that a grade takes, with the adjustments before it. */
  | { readonly kind: 'incoming'; readonly entry: string; readonly adjustment: number }
  /** A row's matte: white where it acts. */
  | { readonly kind: 'matte'; readonly entry: string }
  /** A matte by its name, on what it is used by first; on the total where nothing uses it. */
  | { readonly kind: 'named matte'; readonly name: string }
  /** The rows as they came in: no adjustments, mattes and finishes, mixed whole. */
  | { readonly kind: 'start' };

const alone: Pick<LedgerDocument, 'version' | 'alphaFrom'> = { version: 2, alphaFrom: null };

/** The ledger that a subject is, but for what makes a matte's picture of it. Throws a PlanError for a row that is gone or cannot be shown so. */
export function documentOf(document: LedgerDocument, subject: Subject): LedgerDocument {
  switch (subject.kind) {
    case 'total':
      return document;
    case 'pass': {
      const { sourceId, pass } = subject;
      const common = { id: 'pass', name: pass, enabled: true, mix: 1, adjustments: [] };
      return { ...alone, entries: [{ ...common, kind: 'pass', operation: 'replace', sourceId, pass }] };
    }
    case 'row': {
      const row = requireRow(document, subject.entry);
      if (row.kind === 'finish') throw new PlanError(`${row.name} changes the total: it has no picture of its own.`);
      return { ...alone, mattes: document.mattes, entries: [{ ...row, enabled: true, operation: 'replace' }] };
    }
    case 'above':
      requireRow(document, subject.entry);
      return { ...document, entries: before(document.entries, subject.entry) };
    case 'without':
      requireRow(document, subject.entry);
      return { ...document, entries: document.entries.map((e) => without(e, subject.entry, subject.adjustment)) };
    case 'unchanged':
      requireRow(document, subject.entry);
      return { ...document, entries: document.entries.map((e) => unchanged(e, subject.entry)) };
    case 'through':
      requireRow(document, subject.entry);
      return { ...document, entries: upTo(document.entries, subject.entry, (row) => [row]) };
    case 'incoming':
      return incoming(document, subject.entry, subject.adjustment);
    case 'matte':
      return { ...alone, mattes: document.mattes, entries: [matted(document, requireRow(document, subject.entry))] };
    case 'named matte':
      return { ...alone, mattes: document.mattes, entries: [mattedBy(document, subject.name)] };
    case 'start':
      return { ...document, entries: document.entries.flatMap(asItCameIn) };
  }
}

/**
 * Compiles what is looked at; see `compilePlan`. The total keeps what it is balanced against.
 */
export function compileSubject(
  document: LedgerDocument,
  subject: Subject,
  sources: readonly PlanSource[],
  working: string,
  colour: ShotColour,
  options: CompileOptions,
): Plan {
  const own = documentOf(document, subject);
  const plan = compilePlan(own, sources, working, colour, { ...options, dataAsItIs: subject.kind === 'pass' });
  return subject.kind === 'matte' || subject.kind === 'named matte'
    ? { ...plan, nodes: plan.nodes.map(showMatte), hasAlpha: false }
    : plan;
}

const showMatte = (node: PlanNode, i: number, all: readonly PlanNode[]): PlanNode =>
  node.kind === 'run' && i === all.length - 1
    ? { ...node, steps: node.steps.map((s) => ({ ...s, showsMatte: true as const })) }
    : node;

function requireRow(document: LedgerDocument, id: string): Entry {
  for (const entry of walkEntries(document.entries)) if (entry.id === id) return entry;
  throw new PlanError('The row is no longer in the ledger.');
}

/** The rows as far as one, which `end` stands in for. */
function upTo(entries: readonly Entry[], id: string, end: (row: Entry) => Entry[]): Entry[] {
  const at = entries.findIndex((e) => contains(e, id));
  const found = entries[at];
  if (!found) return [...entries];
  const inside =
    found.id !== id && found.kind === 'subtotal' ? [{ ...found, entries: upTo(found.entries, id, end) }] : end(found);
  return [...entries.slice(0, at), ...inside];
}

const before = (entries: readonly Entry[], id: string): Entry[] => upTo(entries, id, () => []);

/** What comes to an adjustment; mix and matte come after it. */
function incoming(document: LedgerDocument, id: string, adjustment: number): LedgerDocument {
  const row = requireRow(document, id);
  const plain = (e: Entry): Entry =>
    ({ ...e, enabled: true, mix: 1, matte: null, adjustments: adjustmentsOf(e).slice(0, adjustment) }) as Entry;
  if (row.kind === 'finish') return { ...document, entries: upTo(document.entries, id, (e) => [plain(e)]) };
  const entries = [{ ...plain(row), operation: 'replace' } as Entry];
  return { ...alone, mattes: document.mattes, entries };
}

const contains = (entry: Entry, id: string): boolean =>
  entry.id === id || (entry.kind === 'subtotal' && entry.entries.some((e) => contains(e, id)));

function without(entry: Entry, id: string, adjustment: number | undefined): Entry {
  if (entry.id !== id)
    return entry.kind === 'subtotal'
      ? { ...entry, entries: entry.entries.map((e) => without(e, id, adjustment)) }
      : entry;
  if (adjustment === undefined || !entry.adjustments) return { ...entry, enabled: false };
  return {
    ...entry,
    adjustments: entry.adjustments.map((a, i) => (i === adjustment ? { ...a, enabled: false } : a)),
  };
}

function unchanged(entry: Entry, id: string): Entry {
  if (entry.id === id && entry.adjustments) return { ...entry, adjustments: [] };
  return entry.kind === 'subtotal' ? { ...entry, entries: entry.entries.map((e) => unchanged(e, id)) } : entry;
}

function asItCameIn(entry: Entry): Entry[] {
  if (entry.kind === 'finish') return [];
  const plain = { ...entry, mix: entry.enabled ? 1 : entry.mix, matte: null, adjustments: [] };
  return [plain.kind === 'subtotal' ? { ...plain, entries: plain.entries.flatMap(asItCameIn) } : plain];
}

/** A row whose matte is to be shown: what the matte looks at is the row, or the total that a finish takes. */
function matted(document: LedgerDocument, row: Entry): PictureEntry {
  if (!row.matte) throw new PlanError(`${row.name} has no matte.`);
  if (row.kind !== 'finish') return { ...row, enabled: true, operation: 'replace', mix: 1 };
  return finished(document, row);
}

/** What a matte is used on, limited by it. */
function mattedBy(document: LedgerDocument, name: string): PictureEntry {
  const row = subjectOfMatte(document, name);
  if (row && row.kind !== 'finish') return { ...row, matte: name, enabled: true, operation: 'replace', mix: 1 };
  if (row) return finished(document, { ...row, matte: name });
  return { ...whole(document.entries), matte: name };
}

const whole = (entries: readonly Entry[]): PictureEntry => ({
  kind: 'subtotal',
  id: 'total',
  name: 'total',
  enabled: true,
  mix: 1,
  operation: 'replace',
  adjustments: [],
  entries,
});

const finished = (document: LedgerDocument, { id, name, matte }: FinishEntry): PictureEntry => ({
  ...whole(before(document.entries, id)),
  id,
  name,
  matte,
});

/** A source whose numbers are taken for those of the working space. */
export const asItIs = (source: PlanSource, working: string): PlanSource => ({ ...source, space: working });
