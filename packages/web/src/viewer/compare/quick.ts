import { walkEntries, type LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import type { SightChoice } from '../sights.ts';

/** A comparison that has a key of its own: what is shown while it is held. */
export interface QuickComparison {
  readonly id: string;
  readonly name: string;
  readonly keys: string;
  /** Undefined where there is nothing to show; `why` says so. */
  readonly choice: SightChoice | undefined;
  /** It lies over the picture, which is dark where it is black. */
  readonly over?: boolean;
  readonly why?: string;
}

interface QuickPlace {
  readonly shot: Shot;
  readonly document: LedgerDocument;
  /** What the picture shows. */
  readonly first: SightChoice;
  readonly row: string | undefined;
  readonly adjustment: number | undefined;
}

/** The reference of a shot: the first source that is used as one. */
export const referenceOf = (shot: Shot): string | undefined =>
  shot.sources.find((s) => s.reading.use === 'reference')?.id;

/** The comparisons that people make most, for what is shown and which row is open. */
export function quickComparisons({ shot, document, first, row, adjustment }: QuickPlace): QuickComparison[] {
  const reference = referenceOf(shot);
  const entry = [...walkEntries(document.entries)].find((e) => e.id === row);
  const noRow = 'Open a row of the ledger first.';
  const ofRow = (choice: (id: string) => SightChoice | string) => {
    const made = entry ? choice(entry.id) : noRow;
    return typeof made === 'string' ? { choice: undefined, why: made } : { choice: made };
  };
  const total = { of: { kind: 'total' } } as const;
  return [
    {
      id: 'reference',
      name: 'Compare: the reference',
      keys: 'r',
      ...(reference === undefined
        ? { choice: undefined, why: 'This shot has no reference: in Intake, a picture may be used as one.' }
        : { choice: { of: { kind: 'reference', sourceId: reference } } }),
    },
    { id: 'as it is', name: 'Compare: as it is, not as declared', keys: 'd', choice: { ...first, asItIs: true } },
    { id: 'view off', name: 'Compare: view off', keys: 'v', choice: { ...first, off: ['view', 'look'] } },
    { id: 'look off', name: 'Compare: look off', keys: 'l', choice: { ...first, off: ['look'] } },
    {
      id: 'plain',
      name: 'Compare: plain view, as a reader without tags shows it',
      keys: 'i',
      choice: { ...first, plain: true },
    },
    {
      id: 'row off',
      name: adjustment === undefined ? 'Compare: this row off' : 'Compare: this adjustment off',
      keys: 'e',
      ...ofRow((id) => ({ of: { kind: 'without', entry: id, ...(adjustment === undefined ? {} : { adjustment }) } })),
    },
    {
      id: 'row alone',
      name: 'Compare: this row alone',
      keys: 'b',
      ...ofRow((id) =>
        entry!.kind === 'finish' ? 'A finish has no picture of its own.' : { of: { kind: 'row', entry: id } },
      ),
    },
    {
      id: 'above',
      name: 'Compare: the total above this row',
      keys: 'u',
      ...ofRow((id) => ({ of: { kind: 'above', entry: id } })),
    },
    {
      id: 'matte',
      name: 'Compare: the matte of this row',
      keys: 'k',
      ...ofRow((id) => (entry!.matte ? { of: { kind: 'matte', entry: id } } : 'This row has no matte.')),
    },
    {
      id: 'matte over',
      name: 'Compare: the matte of this row over the picture',
      keys: 'shift+k',
      over: true,
      ...ofRow((id) => (entry!.matte ? { of: { kind: 'matte', entry: id } } : 'This row has no matte.')),
    },
    {
      id: 'alpha over',
      name: 'Compare: alpha over the picture',
      keys: 'shift+a',
      over: true,
      choice: { ...first, alpha: true },
    },
    { id: 'start', name: 'Compare: the start, rows as they came in', keys: 't', choice: { of: { kind: 'start' } } },
    {
      id: 'encoded sum',
      name: 'Compare: the same rows summed in an encoded space',
      keys: 'shift+s',
      choice: { ...total, order: 'encoded sum' },
    },
    {
      id: 'view first',
      name: 'Compare: the view before the sum',
      keys: 'shift+v',
      choice: { ...total, order: 'view first' },
    },
    {
      id: 'change after view',
      name: 'Compare: the changes of this row after the view',
      keys: 'shift+e',
      ...ofRow((id) =>
        entry!.kind === 'finish' || !entry!.adjustments.some((a) => a.enabled)
          ? 'This row has no adjustments.'
          : { of: { kind: 'unchanged', entry: id }, order: 'change after view', entry: id },
      ),
    },
  ];
}
