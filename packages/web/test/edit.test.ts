import { beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { walkEntries, type Entry, type LedgerDocument } from '@june-haze/core';
import { changeEntries, changeEntry, duplicate, flatten, group, moveEntry } from '../src/screens/build/edit.ts';

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

describe('several entries at once', () => {
  let made = 0;
  const newId = () => `new${++made}`;
  beforeEach(() => {
    made = 0;
  });

  test('changed wherever they stand; a subtotal that is taken out goes with what it holds', () => {
    const off = changeEntries(ledger, new Set(['a', 'c']), (e) => ({ ...e, enabled: false }));
    expect(
      flatten(off.entries)
        .filter((f) => !f.entry.enabled)
        .map((f) => f.entry.id),
    ).toEqual(['a', 'c']);
    expect(outline(changeEntries(ledger, new Set(['a', 't']), () => undefined))).toEqual(['s', '-b', 'd']);
  });

  test('copies stand behind what they are of, with ids of their own all the way down', () => {
    expect(outline(duplicate(ledger, new Set(['a', 't']), newId))).toEqual([
      'a',
      'new1',
      's',
      '-b',
      '-t',
      '--c',
      '-new3',
      '--new2',
      'd',
    ]);
  });

  test('grouped where the first of them stood; of several places, and finishes, nothing is made', () => {
    expect(outline(group(ledger, new Set(['a', 'd']), newId)!)).toEqual(['new1', '-a', '-d', 's', '-b', '-t', '--c']);
    expect(outline(group(ledger, new Set(['b', 't']), newId)!)).toEqual(['a', 's', '-new2', '--b', '--t', '---c', 'd']);
    expect(group(ledger, new Set(['a', 'b']), newId)).toBeUndefined();
    const finish = { ...fill('f'), kind: 'finish', finish: 'blur' } as unknown as Entry;
    expect(group({ ...ledger, entries: [...ledger.entries, finish] }, new Set(['a', 'f']), newId)).toBeUndefined();
    // What stands between would act on other rows then.
    const over = { ...fill('o'), operation: 'over' } as Entry;
    const parted = { ...ledger, entries: [fill('a'), over, fill('d')] };
    expect(group(parted, new Set(['a', 'd']), newId)).toBeUndefined();
    expect(group(parted, new Set(['a', 'o']), newId)).toBeUndefined();
  });
});
