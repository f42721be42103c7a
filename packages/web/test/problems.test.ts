/** @jest-environment jsdom */
import { expect, test } from '@jest/globals';
import type { Shot, Source } from '@june-haze/contract';
import { problemsOf } from '../src/screens/intake/Problems.tsx';

const source = (change: Partial<Source>): Source =>
  ({
    id: 's',
    name: 'landing.####.exr',
    missing: [],
    damaged: [],
    rate: 24,
    width: 960,
    height: 540,
    evidence: [],
    confirmed: true,
    declaredSpace: 'ACEScg',
    ...change,
  }) as Source;
const titles = (change: Partial<Source>) =>
  problemsOf({ id: 'shot', rate: 24, width: 960, height: 540, sources: [source(change)] } as unknown as Shot).map(
    (p) => p.title,
  );

test('a sound source has none', () => {
  expect(titles({})).toEqual([]);
});

test.each([
  [{ missing: [1003] }, 'Frame 1003 is missing'],
  [{ missing: [1003, 1007] }, 'Frames 1003, 1007 are missing'],
  [{ damaged: [{ frame: 1002, message: 'ends early' }] }, 'Frame 1002 is damaged'],
  [{ rate: 30 }, '30 fps in a 24 fps shot'],
  [{ width: 1920 }, 'Another size'],
  [{ confirmed: false }, 'Space not confirmed'],
  [
    { evidence: [{ from: 'chromaticities', says: 'Rec.709', space: 'Linear Rec.709', agrees: false }] },
    'The chromaticities contradicts',
  ],
])('%j', (change, title) => {
  expect(titles(change)).toContain(title);
});

test('the kind of file is no contradiction, and a rate that the header lacks is none', () => {
  expect(titles({ evidence: [{ from: 'kind of file', says: 'linear', agrees: false }], rate: null })).toEqual([]);
});
