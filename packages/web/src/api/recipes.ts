import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { keptRecipeSchema, type KeptRecipe } from '@june-haze/contract';
import type { Recipe } from '@june-haze/core';
import { z } from 'zod';
import { request } from './request.ts';

export const recipesKey = ['recipes'] as const;
const all = z.array(keptRecipeSchema);

export const useRecipes = () => useQuery({ queryKey: recipesKey, queryFn: () => request(all, '/recipes') });

/** Keeps a recipe under a name, names or removes one; each answer is all that there are then. */
export function useRecipeChanges() {
  const queries = useQueryClient();
  const onSuccess = (now: KeptRecipe[]) => queries.setQueryData(recipesKey, now);
  const keep = useMutation({
    mutationFn: (body: { name: string; recipe: Recipe }) => request(all, '/recipes', 'POST', body),
    onSuccess,
  });
  const rename = useMutation({
    mutationFn: ({ id, name }: { id: string; name: string }) => request(all, `/recipes/${id}`, 'PATCH', { name }),
    onSuccess,
  });
  const remove = useMutation({ mutationFn: (id: string) => request(all, `/recipes/${id}`, 'DELETE'), onSuccess });
  return { keep, rename, remove };
}
