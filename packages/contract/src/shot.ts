import { z } from 'zod';
import { passRoles } from '@june-haze/core';
import { colourKeySchema } from './library.ts';
import { ledgerStateSchema } from './ledger.ts';
import { outputSchema, runSchema } from './output.ts';

/** What only the eye gets. Never written unless an output says so. */
export const viewingSchema = z.object({
  display: z.string(),
  view: z.string(),
  exposure: z.number().min(-20).max(20),
  /** Display codes to the power of 1 / gamma. */
  gamma: z.number().min(0.1).max(10).default(1),
  /** Looks of the config in place of the view's own ("+a, -b"); "" for none, null for the view's own. */
  look: z.string().max(500).nullable().default(null),
  /** A LUT or CDL of the Library, on numbers of the space that it expects. */
  lookFile: z.object({ id: z.string(), space: z.string(), name: z.string() }).nullable().default(null),
});
export type Viewing = z.infer<typeof viewingSchema>;

export const stages = ['intake', 'match', 'build', 'output'] as const;
export type Stage = (typeof stages)[number];

export const proofStates = ['proved', 'unproved', 'differs', 'fails'] as const;
export type ProofState = (typeof proofStates)[number];

/** A stage's proof, rolled up to a shape and a short figure. */
export const stageProofSchema = z.object({ state: z.enum(proofStates), figure: z.string() });
export type StageProof = z.infer<typeof stageProofSchema>;
export const stageProofsSchema = z.object({
  intake: stageProofSchema,
  match: stageProofSchema,
  build: stageProofSchema,
  output: stageProofSchema,
});

export const passSchema = z.object({
  name: z.string(),
  role: z.enum(passRoles),
  part: z.number().int(),
  channels: z.array(z.object({ component: z.string(), name: z.string(), type: z.enum(['uint', 'half', 'float']) })),
});

export const evidenceSchema = z.object({
  from: z.string(),
  says: z.string(),
  space: z.string().optional(),
  agrees: z.boolean().optional(),
});
export type EvidenceItem = z.infer<typeof evidenceSchema>;

const frameNumbers = z.array(z.number().int());

export const sourceSchema = z.object({
  id: z.string(),
  name: z.string(),
  folder: z.string(),
  pattern: z.string(),
  firstFrame: z.number().int(),
  lastFrame: z.number().int(),
  still: z.boolean(),
  missing: frameNumbers,
  /** Frames that cannot be read whole, each with its sentence. */
  damaged: z.array(z.object({ frame: z.number().int(), message: z.string() })),
  width: z.number().int(),
  height: z.number().int(),
  rate: z.number().nullable(),
  compression: z.string(),
  sampleType: z.string(),
  bytesPerFrame: z.number(),
  passes: z.array(passSchema),
  attributes: z.record(z.string(), z.string()),
  /** How each part is stored, in words. */
  layout: z.array(z.string()),
  declaredSpace: z.string().nullable(),
  confirmed: z.boolean(),
  evidence: z.array(evidenceSchema),
});
export type Source = z.infer<typeof sourceSchema>;

export const balanceSchema = z.object({
  frame: z.number().int(),
  revision: z.number().int(),
  largest: z.number(),
  at: z.tuple([z.number(), z.number()]),
  mean: z.number(),
  share: z.number(),
  overShare: z.number(),
  balanced: z.boolean(),
});
export type BalanceProof = z.infer<typeof balanceSchema>;

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
  strip: z.array(z.object({ sourceId: z.string(), frame: z.number().int(), pass: z.string() })),
});
export type ShotSummary = z.infer<typeof shotSummarySchema>;

export const shotSchema = shotSummarySchema.extend({
  workingSpace: z.string(),
  viewing: viewingSchema,
  /** What decides its colours; `config` null is the built-in one. */
  colour: colourKeySchema,
  sources: z.array(sourceSchema),
  ledger: ledgerStateSchema,
  balance: balanceSchema.nullable(),
  outputs: z.array(outputSchema),
  runs: z.array(runSchema),
});
export type Shot = z.infer<typeof shotSchema>;

export const newShotSchema = z.object({ name: z.string().trim().min(1, 'A shot needs a name.').max(80) });
export const shotChangeSchema = z
  .object({
    name: z.string().trim().min(1).max(80),
    workingSpace: z.string(),
    viewing: viewingSchema,
    /** A config of the Library; null for the built-in one. */
    config: z.string().nullable(),
    rate: z.number().positive().max(1000),
  })
  .partial();
export type ShotChange = z.infer<typeof shotChangeSchema>;

export const newSourceSchema = z.object({ folder: z.string(), pattern: z.string() });
export const sourceChangeSchema = z.object({ declaredSpace: z.string(), confirmed: z.boolean() }).partial();
export type SourceChange = z.infer<typeof sourceChangeSchema>;
export const roleChangeSchema = z.object({ pass: z.string(), role: z.enum(passRoles) });
export const balanceRequestSchema = z.object({ frame: z.number().int() });
