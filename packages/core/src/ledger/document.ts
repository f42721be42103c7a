/** How an entry acts on the running total. */
export type Operation = 'plus' | 'minus' | 'multiply' | 'over';

/** Looks that an adjustment bakes in: a LUT or CDL of the Library, then looks of the config ("+dusk, -warm"). */
export interface BakedLook {
  readonly look: string | null;
  readonly lookFile: { readonly id: string; readonly name: string; readonly space: string } | null;
}

/**
 * A colour change on one entry, in order, in the working space. Exposure and gain are pure multiplications, so alpha does not matter to
 * them; a look works on colour that is divided by alpha, which is multiplied in again after.
 */
export type Adjustment =
  | { readonly kind: 'exposure'; readonly enabled: boolean; readonly stops: number }
  | {
      readonly kind: 'gain';
      readonly enabled: boolean;
      readonly red: number;
      readonly green: number;
      readonly blue: number;
    }
  | ({ readonly kind: 'look'; readonly enabled: boolean } & BakedLook);

interface EntryCommon {
  readonly id: string;
  readonly name: string;
  readonly enabled: boolean;
  readonly operation: Operation;
  /** 0 … 1: how much of the entry's effect is taken. */
  readonly mix: number;
  readonly adjustments: readonly Adjustment[];
  readonly note?: string;
}

/** One pass of one source, converted to the working space. */
export interface PassEntry extends EntryCommon {
  readonly kind: 'pass';
  readonly sourceId: string;
  readonly pass: string;
  /** Takes alpha from another pass of the same source: for passes that come without one. */
  readonly alphaFrom?: string;
}

/** One colour everywhere, in the working space, not premultiplied. */
export interface FillEntry extends EntryCommon {
  readonly kind: 'fill';
  readonly colour: readonly [number, number, number];
  readonly alpha: number;
}

/** Entries evaluated on their own from transparent black, then applied like a pass. */
export interface SubtotalEntry extends EntryCommon {
  readonly kind: 'subtotal';
  readonly entries: readonly Entry[];
}

export type Entry = PassEntry | FillEntry | SubtotalEntry;

/** How the picture is built, top to bottom from black, in the shot's working space. */
export interface LedgerDocument {
  readonly version: 1;
  readonly entries: readonly Entry[];
  /**
   * The pass whose alpha the total begins with; null for none. Left out: that of the render which the first light comes from, see
   * `alpha.ts`. Light that is summed leaves alpha alone, so it stands in the total once, however many passes are added.
   */
  readonly alphaFrom?: { readonly sourceId: string; readonly pass: string } | null;
  /** The pass that the total is balanced against. */
  readonly balanceAgainst?: { readonly sourceId: string; readonly pass: string };
}

/** Library ids of the LUTs and CDLs that adjustments use. */
export function lookFilesOf(document: LedgerDocument): string[] {
  const ids = [...walkEntries(document.entries)].flatMap((e) =>
    e.adjustments.flatMap((a) => (a.kind === 'look' && a.lookFile ? [a.lookFile.id] : [])),
  );
  return [...new Set(ids)];
}

/** A baked look in words. */
export function lookWords({ look, lookFile }: BakedLook): string {
  return [lookFile?.name, look || undefined].filter((w) => w !== undefined).join(' and ') || 'nothing yet';
}

/** The looks that act in a ledger, with the entries that bake them. */
export function bakedLooks(document: LedgerDocument): { entry: string; look: string }[] {
  const visit = (entries: readonly Entry[]): { entry: string; look: string }[] =>
    entries
      .filter((e) => e.enabled && e.mix > 0)
      .flatMap((e) => [
        ...e.adjustments.flatMap((a) =>
          a.kind === 'look' && a.enabled && (a.look || a.lookFile) ? [{ entry: e.name, look: lookWords(a) }] : [],
        ),
        ...(e.kind === 'subtotal' ? visit(e.entries) : []),
      ]);
  return visit(document.entries);
}

/** All entries, subtotals before their own. */
export function* walkEntries(entries: readonly Entry[]): Generator<Entry> {
  for (const entry of entries) {
    yield entry;
    if (entry.kind === 'subtotal') yield* walkEntries(entry.entries);
  }
}
