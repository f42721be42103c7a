import type { Keyed } from '../operations/keyed.ts';
import type { BakedLook } from '../config/looks.ts';
import { isThere, type PlanSource } from './planSource.ts';
import { valueAt } from '../operations/keyed.ts';
import type { Adjustment, Finish, Matte, Operation } from '../operations/registry.ts';

export type { Adjustment, Finish, Matte, Operation } from '../operations/registry.ts';

interface EntryCommon {
  readonly id: string;
  readonly name: string;
  readonly enabled: boolean;
  /** 0 … 1: how much of the entry's effect is taken. */
  readonly mix: Keyed;
  /** A matte of the document, by name: the entry acts where it is white. */
  readonly matte?: string | null | undefined;
  readonly note?: string | undefined;
}

interface PictureCommon extends EntryCommon {
  readonly operation: Operation;
  /** In order, each in the working space or the space that it names. */
  readonly adjustments: readonly Adjustment[];
}

/** One pass of one source, converted to the working space. */
export interface PassEntry extends PictureCommon {
  readonly kind: 'pass';
  readonly sourceId: string;
  readonly pass: string;
  /** Takes alpha from another pass of the same source: for passes that come without one. */
  readonly alphaFrom?: string | undefined;
}

/** One colour everywhere, in the working space, not premultiplied. */
export interface FillEntry extends PictureCommon {
  readonly kind: 'fill';
  readonly colour: readonly [Keyed, Keyed, Keyed];
  readonly alpha: Keyed;
}

/** Entries evaluated on their own from transparent black, then applied like a pass. */
export interface SubtotalEntry extends PictureCommon {
  readonly kind: 'subtotal';
  readonly entries: readonly Entry[];
}

/** A change of the running total itself, which may look at neighbours. */
export type FinishEntry = EntryCommon & {
  readonly kind: 'finish';
  /** Of a grade: what is done to the total, in order. */
  readonly adjustments?: readonly Adjustment[] | undefined;
} & Finish;

/** What is laid on the running total. */
export type PictureEntry = PassEntry | FillEntry | SubtotalEntry;
export type Entry = PictureEntry | FinishEntry;

/** How the picture is built, top to bottom from black, in the shot's working space. */
export interface LedgerDocument {
  /** 1 is what was before mattes and finishes: it means the same now. */
  readonly version: 1 | 2;
  readonly entries: readonly Entry[];
  readonly mattes?: Readonly<Record<string, Matte>> | undefined;
  /**
   * The pass whose alpha the total begins with; null for none. Left out: that of the render which the first light comes from, see
   * `alpha.ts`. Light that is summed leaves alpha alone, so it stands in the total once, however many passes are added.
   */
  readonly alphaFrom?: { readonly sourceId: string; readonly pass: string } | null | undefined;
  /** The pass that the total is balanced against. */
  readonly balanceAgainst?: { readonly sourceId: string; readonly pass: string } | undefined;
}

/** Whether an entry does anything at a frame. */
export const acts = (entry: Entry, frame: number): boolean => entry.enabled && valueAt(entry.mix, frame) > 0;

/** An entry's adjustments; of finishes only a grade has some. */
export const adjustmentsOf = (entry: Entry): readonly Adjustment[] => entry.adjustments ?? [];

/** Library ids of the LUTs and CDLs that adjustments use. */
export function lookFilesOf(document: LedgerDocument): string[] {
  const ids = [...walkEntries(document.entries)].flatMap((e) =>
    adjustmentsOf(e).flatMap((a) => ('lookFile' in a && a.lookFile ? [a.lookFile.id] : [])),
  );
  return [...new Set(ids)];
}

/** A baked look in words. */
export function lookWords({ look, lookFile }: BakedLook): string {
  return [lookFile?.name, look || undefined].filter((w) => w !== undefined).join(' and ') || 'nothing yet';
}

/** What an adjustment bakes in; undefined for one that bakes nothing. */
function bakedIn(a: Adjustment): string | undefined {
  if (!a.enabled) return undefined;
  if (a.kind === 'look' && (a.look || a.lookFile)) return lookWords(a);
  return a.kind === 'lut' && a.lookFile ? a.lookFile.name : undefined;
}

/** The looks that act in a ledger, with the entries that bake them. */
export function bakedLooks(document: LedgerDocument): { entry: string; look: string }[] {
  const visit = (entries: readonly Entry[]): { entry: string; look: string }[] =>
    entries
      .filter((e) => e.enabled && e.mix !== 0)
      .flatMap((e) => [
        ...adjustmentsOf(e).flatMap((a) => {
          const look = bakedIn(a);
          return look === undefined ? [] : [{ entry: e.name, look }];
        }),
        ...(e.kind === 'subtotal' ? visit(e.entries) : []),
      ]);
  return visit(document.entries);
}

/** Whether a document has keyed numbers, so that it means something else at another frame. */
export function isKeyed(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  return Object.hasOwn(value, 'keys') || Object.values(value).some(isKeyed);
}

/** Whether a ledger is another at another frame: it has keyed numbers, or one of its sources ends within the shot. */
export const changesOverFrames = (document: LedgerDocument, sources: readonly Pick<PlanSource, 'lasts'>[]): boolean =>
  sources.some((s) => s.lasts) || isKeyed(document);

/** A ledger as it is at a frame: rows whose source is not there rest. */
export function atFrame(document: LedgerDocument, sources: readonly PlanSource[], frame: number): LedgerDocument {
  const gone = new Set(sources.filter((s) => !isThere(s, frame)).map((s) => s.id));
  if (!gone.size) return document;
  const rests = (e: Entry) => e.kind === 'pass' && gone.has(e.sourceId);
  return { ...document, entries: changeRows(document.entries, (e) => (rests(e) ? { ...e, enabled: false } : e)) };
}

/** Ids of the sources that a document reads: its passes, what its mattes and finishes look at, and where its alpha begins; of those entries alone that `counts`. */
export function sourcesOf(
  { entries, mattes = {}, alphaFrom }: LedgerDocument,
  counts: (entry: Entry) => boolean = () => true,
): Set<string> {
  const used = new Set<string>(alphaFrom ? [alphaFrom.sourceId] : []);
  for (const entry of walkEntries(entries)) {
    if (!counts(entry)) continue;
    if (entry.kind === 'pass') used.add(entry.sourceId);
    if (entry.kind === 'finish' && 'source' in entry && entry.source) used.add(entry.source);
  }
  for (const matte of Object.values(mattes)) if ('source' in matte && matte.source) used.add(matte.source);
  return used;
}

/** Entries with each changed, those of subtotals before the subtotal itself. */
export function changeRows(entries: readonly Entry[], change: (entry: Entry) => Entry): Entry[] {
  return entries.map((e) => change(e.kind === 'subtotal' ? { ...e, entries: changeRows(e.entries, change) } : e));
}

/** All entries, subtotals before their own. */
export function* walkEntries(entries: readonly Entry[]): Generator<Entry> {
  for (const entry of entries) {
    yield entry;
    if (entry.kind === 'subtotal') yield* walkEntries(entry.entries);
  }
}
