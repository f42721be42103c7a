import { Router } from 'express';
import { newRecipeSchema, recipeChangeSchema } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { keepRecipe, listRecipes, removeRecipe, renameRecipe } from '../library/recipes.ts';

/** Rows and mattes that are kept to be used in other shots. */
export function recipeRoutes({ db, events }: Context): Router {
  const router = Router();

  router.get('/recipes', async (_request, response) => {
    response.json(await listRecipes(db));
  });

  router.post('/recipes', async (request, response) => {
    const { name, recipe } = newRecipeSchema.parse(request.body);
    await keepRecipe(db, name, recipe);
    events.send({ kind: 'recipes' });
    response.status(201).json(await listRecipes(db));
  });

  router.patch('/recipes/:id', async (request, response) => {
    const { name } = recipeChangeSchema.parse(request.body);
    await renameRecipe(db, request.params.id, name);
    events.send({ kind: 'recipes' });
    response.json(await listRecipes(db));
  });

  router.delete('/recipes/:id', async (request, response) => {
    await removeRecipe(db, request.params.id);
    events.send({ kind: 'recipes' });
    response.json(await listRecipes(db));
  });

  return router;
}
