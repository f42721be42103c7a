import { expect, test } from '@jest/globals';
import type { Entry } from '../../src/ledger/document.ts';
import { orderWarnings } from '../../src/ledger/orderWarnings.ts';
import { entry, finish } from '../operations/surroundings.ts';

// What is pointed out is common practice, no source.
const on = (kind: string) => ({ kind, enabled: true });
const said = (entries: readonly Entry[]) =>
  orderWarnings({ entries }).map((w) => [entries.find((e) => e.id === w.entry)?.name, w.message]);

test('light, then finishes, then a look at the end: nothing to say', () => {
  expect(
    said([
      entry('beauty'),
      entry('light', { operation: 'minus' }),
      entry('light', { adjustments: [on('exposure')] }),
      finish('haze'),
      finish('grade', { adjustments: [on('curves'), on('look')] }),
    ]),
  ).toEqual([]);
});

test.each([
  [
    'a grade after a view in one row',
    [entry('beauty', { adjustments: [on('view'), on('exposure')] })],
    'put the view last',
  ],
  [
    'a finish after an encoding',
    [entry('beauty'), finish('grade', { adjustments: [on('view')] }), finish('glow')],
    'not on light',
  ],
  [
    'light behind a look',
    [entry('beauty'), finish('grade', { adjustments: [on('look')] }), entry('light')],
    'behind the look of grade',
  ],
  ['light behind a finish', [entry('beauty'), finish('grain'), entry('light')], 'behind grain'],
  ['codes added to light', [entry('beauty'), entry('light', { adjustments: [on('view')] })], 'adds codes of a display'],
])('%s is pointed out', (_what, entries, words) => {
  const warnings = said(entries);
  expect(warnings).toHaveLength(1);
  expect(warnings[0]![1]).toContain(words);
});

test('what is switched off does nothing, and inside a subtotal the same holds', () => {
  expect(said([entry('beauty'), finish('grain', { enabled: false }), entry('light')])).toEqual([]);
  const inner = entry('whole', { kind: 'subtotal', entries: [entry('beauty'), finish('grain'), entry('light')] });
  expect(orderWarnings({ entries: [inner] })).toHaveLength(1);
});
