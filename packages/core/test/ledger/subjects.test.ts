import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import type { Entry, LedgerDocument } from '../../src/ledger/document.ts';
import { adjustmentSteps, beforeSum } from '../../src/ledger/orders.ts';
import { asItIs, compileSubject, documentOf, type Subject } from '../../src/ledger/subjects.ts';
import { PlanError } from '../../src/ledger/plan.ts';
import { entry, evaluated, finish, inputsOf, source } from '../operations/surroundings.ts';

const colour = new ShotColour();
const exposure = (stops: number) => ({ kind: 'exposure', enabled: true, stops });
const rows: Entry[] = [
  entry('light', { id: 'sun', adjustments: [exposure(1)] }),
  entry('sub', {
    id: 'lamps',
    kind: 'subtotal',
    entries: [entry('light', { id: 'one' }), entry('light', { id: 'two', adjustments: [exposure(1), exposure(1)] })],
  }),
  entry('haze', { id: 'haze', operation: 'plus', matte: 'bright', mix: 0.5 }),
];
const ledger: LedgerDocument = {
  version: 2,
  alphaFrom: null,
  entries: rows,
  mattes: { bright: { kind: 'brightness', low: 0.5, high: 1.5, soft: 'linear' } as never },
};
/** light is 1 everywhere, haze 2 and 1 of alpha: one pixel tells which rows are in. */
const samples = (channel: string) =>
  Float32Array.of(channel.startsWith('haze') ? (channel.endsWith('A') ? 1 : 2) : channel.startsWith('depth') ? 40 : 1);
function red(subject: Subject, document = ledger, sources = [source()]): number {
  const plan = compileSubject(document, subject, sources, 'ACEScg', colour, {});
  return evaluated(plan, inputsOf(plan, samples), { width: 1, height: 1 })[0]![0]!;
}

describe('what of a ledger is looked at', () => {
  test.each([
    // sun 2, lamps 1 + 4, haze half of 2 where it is bright: 8 in all.
    [{ kind: 'total' }, 8],
    [{ kind: 'row', entry: 'sun' }, 2],
    [{ kind: 'row', entry: 'lamps' }, 5],
    [{ kind: 'row', entry: 'two' }, 4],
    [{ kind: 'row', entry: 'haze' }, 1],
    [{ kind: 'above', entry: 'sun' }, 0],
    [{ kind: 'above', entry: 'two' }, 3],
    [{ kind: 'above', entry: 'haze' }, 7],
    [{ kind: 'without', entry: 'sun' }, 6],
    [{ kind: 'without', entry: 'two' }, 4],
    [{ kind: 'without', entry: 'two', adjustment: 0 }, 6],
    [{ kind: 'unchanged', entry: 'two' }, 5],
    [{ kind: 'matte', entry: 'haze' }, 1],
    [{ kind: 'pass', sourceId: 's', pass: 'haze' }, 2],
    [{ kind: 'pass', sourceId: 's', pass: 'depth' }, 40],
    // As they came in: 1 + (1 + 1) + 2.
    [{ kind: 'start' }, 5],
  ] as [Subject, number][])('%j is %d', (subject, expected) => expect(red(subject)).toBeCloseTo(expected, 5));

  test('the matte of a row is what it acts by, in all channels; of a finish, of the total that it takes', () => {
    const soft: LedgerDocument = {
      ...ledger,
      entries: [rows[0]!, finish('blur', { id: 'soft', size: 2, matte: 'half' })],
      mattes: { half: { kind: 'brightness', low: 0, high: 4, soft: 'linear' } as never },
    };
    expect(red({ kind: 'matte', entry: 'soft' }, soft)).toBeCloseTo(0.5, 5);
  });

  test('what cannot be looked at says why', () => {
    const refuse =
      (subject: Subject, document = ledger) =>
      () =>
        documentOf(document, subject);
    expect(refuse({ kind: 'row', entry: 'gone' })).toThrow(PlanError);
    expect(refuse({ kind: 'matte', entry: 'sun' })).toThrow('light has no matte.');
    const soft = { ...ledger, entries: [finish('blur', { id: 'soft', size: 2 })] };
    expect(refuse({ kind: 'row', entry: 'soft' }, soft)).toThrow('it has no picture of its own');
  });

  test('a ledger still refuses data that is taken for light', () => {
    const data = { ...ledger, entries: [entry('depth', { id: 'd' })] };
    expect(() => red({ kind: 'total' }, data)).toThrow('which is no light');
  });

  test('as it is: its numbers are those of the working space, whatever it is declared', () => {
    const rec709 = source({ space: 'Linear Rec.709' });
    const pass = { kind: 'pass', sourceId: 's', pass: 'light' } as const;
    const half = (name: string) => Float32Array.of(name.endsWith('R') ? 1 : 0);
    const of = (s: typeof rec709) => {
      const plan = compileSubject(ledger, pass, [s], 'ACEScg', colour, {});
      return evaluated(plan, inputsOf(plan, half), { width: 1, height: 1 })[0]![0]!;
    };
    expect(of(asItIs(rec709, 'ACEScg'))).toBe(1);
    expect(of(rec709)).toBeCloseTo(0.613, 2);
  });
});

describe('other orders, to be seen for what they do', () => {
  test('rows through a curve before they are summed: codes are added, not light', () => {
    const plan = compileSubject(
      { ...ledger, entries: [rows[1]!] },
      { kind: 'total' },
      [source()],
      'ACEScg',
      colour,
      {},
    );
    const square = [{ kind: 'power', exponent: 2 }] as const;
    const summed = beforeSum(plan, square);
    // One row: the subtotal, 5, squared.
    expect(evaluated(summed, inputsOf(summed, samples), { width: 1, height: 1 })[0]![0]).toBeCloseTo(25, 4);
    const two = compileSubject(
      { ...ledger, entries: rows.slice(0, 2) },
      { kind: 'total' },
      [source()],
      'ACEScg',
      colour,
      {},
    );
    const both = beforeSum(two, square);
    expect(evaluated(both, inputsOf(both, samples), { width: 1, height: 1 })[0]![0]).toBeCloseTo(4 + 25, 4);
  });

  test('a row’s adjustments as steps of their own', () => {
    const [step, ...more] = adjustmentSteps(rows[0]!, colour, 'ACEScg', 0);
    expect(more).toEqual([]);
    expect(step).toMatchObject({ kind: 'matrix', matrix: [2, 0, 0, 0, 2, 0, 0, 0, 2] });
  });
});
