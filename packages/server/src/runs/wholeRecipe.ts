import { outputSettingsSchema } from '@june-haze/contract';
import type { RunRecipe } from '../database/tables.ts';

/** A run's recipe as it was frozen, settings that are younger than it with their usual values. */
export const wholeRecipe = (recipe: RunRecipe): RunRecipe => ({
  ...recipe,
  settings: outputSettingsSchema.parse(recipe.settings),
});
