import { expect, test } from '@jest/globals';
import type { LedgerDocument } from '../../src/ledger/document.ts';
import { freeMatteName, removeMatte, renameMatte, subjectOfMatte, usesOfMatte } from '../../src/ledger/matteNames.ts';
import { compileSubject } from '../../src/ledger/subjects.ts';
import { ShotColour } from '../../src/config/shotColour.ts';
import { entry, evaluated, finish, inputsOf, source } from '../operations/surroundings.ts';

const document: LedgerDocument = {
  version: 2,
  alphaFrom: null,
  entries: [
    entry('light', { matte: 'far' }),
    entry('haze', { adjustments: [{ kind: 'exposure', enabled: true, stops: 1, matte: 'far' }] }),
    entry('beauty'),
    finish('blur', { size: 2, matte: 'near' }),
  ],
  mattes: {
    far: { kind: 'depth', source: 's', pass: 'depth' },
    near: { kind: 'invert', of: 'far' },
    both: { kind: 'combine', of: 'far', and: 'near' },
  } as never,
};

test('who uses a matte: rows, their adjustments, other mattes', () => {
  expect(usesOfMatte(document, 'far')).toEqual(['light', 'haze', 'near', 'both']);
  expect(usesOfMatte(document, 'near')).toEqual(['blur', 'both']);
  expect(usesOfMatte(document, 'both')).toEqual([]);
});

test('a matte is renamed wherever it is named, and keeps its place', () => {
  const renamed = renameMatte(document, 'far', 'quay');
  expect(Object.keys(renamed.mattes!)).toEqual(['quay', 'near', 'both']);
  expect(usesOfMatte(renamed, 'quay')).toEqual(['light', 'haze', 'near', 'both']);
  expect(JSON.stringify(renamed)).not.toContain('"far"');
  expect(renameMatte(document, 'far', 'near')).toBe(document);
  expect(freeMatteName(document, 'far')).toBe('far 2');
});

test('a matte that is removed is taken off; what was made of it says what it misses', () => {
  const removed = removeMatte(document, 'far');
  expect(usesOfMatte(removed, 'far')).toEqual([]);
  expect(removed.entries.map((e) => e.matte ?? null)).toEqual([null, null, null, 'near']);
  const compile = () =>
    compileSubject(removed, { kind: 'named matte', name: 'near' }, [source()], 'ACEScg', new ShotColour(), {});
  expect(compile).toThrow('there is no matte ""');
});

test('a matte is looked at on what it is used by, an adjustment’s before it; on the total where nothing uses it', () => {
  expect(subjectOfMatte(document, 'far')?.name).toBe('light');
  const later = { ...document, entries: document.entries.slice(1) };
  expect(subjectOfMatte(later, 'far')).toMatchObject({ name: 'haze', adjustments: [] });
  expect(subjectOfMatte(document, 'both')).toBeUndefined();
});

test.each([
  ['far', 5, 1],
  ['near', 5, 0],
  ['both', 5, 0],
  ['far', 10.5, 0.5],
  ['both', 10.5, 0.25],
  ['near', 1000, 1],
])('the picture of the matte %s where depth is %p is %p, whoever uses it', (name, depth, value) => {
  const subject = { kind: 'named matte', name } as const;
  const plan = compileSubject(document, subject, [source()], 'ACEScg', new ShotColour(), {});
  // Depth 0 to 10 with a softness of 1.
  const inputs = inputsOf(plan, (channel) => new Float32Array(4).fill(channel === 'depth.Z' ? depth : 0.5));
  expect([...evaluated(plan, inputs, { width: 4, height: 1 })[0]!]).toEqual([value, value, value, value]);
});
