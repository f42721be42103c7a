import { expect, test } from '@jest/globals';
import { ledgerWords } from '../../src/ledger/summary.ts';
import { adjustments, finishes, mattes } from '../../src/operations/registry.ts';
import type { LedgerDocument } from '../../src/ledger/document.ts';
import { entry, finish } from '../operations/surroundings.ts';

const called = (id: string) => (id === 's' ? 'landing' : id);
const words = (document: Partial<LedgerDocument>) => ledgerWords({ version: 2, entries: [], ...document }, called);

test('a ledger in plain words: what each row does, where, by how much, and what is switched off', () => {
  const gain = { kind: 'gain', enabled: true, master: 0.5, matte: 'thing' };
  const off = { kind: 'saturation', enabled: false, amount: 0 };
  const keyed = {
    keys: [
      [1001, 0.2],
      [1010, 1],
    ],
  };
  const lines = words({
    entries: [
      entry('beauty'),
      entry('light', { name: 'Sun out', operation: 'minus', enabled: false }),
      entry('sub', {
        name: 'Rest',
        kind: 'subtotal',
        mix: 0.25,
        note: 'as agreed',
        entries: [
          entry('haze', { adjustments: [gain, off] }),
          entry('fog', { kind: 'fill', operation: 'over', colour: [0.5, 0.5, 0.6], alpha: 1 }),
        ],
      }),
      finish('haze', { name: 'Far haze', source: 's', pass: 'depth', density: 0.05, mix: keyed, matte: 'thing' }),
      finish('grade', { name: 'Grade', adjustments: [{ kind: 'exposure', enabled: true, stops: -1.5 }] }),
    ],
    mattes: { thing: { kind: 'ids', source: 's', pass: 'crypto', names: ['kettle', 'crate'] } },
  });
  expect(lines).toEqual([
    '1. beauty: adds beauty of landing.',
    '2. Sun out (switched off): takes away light of landing.',
    '3. Rest: adds what these 2 rows make together; mixed in by 0.25. Note: as agreed',
    '3.1. haze: adds haze of landing; gain 0.5 where the matte thing is.',
    '3.2. fog: lays over the colour 0.5 0.5 0.6.',
    '4. Far haze: haze of all above, source landing, depth depth, density 0.05 1/m; only where the matte thing is; mixed in by 0.2 at 1001, 1 at 1010 (keyed).',
    '5. Grade: grade of all above; exposure -1.5 stops.',
    'Mattes:',
    'thing: ids, source landing, pass crypto, names kettle, crate.',
  ]);
});

test('every kind has words, and those of a later version are named', () => {
  // Every kind as it is at first, by its title.
  const known = words({
    entries: [
      entry('beauty', { adjustments: adjustments.map(({ kind }) => ({ kind, enabled: true })) }),
      ...finishes.map(({ kind }) => finish(kind)),
    ],
    mattes: Object.fromEntries(mattes.map(({ kind }) => [kind, { kind } as never])),
  }).join('\n');
  for (const { title } of [...adjustments, ...mattes, ...finishes]) expect(known).toContain(title.toLowerCase());
  const unknown = words({
    entries: [entry('beauty', { adjustments: [{ kind: 'sparkle', enabled: true }] }), finish('shimmer')],
    mattes: { m: { kind: 'aura' } as never },
  });
  expect(unknown.join(' ')).toMatch(/unknown adjustment "sparkle".*unknown finish "shimmer".*m: aura/);
});
