import { recipeSchema, type KeptRecipe } from '@june-haze/contract';
import type { Recipe } from '@june-haze/core';
import type { Db } from '../database/connect.ts';
import { isId, RequestError } from '../errors.ts';

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

/** Gives a recipe another name. A 409 RequestError for one that another recipe has, a 404 for a recipe that is gone. */
export async function renameRecipe(db: Db, id: string, name: string): Promise<void> {
  const taken = await db.selectFrom('recipes').select('id').where('name', '=', name).executeTakeFirst();
  if (taken && taken.id !== id) throw new RequestError(409, `There is a recipe named ${name} already.`);
  const found = isId(id) && (await db.updateTable('recipes').set({ name }).where('id', '=', id).executeTakeFirst());
  if (!found || found.numUpdatedRows === 0n) throw new RequestError(404, 'This recipe is no longer in the Library.');
}

export async function removeRecipe(db: Db, id: string): Promise<void> {
  await db.deleteFrom('recipes').where('id', '=', id).execute();
}
