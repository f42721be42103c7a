import { expect, test } from '@jest/globals';
import { findSequences, nameOfFrame } from '../../src/sequence/names.ts';
import { guessRole } from '../../src/sequence/passes.ts';

test('sequences are found from names, with padding, gaps and step', () => {
  const found = findSequences([
    'a.0001.exr',
    'a.0002.exr',
    'a.0004.exr',
    'b_10.png',
    'b_12.png',
    'b_14.png',
    'still.exr',
  ]);
  expect(found).toEqual([
    { pattern: 'a.####.exr', padding: 4, frames: [1, 2, 4], missing: [3], step: 1 },
    { pattern: 'b_##.png', padding: 2, frames: [10, 12, 14], missing: [], step: 2 },
    { pattern: 'still.exr', padding: 0, frames: [], missing: [], step: 1 },
  ]);
});

test('a frame’s name keeps its padding and outgrows it', () => {
  expect(nameOfFrame('a.####.exr', 7)).toBe('a.0007.exr');
  expect(nameOfFrame('a.####.exr', 12345)).toBe('a.12345.exr');
  expect(nameOfFrame('still.exr', 3)).toBe('still.exr');
});

test.each([
  ['diffuse_direct', 'diffuse-direct'],
  ['DiffuseIndirect', 'diffuse-indirect'],
  ['specular_indirect', 'specular-indirect'],
  ['emission', 'emission'],
  ['light_sun', 'light-group'],
  ['P', 'position'],
  ['N', 'normal'],
  ['Z', 'depth'],
  ['crypto_object00', 'id-matte'],
  ['RGBA', 'beauty'],
  ['something', 'other'],
])('%s is taken for %s (common practice, no source)', (name, role) => {
  expect(guessRole(name)).toBe(role);
});
