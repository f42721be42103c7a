import { recipeSchema } from '@june-haze/contract';
import type { Recipe } from '@june-haze/core';

const key = 'june-haze-copied-rows';

/** Keeps rows in this browser, for any shot. */
export const copyRows = (recipe: Recipe): void => localStorage.setItem(key, JSON.stringify(recipe));

/** The rows that were copied last; undefined for none. */
export function copiedRows(): Recipe | undefined {
  try {
    return recipeSchema.parse(JSON.parse(localStorage.getItem(key) ?? 'null'));
  } catch {
    return undefined;
  }
}
