/** @jest-environment jsdom */
import { expect, test } from '@jest/globals';
import type { ListedProblem, Shot, Source } from '@june-haze/contract';
import { problemRows } from '../src/screens/intake/problems.ts';
import { frameCount, linedUp, rangeWords } from '../src/screens/intake/frames.ts';
import { plausibleSpaces } from '../src/screens/intake/TryOn.tsx';

const source = (change: Partial<Source>): Source =>
  ({
    id: 's',
    name: 'landing.####.exr',
    firstFrame: 1001,
    lastFrame: 1010,
    step: 1,
    still: false,
    missing: [],
    damaged: [],
    rate: 24,
    width: 960,
    height: 540,
    alpha: 'premultiplied',
    fileKind: 'exr',
    evidence: [],
    confidence: 0.8,
    confirmed: true,
    declaredSpace: 'ACEScg',
    measuredFrames: [1001, 1005, 1010],
    check: { stage: 'done', done: 0, count: 0, message: null },
    reading: { onFault: 'stop' },
    problems: [],
    ...change,
  }) as unknown as Source;
const problem = (kind: ListedProblem['kind'], change: Partial<ListedProblem> = {}): ListedProblem => ({
  kind,
  source: 's',
  pass: null,
  file: null,
  frames: [],
  sampled: false,
  text: 'text',
  key: `${kind}//${change.file ?? ''}`,
  silenced: null,
  ...change,
});
const rows = (change: Partial<Source>) =>
  problemRows({ id: 'shot', rate: 24, width: 960, height: 540, sources: [source(change)] } as unknown as Shot);
const labels = (change: Partial<Source>) => rows(change).map((r) => [r.title, ...r.remedies.map((m) => m.label)]);

test('a sound source has none', () => {
  expect(rows({})).toEqual([]);
});

test('bad frames are one row with what is written there; the policy in force is marked', () => {
  const [row, ...others] = rows({
    problems: [problem('missing-frames', { text: 'frame 3 is missing' }), problem('truncated-frame', { file: 'x' })],
    reading: { onFault: 'hold' } as Source['reading'],
  });
  expect(others).toEqual([]);
  expect(row).toMatchObject({ state: 'fails', title: 'Frames are missing or damaged' });
  expect(row!.about).toContain('frame 3 is missing');
  expect(row!.remedies.map((r) => [r.label, r.inForce ?? false])).toEqual([
    ['Hold the last good', true],
    ['Leave black', false],
    ['Stop there', false],
    ['Look again', false],
  ]);
  expect(row!.problems.map((p) => p.kind)).toEqual(['missing-frames', 'truncated-frame']);
});

test.each<[Partial<Source>, string[]]>([
  [{ rate: 30, problems: [problem('rate-mismatch')] }, ['Another rate', 'Read as 24', 'Take the shot as 30']],
  [{ problems: [problem('alpha-mismatch')] }, ['Alpha contradicts the pixels', 'Read as straight']],
  [{ problems: [problem('encoded-as-linear')] }, ['Encoded pixels in a linear kind of file', 'Declare sRGB']],
  [
    {
      problems: [problem('space-contradiction')],
      evidence: [{ from: 'chromaticities', says: '', space: 'Linear Rec.709', agrees: false }],
    },
    ['Evidence contradicts the space', 'Declare Linear Rec.709'],
  ],
  [{ problems: [problem('non-finite', { sampled: true })] }, ['Pixels are not numbers', 'Look at every frame']],
  [{ confirmed: false }, ['Space not confirmed', 'Confirm ACEScg']],
  [{ confirmed: false, declaredSpace: null }, ['No space declared']],
])('%#: a title and its remedies', (change, expected) => {
  expect(labels(change)).toEqual([expected]);
});

test('what was seen in sampled frames says so; a silence is kept with its reason', () => {
  const [row] = rows({
    problems: [problem('negative-values', { sampled: true, frames: [1001], silenced: 'denoised' })],
  });
  expect(row!.about).toMatch(/Seen in 1 of 3 sampled frames/);
  expect(row!.silenced).toBe('denoised');
});

test('while files are looked at nothing is asked to be confirmed', () => {
  expect(rows({ confirmed: false, check: { stage: 'pixels', done: 1, count: 5, message: null } })).toEqual([]);
});

test('ranges and steps in words', () => {
  expect(rangeWords(source({ missing: [1003] }))).toBe('1001–1010, 1 bad');
  expect(rangeWords(source({ step: 3 }))).toBe('1001–1010 by 3');
  expect(frameCount(source({ step: 3 }))).toBe(4);
});

test('spaces to try on begin with what the evidence names, and fit the kind of file', () => {
  const named = source({ evidence: [{ from: 'file name', says: '', space: 'V-Log' }] });
  expect(plausibleSpaces(named)[0]).toBe('V-Log');
  expect(plausibleSpaces(source({ fileKind: 'dpx', declaredSpace: null }))).toContain('LogC3');
  expect(plausibleSpaces(source({ fileKind: 'png', declaredSpace: 'sRGB' }))[0]).toBe('sRGB');
  expect(plausibleSpaces(source({}))).toHaveLength(6);
});

test('a plate is lined up with the render by its timecode', () => {
  const render = source({ timecode: '10:00:00:00', firstFrame: 1001 });
  const plate = source({ timecode: '09:59:59:00', firstFrame: 1 });
  expect(linedUp(plate, render, 24)).toBe(977);
  expect(linedUp(source({ timecode: null }), render, 24)).toBeUndefined();
});
