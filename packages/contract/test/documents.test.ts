import { describe, expect, test } from '@jest/globals';
import {
  adjustmentSchema,
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
    [{ mix: { keys: [[1001, 0.5]] } }, true],
    [{ mix: { keys: [] } }, false],
    [{ mix: 'all' }, false],
    // What is out of range or of a newer version is kept, and named at its row by the compiler.
    [{ operation: 'weave' }, true],
    [{ adjustments: [{ kind: 'exposure', enabled: true, stops: 21 }] }, true],
    [{ adjustments: [{ kind: 'sparkle', enabled: true, size: 3 }] }, true],
    [{ adjustments: [{ enabled: true }] }, false],
    [{ id: '' }, false],
    [{ name: 'x'.repeat(201) }, false],
  ])('%j', (change, fine) => {
    expect(accepts(ledgerDocumentSchema, ledger(change))).toBe(fine);
  });

  test('subtotals nest; another version is refused', () => {
    const subtotal = { ...entry, kind: 'subtotal', id: 'b', entries: [entry] };
    expect(accepts(ledgerDocumentSchema, { version: 1, entries: [subtotal] })).toBe(true);
    expect(
      accepts(ledgerDocumentSchema, { version: 1, entries: [{ ...subtotal, entries: [{ ...entry, id: '' }] }] }),
    ).toBe(false);
    const finish = { kind: 'finish', id: 'c', name: 'Blur', enabled: true, mix: 1, finish: 'blur', size: 4 };
    const mattes = { bright: { kind: 'brightness', low: 1 } };
    expect(ledgerDocumentSchema.parse({ version: 2, entries: [finish], mattes })).toEqual({
      version: 2,
      entries: [finish],
      mattes,
    });
    expect(accepts(ledgerDocumentSchema, { version: 3, entries: [] })).toBe(false);
  });
});

describe('what an adjustment takes, derived from its definition', () => {
  test.each([
    [{ kind: 'exposure', stops: 1 }, true],
    [{ kind: 'exposure', stops: 21 }, false],
    [{ kind: 'exposure', stop: 1 }, false],
    [{ kind: 'gain', red: 1, green: NaN, blue: 1 }, false],
    [
      {
        kind: 'gain',
        red: {
          keys: [
            [1, 0.5],
            [9, 2],
          ],
          smooth: true,
        },
        space: 'ACEScct',
        matte: 'bright',
      },
      true,
    ],
    [{ kind: 'matrix', matrix: [1, 0, 0, 0, 1, 0, 0, 0] }, false],
    [{ kind: 'look', space: 'ACEScct' }, false],
    [{ kind: 'whiteBalance', method: 'sharp' }, false],
    [{ kind: 'sparkle' }, false],
  ])('%j', (adjustment, fine) => {
    expect(accepts(adjustmentSchema, adjustment)).toBe(fine);
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
  expect(newShotSchema.parse({ name: '  Last boat ' })).toEqual({ name: 'Last boat', setUp: null });
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
