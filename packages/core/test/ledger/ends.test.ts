import { expect, test } from '@jest/globals';
import { changesOverFrames, type LedgerDocument } from '../../src/ledger/document.ts';
import { compilePlan } from '../../src/ledger/compile.ts';
import { entry, evaluated, inputsOf, pass, source } from '../operations/surroundings.ts';

const plate = source({ id: 'plate', name: 'plate', passes: [pass('picture', 'beauty', 'RGB')], lasts: [1003, 1005] });
const document: LedgerDocument = {
  version: 2,
  alphaFrom: null,
  entries: [
    entry('beauty'),
    entry('picture', { sourceId: 'plate', operation: 'plus' }),
    entry('inner', { kind: 'subtotal', entries: [entry('picture', { id: 'again', sourceId: 'plate' })] }),
  ],
};
const red = (frame: number) => {
  const plan = compilePlan(document, [source(), plate], 'ACEScg', undefined, { frame });
  const samples = (name: string) => Float32Array.of(name.startsWith('beauty') ? 1 : 10);
  return { red: evaluated(plan, inputsOf(plan, samples), { width: 1, height: 1 })[0]![0], rows: plan.entryIds.length };
};

test('rows of a source that has ended rest, in subtotals too; where it lasts they act', () => {
  expect(red(1002)).toEqual({ red: 1, rows: 2 });
  expect(red(1003).red).toBe(21);
  expect(red(1005).red).toBe(21);
  expect(red(1006)).toEqual({ red: 1, rows: 2 });
});

test('a ledger with a source that ends is another at another frame, though nothing is keyed', () => {
  expect(changesOverFrames(document, [source()])).toBe(false);
  expect(changesOverFrames(document, [source(), plate])).toBe(true);
});
