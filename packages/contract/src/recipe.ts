import { z } from 'zod';
import { passRoles, type Recipe } from '@june-haze/core';
import { ledgerDocumentSchema } from './ledger.ts';

const rows = ledgerDocumentSchema as unknown as z.ZodObject<{ entries: z.ZodType; mattes: z.ZodType }>;

/** Rows and mattes that are kept to be used elsewhere; see core's `Recipe`. */
export const recipeSchema = z.object({
  version: z.literal(1),
  entries: rows.shape.entries,
  mattes: z.record(z.string().max(200), z.looseObject({ kind: z.string().max(64) })),
  wants: z.array(z.object({ source: z.string(), pass: z.string(), role: z.enum(passRoles) })).max(1000),
}) as unknown as z.ZodType<Recipe>;

/** A recipe of the Library. */
export const keptRecipeSchema = z.object({ id: z.string(), name: z.string(), recipe: recipeSchema });
export type KeptRecipe = z.infer<typeof keptRecipeSchema>;

const recipeName = z.string().trim().min(1, 'A recipe needs a name.').max(80);
export const recipeChangeSchema = z.object({ name: recipeName });
/** Keeps a recipe; one of that name becomes this one. */
export const newRecipeSchema = z.object({
  name: recipeName,
  recipe: recipeSchema,
});
