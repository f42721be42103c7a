import { expect, test } from '@jest/globals';
import { findSequences } from '../../src/sequence/names.ts';
import { findPassSets } from '../../src/sequence/passSets.ts';

const frames = (pattern: string, count = 2) =>
  Array.from({ length: count }, (_, i) => pattern.replace('####', String(1001 + i)));
const sets = (...patterns: string[]) =>
  findPassSets(findSequences(patterns.flatMap((p) => frames(p)))).map((s) => [s.pattern, s.members.map((m) => m.pass)]);

// Naming habits; common practice, no source.
test('files that differ in the pass alone are one set, with words of several parts kept whole', () => {
  expect(
    sets(
      'landing_beauty.####.exr',
      'landing_diffuse_direct.####.exr',
      'landing_diffuse_indirect.####.exr',
      'landing_Z.####.exr',
    ),
  ).toEqual([['landing_{pass}.####.exr', ['beauty', 'diffuse_direct', 'diffuse_indirect', 'Z']]]);
  expect(sets('beauty.####.exr', 'depth.####.exr')).toEqual([['{pass}.####.exr', ['beauty', 'depth']]]);
  expect(sets('kettle.v003.beauty.####.exr', 'kettle.v003.emission.####.exr')).toEqual([
    ['kettle.v003.{pass}.####.exr', ['beauty', 'emission']],
  ]);
});

test('two renders side by side stay two sets', () => {
  expect(
    sets(
      'landing_beauty.####.exr',
      'landing_Z.####.exr',
      'kettle_beauty.####.exr',
      'kettle_Z.####.exr',
      'kettle_N.####.exr',
    ),
  ).toEqual([
    ['kettle_{pass}.####.exr', ['beauty', 'Z', 'N']],
    ['landing_{pass}.####.exr', ['beauty', 'Z']],
  ]);
});

test('names that mean no pass make no set', () => {
  expect(sets('landing.####.exr', 'kettle.####.exr')).toEqual([]);
  expect(sets('shot_010.####.exr', 'shot_020.####.exr')).toEqual([]);
  expect(sets('landing_beauty.####.exr')).toEqual([]);
});
