import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { newRecipeSchema } from '@june-haze/contract';
import { recipeOf } from '@june-haze/core';
import type { Connection } from '../src/database/connect.ts';
import { keepRecipe, listRecipes, removeRecipe, renameRecipe } from '../src/library/recipes.ts';
import { rebuildSource } from '../src/shots/ledger.ts';
import { landingSource } from './landing.ts';
import { openTestDatabase } from './testDatabase.ts';

let connection: Connection;
beforeAll(async () => {
  connection = await openTestDatabase();
});
afterAll(() => connection.close());

test('recipes are kept as they were, one of each name, and removed', async () => {
  const { db } = connection;
  const document = rebuildSource(landingSource(), 'components');
  const recipe = recipeOf(document, document.entries, [landingSource()]);
  await keepRecipe(db, 'Rim taken out', recipe);
  await keepRecipe(db, 'Far things', { ...recipe, entries: [] });
  await keepRecipe(db, 'Far things', recipe);
  const kept = await listRecipes(db);
  expect(kept.map((r) => r.name)).toEqual(['Far things', 'Rim taken out']);
  // As JSON has it: what was left out stays out.
  expect(kept[0]!.recipe).toEqual(JSON.parse(JSON.stringify(recipe)));
  await expect(renameRecipe(db, kept[0]!.id, 'Rim taken out')).rejects.toThrow('named Rim taken out already');
  await expect(renameRecipe(db, 'nothing', 'New')).rejects.toThrow('no longer in the Library');
  await renameRecipe(db, kept[0]!.id, 'Far ground');
  expect((await listRecipes(db)).map((r) => r.name)).toEqual(['Far ground', 'Rim taken out']);
  await removeRecipe(db, kept[0]!.id);
  expect((await listRecipes(db)).map((r) => r.name)).toEqual(['Rim taken out']);
});

test('what is no recipe is refused with a sentence', () => {
  const recipe = { version: 1, entries: [], mattes: {}, wants: [] };
  expect(newRecipeSchema.safeParse({ name: ' ', recipe }).error?.issues[0]?.message).toBe('A recipe needs a name.');
  for (const wrong of [
    { ...recipe, version: 3 },
    { ...recipe, entries: [{ kind: 'pass' }] },
    { ...recipe, wants: [1] },
  ])
    expect(newRecipeSchema.safeParse({ name: 'x', recipe: wrong }).success).toBe(false);
});
