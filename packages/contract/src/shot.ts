import { z } from 'zod';
import { balanceSchema } from './balance.ts';
import { colourKeySchema, variablesSchema } from './library.ts';
import { ledgerStateSchema } from './ledger.ts';
import { outputSchema, runSchema } from './output.ts';
import { matchChoiceChangeSchema, matchStateSchema } from './match.ts';
import { sourceSchema } from './source.ts';
import { stageProofsSchema } from './stage.ts';
import { viewingChangeSchema, viewingSchema } from './viewing.ts';

export const shotSummarySchema = z.object({
  id: z.string(),
  name: z.string(),
  firstFrame: z.number().int(),
  lastFrame: z.number().int(),
  rate: z.number(),
  width: z.number().int(),
  height: z.number().int(),
  updatedAt: z.string(),
  proofs: stageProofsSchema,
  /** Three frames to show, from the first source that has a picture. */
  strip: z.array(z.object({ sourceId: z.string(), stamp: z.string(), frame: z.number().int(), pass: z.string() })),
});
export type ShotSummary = z.infer<typeof shotSummarySchema>;

/** A place in a shot's pictures, of whatever size: a point as shares of their sides, and a scale as it is in a picture of a width. */
export const placeSchema = z.object({
  name: z.string().trim().min(1).max(60),
  x: z.number(),
  y: z.number(),
  scale: z.number().positive(),
  width: z.number().positive(),
});
export type RememberedPlace = z.infer<typeof placeSchema>;
const placesSchema = z.array(placeSchema).max(24);

export const shotSchema = shotSummarySchema.extend({
  /** Rises with every answer about a shot: of two, that of the higher number is the newer. */
  snapshot: z.number().int(),
  workingSpace: z.string(),
  viewing: viewingSchema,
  /** What decides its colours; `config` null is the built-in one. */
  colour: colourKeySchema,
  sources: z.array(sourceSchema),
  ledger: ledgerStateSchema,
  match: matchStateSchema,
  places: placesSchema.default([]),
  /** By frame, each for the revision in force and for files that are what they were. */
  balances: z.array(balanceSchema),
  outputs: z.array(outputSchema),
  runs: z.array(runSchema),
  /** What a person should be told of the change that this answers; not kept. */
  notices: z.array(z.string()).default([]),
});
export type Shot = z.infer<typeof shotSchema>;

export const newShotSchema = z.object({
  name: z.string().trim().min(1, 'A shot needs a name.').max(80),
  /** The set-up that it starts from; null for the built-in colours. */
  setUp: z.uuid().nullable().default(null),
});
export const shotChangeSchema = z
  .object({
    name: z.string().trim().min(1).max(80),
    workingSpace: z.string(),
    /** Field by field: two pages that change two of them do not undo each other. */
    viewing: viewingChangeSchema,
    /** A config of the Library; null for the built-in one. */
    config: z.string().nullable(),
    /** Values of the config's variables, above its own defaults. */
    variables: variablesSchema,
    rate: z.number().positive().max(1000),
    places: placesSchema,
    /** Field by field. */
    match: matchChoiceChangeSchema,
  })
  .partial();
export type ShotChange = z.infer<typeof shotChangeSchema>;
