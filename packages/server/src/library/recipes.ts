import { recipeSchema, type KeptRecipe } from '@june-haze/contract';
import type { Recipe } from '@june-haze/core';
import type { Db } from '../database/connect.ts';

/** All recipes, by name. */
export async function listRecipes(db: Db): Promise<KeptRecipe[]> {
  const rows = await db.selectFrom('recipes').selectAll().orderBy('name').execute();
  return rows.map(({ id, name, recipe }) => ({ id, name, recipe: recipeSchema.parse(recipe) }));
}

/** Keeps rows and mattes under a name; a recipe of that name becomes this. */
export async function keepRecipe(db: Db, name: string, recipe: Recipe): Promise<void> {
  const kept = { recipe: JSON.stringify(recipe) };
  await db
    .insertInto('recipes')
    .values({ name, ...kept })
    .onConflict((c) => c.column('name').doUpdateSet(kept))
    .execute();
}

export async function removeRecipe(db: Db, id: string): Promise<void> {
  await db.deleteFrom('recipes').where('id', '=', id).execute();
}
