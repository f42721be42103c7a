import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { walkEntries, type Entry, type LedgerDocument } from '@june-haze/core';
import { changeEntry, flatten, moveEntry } from '../src/screens/build/edit.ts';

const common = { enabled: true, operation: 'plus', mix: 1, adjustments: [] } as const;
const fill = (id: string): Entry => ({ ...common, id, name: id, kind: 'fill', colour: [0, 0, 0], alpha: 1 });
const subtotal = (id: string, entries: Entry[]): Entry => ({ ...common, id, name: id, kind: 'subtotal', entries });
const ledger: LedgerDocument = {
  version: 1,
  entries: [fill('a'), subtotal('s', [fill('b'), subtotal('t', [fill('c')])]), fill('d')],
};
const outline = (document: LedgerDocument) =>
  flatten(document.entries).map((f) => `${'-'.repeat(f.depth)}${f.entry.id}`);

describe('edits of a ledger', () => {
  test('an entry is changed wherever it stands, and nothing else is', () => {
    const next = changeEntry(ledger, 'c', (e) => ({ ...e, enabled: false }));
    const flags = flatten(next.entries).map((f) => [f.entry.id, f.entry.enabled]);
    expect(flags).toEqual([
      ['a', true],
      ['s', true],
      ['b', true],
      ['t', true],
      ['c', false],
      ['d', true],
    ]);
  });

  test('an entry is taken out with what it holds', () => {
    expect(outline(changeEntry(ledger, 't', () => undefined))).toEqual(['a', 's', '-b', 'd']);
  });

  test.each([
    ['d', 'b', 'before', ['a', 's', '-d', '-b', '-t', '--c']],
    ['a', 'd', 'after', ['s', '-b', '-t', '--c', 'd', 'a']],
    ['a', 't', 'into', ['s', '-b', '-t', '--c', '--a', 'd']],
    ['t', 'a', 'before', ['t', '-c', 'a', 's', '-b', 'd']],
  ] as const)('%s moves to %s, %s', (id, target, place, wanted) => {
    expect(outline(moveEntry(ledger, id, target, place))).toEqual(wanted);
  });

  test.each(['s', 'b', 't', 'c'])('a subtotal cannot move into itself or what it holds (%s)', (target) => {
    expect(moveEntry(ledger, 's', target, 'into')).toBe(ledger);
  });

  test('no run of moves loses or doubles an entry', () => {
    const id = fc.constantFrom('a', 'b', 'c', 'd', 's', 't');
    const place = fc.constantFrom('before' as const, 'after' as const, 'into' as const);
    fc.assert(
      fc.property(fc.array(fc.tuple(id, id, place), { maxLength: 12 }), (moves) => {
        let document = ledger;
        for (const [what, target, where] of moves) {
          const goal = flatten(document.entries).find((f) => f.entry.id === target)!.entry;
          if (where === 'into' && goal.kind !== 'subtotal') continue;
          document = moveEntry(document, what, target, where);
        }
        const ids = [...walkEntries(document.entries)].map((e) => e.id).sort();
        expect(ids).toEqual(['a', 'b', 'c', 'd', 's', 't']);
      }),
    );
  });
});
