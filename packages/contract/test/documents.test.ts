import { describe, expect, test } from '@jest/globals';
import {
  ledgerDocumentSchema,
  newShotSchema,
  outputSettingsSchema,
  readBackSchema,
  roleChangeSchema,
  shotChangeSchema,
} from '../src/index.ts';

const entry = {
  id: 'a',
  name: 'Diffuse',
  kind: 'pass',
  sourceId: 's',
  pass: 'diffuse',
  enabled: true,
  operation: 'plus',
  mix: 1,
  adjustments: [],
};
const ledger = (change: object) => ({ version: 1, entries: [{ ...entry, ...change }] });
const accepts = (schema: { safeParse(v: unknown): { success: boolean } }, value: unknown) =>
  schema.safeParse(value).success;

describe('a ledger', () => {
  test.each([
    [{}, true],
    [{ mix: 1.01 }, false],
    [{ operation: 'screen' }, false],
    [{ adjustments: [{ kind: 'exposure', enabled: true, stops: 21 }] }, false],
    [{ adjustments: [{ kind: 'gain', enabled: true, red: 1, green: NaN, blue: 1 }] }, false],
    [{ adjustments: [{ kind: 'blur', enabled: true, size: 3 }] }, false],
    [{ id: '' }, false],
    [{ name: 'x'.repeat(201) }, false],
  ])('%j', (change, fine) => {
    expect(accepts(ledgerDocumentSchema, ledger(change))).toBe(fine);
  });

  test('subtotals nest; another version is refused', () => {
    const subtotal = { ...entry, kind: 'subtotal', id: 'b', entries: [entry] };
    expect(accepts(ledgerDocumentSchema, { version: 1, entries: [subtotal] })).toBe(true);
    expect(
      accepts(ledgerDocumentSchema, { version: 1, entries: [{ ...subtotal, entries: [{ ...entry, mix: 2 }] }] }),
    ).toBe(false);
    expect(accepts(ledgerDocumentSchema, { version: 2, entries: [] })).toBe(false);
  });
});

const output = {
  name: 'Master',
  kind: 'exr',
  sampleType: 'half',
  compression: 'zip',
  firstFrame: 1001,
  lastFrame: 1024,
};
test.each([
  [{}, true],
  [{ compression: 'dwab', kind: 'aces' }, true],
  [{ compression: 'lzw' }, false],
  [{ name: '../etc' }, false],
  [{ name: '  ' }, false],
  [{ firstFrame: -1 }, false],
  [{ firstFrame: 1.5 }, false],
  [{ kind: 'gif' }, false],
])('an output with %j', (change, fine) => {
  expect(accepts(outputSettingsSchema, { ...output, ...change })).toBe(fine);
});

test('names are trimmed and bounded; rates are positive; roles are known', () => {
  expect(newShotSchema.parse({ name: '  Last boat ' })).toEqual({ name: 'Last boat' });
  expect(newShotSchema.safeParse({ name: ' ' }).error?.issues[0]?.message).toBe('A shot needs a name.');
  expect(accepts(shotChangeSchema, { rate: 0 })).toBe(false);
  expect(accepts(shotChangeSchema, { rate: 23.976 })).toBe(true);
  expect(accepts(roleChangeSchema, { pass: 'P', role: 'position' })).toBe(true);
  expect(accepts(roleChangeSchema, { pass: 'P', role: 'places' })).toBe(false);
});

test('a proof that was stored before its words were kept is still read', () => {
  const difference = { maxCode: 1, meanCode: 0, at: [0, 0], deltaE: { mean: 0, p95: 0, p99: 0, max: 0 } };
  const old = { tagged: difference, ignoring: difference, tags: '', proved: true };
  expect(readBackSchema.parse(old)).toMatchObject({ judged: '', proved: true });
});
