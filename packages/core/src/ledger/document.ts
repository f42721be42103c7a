/** How an entry acts on the running total. */
export type Operation = 'plus' | 'minus' | 'multiply' | 'over';

/** A colour change on one entry, in order. All of them are pure multiplications so far, so alpha does not matter. */
export type Adjustment =
  | { readonly kind: 'exposure'; readonly enabled: boolean; readonly stops: number }
  | {
      readonly kind: 'gain';
      readonly enabled: boolean;
      readonly red: number;
      readonly green: number;
      readonly blue: number;
    };

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
  /** Takes alpha from another pass of the same source. */
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

/** How the picture is built, top to bottom from transparent black, in the shot's working space. */
export interface LedgerDocument {
  readonly version: 1;
  readonly entries: readonly Entry[];
  /** The pass that the total is balanced against. */
  readonly balanceAgainst?: { readonly sourceId: string; readonly pass: string };
}

/** All entries, subtotals before their own. */
export function* walkEntries(entries: readonly Entry[]): Generator<Entry> {
  for (const entry of entries) {
    yield entry;
    if (entry.kind === 'subtotal') yield* walkEntries(entry.entries);
  }
}
