import { expect, test } from '@jest/globals';
import { findMaterial, joinedPattern } from '../../src/intake/material.ts';
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

test('a pass may stand in the middle, in a folder, or in both; eyes and versions are no passes', () => {
  expect(sets('boat_beauty_v002.####.exr', 'boat_depth_v002.####.exr')).toEqual([
    ['boat_{pass}_v002.####.exr', ['beauty', 'depth']],
  ]);
  const inFolders = (...patterns: string[]) =>
    findPassSets(patterns.map((pattern) => ({ pattern, padding: 4, frames: [1001, 1002], missing: [], step: 1 }))).map(
      (s) => [s.pattern, s.members.map((m) => m.pass)],
    );
  expect(inFolders('r/beauty/boat.####.exr', 'r/depth/boat.####.exr')).toEqual([
    ['r/{pass}/boat.####.exr', ['beauty', 'depth']],
  ]);
  expect(inFolders('beauty/boat_beauty.####.exr', 'Z/boat_Z.####.exr')).toEqual([
    ['{pass}/boat_{pass}.####.exr', ['beauty', 'Z']],
  ]);
  expect(sets('boat_left_beauty.####.exr', 'boat_left_depth.####.exr', 'boat_right_beauty.####.exr')).toEqual([
    ['boat_left_{pass}.####.exr', ['beauty', 'depth']],
  ]);
});

test('a beauty without a word, and passes with a word of their own, join a set of the same frames', () => {
  expect(sets('boat.####.exr', 'boat_depth.####.exr', 'boat_normal.####.exr', 'boat_rim.####.exr')).toEqual([
    ['boat_{pass}.####.exr', ['beauty', 'depth', 'normal', 'rim']],
  ]);
});

test('plates and approved pictures beside a render stay what they are', () => {
  expect(sets('boat_beauty.####.exr', 'boat_depth.####.exr', 'boat_plate.####.exr', 'boat_approved.####.exr')).toEqual([
    ['boat_{pass}.####.exr', ['beauty', 'depth']],
  ]);
  expect(sets('plate.####.exr', 'beauty.####.exr', 'depth.####.exr')).toEqual([
    ['{pass}.####.exr', ['beauty', 'depth']],
  ]);
  expect(sets('boat_final.####.exr', 'boat_main.####.exr')).toEqual([]);
});

test('grouping by hand: a sequence of a set by itself, and several sequences as one source', () => {
  const found = findSequences(
    ['boat_beauty.####.exr', 'boat_depth.####.exr', 'boat_rig.####.exr'].flatMap((p) => frames(p)),
  );
  expect(findMaterial(found, 'boat_depth.####.exr')!.members.map((m) => m.pass)).toEqual([null]);
  const joined = findMaterial(found, joinedPattern(['boat_beauty.####.exr', 'boat_rig.####.exr']))!;
  expect(joined.members.map((m) => [m.pass, m.sequence.pattern])).toEqual([
    ['beauty', 'boat_beauty.####.exr'],
    ['rig', 'boat_rig.####.exr'],
  ]);
  expect(findMaterial(found, 'boat_beauty.####.exr + gone.####.exr')).toBeUndefined();
});
