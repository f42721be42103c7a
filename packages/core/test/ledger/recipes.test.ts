import { describe, expect, test } from '@jest/globals';
import { walkEntries, type LedgerDocument } from '../../src/ledger/document.ts';
import { matchRecipe, recipeOf, withRecipe } from '../../src/ledger/recipes.ts';
import { compilePlan } from '../../src/ledger/compile.ts';
import { entry, finish, pass, source } from '../operations/surroundings.ts';

const exposure = { kind: 'exposure', enabled: true, stops: -1, matte: 'far' };
const document: LedgerDocument = {
  version: 2,
  entries: [
    entry('beauty'),
    entry('light', { operation: 'minus' }),
    entry('light', { adjustments: [exposure], matte: 'near' }),
    finish('haze', { source: 's', pass: 'depth', density: 0.1 }),
  ],
  mattes: {
    far: { kind: 'depth', source: 's', pass: 'depth', far: 30 },
    near: { kind: 'invert', of: 'far' },
    things: { kind: 'ids', source: 's', pass: 'crypto', names: ['kettle'] },
    unused: { kind: 'brightness' },
  } as never,
};
const render = source();
let made = 0;
const newId = () => `new ${made++}`;
const empty: LedgerDocument = { version: 2, entries: [] };
const recipe = recipeOf(document, document.entries, [render], ['things']);

test('a recipe holds its rows, the mattes that they use and those of these, and which passes it wants', () => {
  expect(Object.keys(recipe.mattes).sort()).toEqual(['far', 'near', 'things']);
  expect(JSON.stringify(recipe)).not.toContain('"s"');
  expect(recipe.wants.map((w) => [w.source, w.pass, w.role])).toEqual([
    ['1', 'beauty', 'beauty'],
    ['1', 'light', 'light-group'],
    ['1', 'depth', 'depth'],
    ['1', 'crypto', 'id-matte'],
  ]);
});

describe('in another shot', () => {
  const other = source({
    id: 'quay',
    name: 'quay',
    passes: [
      pass('rgba', 'beauty', 'RGBA'),
      pass('light', 'light-group', 'RGB'),
      pass('Z', 'depth', 'Z'),
      pass('objects00', 'id-matte', 'RGBA'),
      pass('objects01', 'id-matte', 'RGBA'),
    ],
  });
  const still = source({ id: 'plate', name: 'plate', passes: [pass('picture', 'beauty', 'RGB')] });
  const match = matchRecipe(recipe, [still, other]);

  test('passes are found by name, else by what they are for, in the source that has most of them', () => {
    expect(match.unmatched).toEqual([]);
    expect(match.found.map((f) => [f.pass, f.sourceId, f.as, f.by])).toEqual([
      ['beauty', 'quay', 'rgba', 'role'],
      ['light', 'quay', 'light', 'name'],
      ['depth', 'quay', 'Z', 'role'],
      ['crypto', 'quay', 'objects', 'role'],
    ]);
  });
  test('its rows and mattes stand there with ids of their own, and it can be evaluated', () => {
    const applied = withRecipe(empty, recipe, match, newId);
    expect(applied.mattes).toMatchObject({
      far: { source: 'quay', pass: 'Z', far: 30 },
      near: { of: 'far' },
      things: { source: 'quay', pass: 'objects', names: ['kettle'] },
    });
    expect(new Set([...walkEntries(applied.entries)].map((e) => e.id)).size).toBe(4);
    const plan = compilePlan(applied, [other], 'ACEScg');
    expect(plan.faults).toEqual([]);
    expect(plan.entryIds).toHaveLength(4);
  });
  test('twice in one ledger, its mattes get other names, and its rows use those', () => {
    const twice = withRecipe(withRecipe(empty, recipe, match, newId), recipe, match, newId);
    expect(Object.keys(twice.mattes!)).toEqual(expect.arrayContaining(['far', 'near', 'far 2', 'near 2']));
    expect(twice.entries[6]).toMatchObject({ matte: 'near 2', adjustments: [{ matte: 'far 2' }] });
    expect(twice.mattes!['near 2']).toMatchObject({ of: 'far 2' });
  });
});

test('what no pass stands in for is listed and left out: another light is not this one', () => {
  const other = source({ id: 'q', passes: [pass('beauty', 'beauty', 'RGB'), pass('lamp', 'light-group', 'RGB')] });
  const match = matchRecipe(recipe, [other]);
  expect(match.unmatched.map((u) => u.pass)).toEqual(['light', 'depth', 'crypto']);
  const { entries } = withRecipe(empty, recipe, match, newId);
  expect(entries.map((e) => e.name)).toEqual(['beauty']);
});

test('a haze that lies low wants its position too, and finds it by what it is for; one that is as thick everywhere does not', () => {
  const at = source({ passes: [pass('depth', 'depth', 'Z'), pass('P', 'position', 'XYZ')] });
  const there = source({ id: 'q', passes: [pass('Z', 'depth', 'Z'), pass('place', 'position', 'XYZ')] });
  const kept = (thickness: number) => {
    const row = finish('haze', { source: 's', pass: 'depth', position: 'P', thickness });
    return recipeOf({ version: 2, entries: [row] }, [row], [at]);
  };
  expect(kept(2).wants.map((w) => [w.pass, w.role])).toEqual([
    ['depth', 'depth'],
    ['P', 'position'],
  ]);
  const { entries } = withRecipe(empty, kept(2), matchRecipe(kept(2), [there]), newId);
  expect(entries).toMatchObject([{ source: 'q', pass: 'Z', position: 'place' }]);
  expect(kept(0).wants.map((w) => w.pass)).toEqual(['depth']);
  // Without a position it cannot lie low: it is left out, and what it wants is listed.
  const without = matchRecipe(kept(2), [source({ id: 'r', passes: [pass('Z', 'depth', 'Z')] })]);
  expect(without.unmatched.map((u) => u.pass)).toEqual(['P']);
  expect(withRecipe(empty, kept(2), without, newId).entries).toEqual([]);
});
