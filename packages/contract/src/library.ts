import { lutEncodings, type ColourKey } from '@june-haze/core';
import { z } from 'zod';

/** Values of a config's variables by name. */
export const variablesSchema = z.record(z.string().regex(/^[A-Za-z_]\w*$/), z.string().max(500));

export const colourKeySchema: z.ZodType<ColourKey> = z.object({
  config: z.string().nullable(),
  variables: variablesSchema,
  looks: z.array(z.string()),
  conversions: z.array(z.object({ id: z.string(), name: z.string(), to: z.string() })),
  views: z
    .array(z.object({ id: z.string(), name: z.string(), from: z.string(), encoding: z.enum(lutEncodings) }))
    .optional(),
});

/** What a LUT is for: a look on numbers of a space, a conversion from numbers of its own into a space, or a view that makes codes by itself. */
export const lutUseSchema = z.discriminatedUnion('as', [
  z.object({ as: z.literal('look'), space: z.string() }),
  z.object({ as: z.literal('conversion'), to: z.string() }),
  z.object({ as: z.literal('view'), from: z.string(), encoding: z.enum(lutEncodings) }),
]);
export type LutUse = z.infer<typeof lutUseSchema>;

export const libraryFactsSchema = z.object({
  /** File names in the bundle. */
  files: z.array(z.string()),
  bytes: z.number(),
  /** One line: what it is. */
  about: z.string(),
  /** What cannot be used of it, each with its place. */
  problems: z.array(z.string()),
});
export type LibraryFacts = z.infer<typeof libraryFactsSchema>;

export const libraryItemSchema = z.object({
  /** The hash of its content. */
  id: z.string(),
  kind: z.enum(['config', 'lut', 'cdl']),
  name: z.string(),
  /** 1 for the first content under this name, and so on. */
  version: z.number().int(),
  createdAt: z.string(),
  facts: libraryFactsSchema,
  /** LUTs and CDLs only. */
  use: lutUseSchema.nullable(),
  usedBy: z.array(z.object({ shotId: z.string(), name: z.string(), how: z.string() })),
});
export type LibraryItem = z.infer<typeof libraryItemSchema>;

export const libraryChangeSchema = z.object({ name: z.string().trim().min(1).max(120), use: lutUseSchema }).partial();
export type LibraryChange = z.infer<typeof libraryChangeSchema>;

/** A config that lies in a media folder; `kept` is its id where the Library has it. */
export const foundConfigSchema = z.object({ place: z.string(), kept: z.string().nullable() });
export type FoundConfig = z.infer<typeof foundConfigSchema>;
export const foundConfigRequestSchema = z.object({
  place: z
    .string()
    .max(4000)
    .regex(/\.ocio$/i, 'Only a config, a file that ends in .ocio, is brought in from here.'),
});
