/** @jest-environment jsdom */
import { expect, test } from '@jest/globals';
import { findMatte, type LedgerDocument, type PassRole } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import './standInBrowser.ts';

const { found } = await import('../src/picker/Picker.tsx');
const { addChoices, additionOf, withAdditions } = await import('../src/screens/build/addChoices.tsx');

const { startingValues } = await import('../src/screens/build/startingValues.ts');
const { expanded } = await import('../src/screens/build/IdNames.tsx');

const passes: [string, PassRole][] = [
  ['beauty', 'beauty'],
  ['diffuse_direct', 'diffuse-direct'],
  ['light_sun', 'light-group'],
  ['depth', 'depth'],
  ['crypto_object00', 'id-matte'],
];
const source = (id: string, name: string, use: string) => ({
  id,
  name,
  stamp: 'now',
  reading: { use },
  passes: passes.map(([n, role]) => ({ name: n, role, part: 0, channels: [] })),
});
const shot = {
  width: 960,
  height: 540,
  viewing: { display: 'sRGB', view: 'Haze', look: null, lookFile: null },
  sources: [source('s', 'landing.####.exr', 'plate'), source('r', 'approved.png', 'reference')],
} as unknown as Shot;
const empty: LedgerDocument = { version: 1, entries: [] };
const choices = addChoices(shot, 1001);
const additions = (...labels: string[]) =>
  labels.map((l) => additionOf(choices.find((c) => c.label === l && c.group !== 'approved.png')!.key));

test('passes of light of the plates are offered with pictures; data and references are not', () => {
  const offered = choices.filter((c) => c.picture);
  expect(offered.map((c) => [c.group, c.label])).toEqual([
    ['landing.####.exr', 'beauty'],
    ['landing.####.exr', 'diffuse_direct'],
    ['landing.####.exr', 'light_sun'],
  ]);
  expect(choices.map((c) => c.label)).toEqual(
    expect.arrayContaining([
      'A fill',
      'A subtotal',
      'Build anew from light components',
      'Build anew from light groups',
    ]),
  );
});

test('every typed word must be found, in any order and case, in name, role or source', () => {
  const labels = (typed: string) => found(choices, typed).map((c) => c.label);
  expect(labels('DIRECT diffuse')).toEqual(['diffuse_direct']);
  expect(labels('light group landing')).toContain('light_sun');
  expect(labels('nothing of this')).toEqual([]);
  expect(labels('')).toHaveLength(choices.length);
});

test('several are added at once, in the order in which they were chosen, with readable names', () => {
  const { document, words } = withAdditions(empty, additions('light_sun', 'A fill', 'diffuse_direct'), false, shot);
  expect(document.entries.map((e) => [e.kind, e.name, 'operation' in e && e.operation])).toEqual([
    ['pass', 'Light sun', 'plus'],
    ['fill', 'Fill', 'over'],
    ['pass', 'Diffuse, direct', 'plus'],
  ]);
  expect(new Set(document.entries.map((e) => e.id)).size).toBe(3);
  expect(words).toBe('added light_sun, a fill, diffuse_direct');
});

test('a light is taken out and put back in one change', () => {
  const { document, words } = withAdditions(empty, additions('light_sun'), true, shot);
  expect(document.entries.map((e) => [e.name, 'operation' in e && e.operation])).toEqual([
    ['Light sun out', 'minus'],
    ['Light sun back', 'plus'],
  ]);
  expect(words).toBe('took light_sun out and put back');
});

test('a finish begins with the render’s pass that it reads, a matte in the middle of the picture, and a grade without adjustments', () => {
  const { document } = withAdditions(empty, additions('Haze', 'Grade'), false, shot);
  expect(document.entries).toMatchObject([
    { kind: 'finish', finish: 'haze', source: shot.sources[0]!.id, pass: 'depth' },
    { kind: 'finish', finish: 'grade', adjustments: [] },
  ]);
  expect(startingValues(findMatte('ellipse')!.parameters, shot)).toEqual({
    centre: [shot.width / 2, shot.height / 2].map(Math.round),
    radius: [shot.width / 6, shot.height / 6].map(Math.round),
  });
  expect(startingValues(findMatte('ids')!.parameters, shot)).toEqual({
    source: shot.sources[0]!.id,
    pass: 'crypto_object',
  });
});

test('a star in a name of IDs takes all that fit', () => {
  const known = ['bollard_1', 'bollard_2', 'kettle', 'boll.'];
  expect(expanded(['boll*', 'kettle', 'boll*_2'], known)).toEqual(['bollard_1', 'bollard_2', 'boll.', 'kettle']);
  expect(expanded(['lantern'], known)).toEqual(['lantern']);
});
