import { alphaMistakes, matchVerdicts, savingMistakes, writtenKinds } from '@june-haze/core';
import { z } from 'zod';
import { stageProofSchema } from './stage.ts';
import { viewingSchema } from './viewing.ts';

const figuresSchema = z.object({ mean: z.number(), p95: z.number(), p99: z.number(), max: z.number() });
const pixelSchema = z.tuple([z.number(), z.number()]).readonly();
const registrationSchema = z.object({
  scale: z.number(),
  shift: pixelSchema,
  averaging: z.enum(['linear', 'display']).nullable(),
});
const leftOverSchema = z.object({
  bands: z
    .array(z.object({ mean: z.tuple([z.number(), z.number(), z.number()]).readonly(), share: z.number() }))
    .readonly(),
  fields: z.array(z.number()).readonly(),
  /** Proofs that were kept before this was counted have none. */
  saturations: z
    .array(z.object({ mean: z.number(), share: z.number() }))
    .readonly()
    .default([]),
  patterned: z.boolean(),
  local: z.boolean(),
  words: z.string(),
});

/** How far two pictures lie apart. */
const differenceFields = {
  maxCode: z.number(),
  meanCode: z.number(),
  equal: z.number(),
  at: pixelSchema,
  deltaE: figuresSchema,
};

/** What made a picture, as the finder says it. */
const rowFields = {
  space: z.string(),
  config: z.string(),
  configId: z.string().nullable(),
  display: z.string(),
  view: z.string(),
  look: z.string().nullable(),
  lookFile: viewingSchema.shape.lookFile,
  exposure: z.number(),
  black: z.number(),
  white: z.number(),
  gamma: z.number(),
};
const mistakeSchema = z.enum([...savingMistakes, ...alphaMistakes, 'wrong-primaries']).nullable();
export const matchRowSchema = z.object({
  ...rowFields,
  mistake: mistakeSchema,
  registration: registrationSchema,
  confidence: z.number(),
  reason: z.string(),
  ...differenceFields,
});

/** The finder's answer. */
export const matchResultSchema = z.object({
  verdict: z.enum(matchVerdicts),
  explained: z.boolean(),
  reason: z.string(),
  best: matchRowSchema.optional(),
  ranking: z.array(matchRowSchema).readonly(),
  ties: z.array(matchRowSchema).readonly(),
  leftOver: leftOverSchema.optional(),
  said: z.string().nullable(),
  fitness: z.object({ fit: z.boolean(), doubts: z.array(z.string()).readonly() }),
  registration: registrationSchema,
  left: z.array(z.object({ what: z.string(), why: z.string() })).readonly(),
  tried: z.number(),
});

/** How far a search has come, and the best rows so far: their error is the mean difference in codes, of samples or some rows. */
export const matchProgressSchema = z.object({
  tried: z.number(),
  count: z.number(),
  rows: z.array(z.object({ ...rowFields, mistake: mistakeSchema, error: z.number() })).readonly(),
});
export type MatchProgressTold = z.infer<typeof matchProgressSchema>;

/** A line of a search's answer: how far it is, its result, or a sentence for why there is none. */
export const matchLineSchema = z.union([
  z.object({ progress: matchProgressSchema }),
  z.object({ result: matchResultSchema }),
  z.object({ error: z.string() }),
]);
export type MatchLine = z.infer<typeof matchLineSchema>;

const choiceFields = {
  source: z.string().nullable(),
  pass: z.string().nullable(),
  reference: z.string().nullable(),
  frame: z.number().int().nullable(),
  /** What a person read off the renderer, in its own words. */
  note: z.string().max(4000),
};
/** What is compared in a shot, where a person chose it. */
export const matchChoiceSchema = z.object({
  source: choiceFields.source.default(null),
  pass: choiceFields.pass.default(null),
  reference: choiceFields.reference.default(null),
  frame: choiceFields.frame.default(null),
  note: choiceFields.note.default(''),
});
export type MatchChoice = z.infer<typeof matchChoiceSchema>;
/** A change of some of its fields; the others stay as they are. */
export const matchChoiceChangeSchema = z.object(choiceFields).partial();

/** The reference proof: the frame through the present viewing, against the picture. */
export const referenceProofSchema = z.object({
  verdict: z.enum(matchVerdicts),
  explained: z.boolean(),
  reason: z.string(),
  ...differenceFields,
  registration: registrationSchema,
  leftOver: leftOverSchema,
});
export type ReferenceProof = z.infer<typeof referenceProofSchema>;

/** What was set before a row was applied: it can be set again. */
export const matchBeforeSchema = z.object({
  config: z.string().nullable(),
  variables: z.record(z.string(), z.string()),
  viewing: viewingSchema,
  source: z.string(),
  declaredSpace: z.string().nullable(),
  confirmed: z.boolean(),
});
export type MatchBefore = z.infer<typeof matchBeforeSchema>;

/** Match in a shot: what is compared, whether it may be, and the proof that stands. */
export const matchStateSchema = z.object({
  source: z.string().nullable(),
  pass: z.string().nullable(),
  reference: z.string().nullable(),
  frame: z.number().int(),
  note: z.string(),
  /** Null when none was made, or what it was made from is another now. */
  proof: referenceProofSchema.nullable(),
  /** A row was applied and can be taken back. */
  canUndo: z.boolean(),
});
export type MatchState = z.infer<typeof matchStateSchema>;

/** A row to be set as the shot's: the space of its numbers, and its viewing. */
export const applyRowSchema = z.object({
  space: rowFields.space,
  configId: rowFields.configId,
  display: rowFields.display,
  view: rowFields.view,
  look: rowFields.look,
  exposure: rowFields.exposure,
  /** As they are, where a row says nothing of them. */
  black: rowFields.black.default(0),
  white: rowFields.white.default(1),
  gamma: rowFields.gamma,
  /** A LUT of the Library as the look: one that was found, or a derived view. */
  lookFile: rowFields.lookFile,
});
export type ApplyRow = z.infer<typeof applyRowSchema>;
/** What is asked: levels may be left out. */
export type AskedRow = z.input<typeof applyRowSchema>;

/** A viewing to be written as a LUT file. */
export const viewFileRequestSchema = z.object({
  /** Of the numbers that the file takes. */
  space: z.string(),
  size: z.number().int().min(2).max(129),
  kind: z.enum(writtenKinds),
});
export type ViewFileRequest = z.infer<typeof viewFileRequestSchema>;
export const viewFileSchema = z.object({
  name: z.string(),
  text: z.string(),
  error: z.object({ mean: z.number(), p99: z.number(), max: z.number() }),
  holds: pixelSchema,
});
export type ViewFile = z.infer<typeof viewFileSchema>;

/** A ledger's colour as a LUT file, as it is at a frame. */
export const ledgerFileRequestSchema = viewFileRequestSchema.extend({ frame: z.number().int() });
export type LedgerFileRequest = z.infer<typeof ledgerFileRequestSchema>;

/** A view derived from the reference, kept in the Library as a show LUT. */
export const derivedAnswerSchema = z.object({
  itemId: z.string(),
  name: z.string(),
  unseen: figuresSchema,
  curvesAlone: figuresSchema,
  coverage: z.number(),
  undoing: z.object({ stops: z.number(), cutOff: z.number() }),
  used: z.array(z.string()),
  left: z.array(z.string()),
});
export type DerivedAnswer = z.infer<typeof derivedAnswerSchema>;

/** A region of the frame that is compared, in pixels of the source. */
export const patchRequestSchema = z.object({
  region: z.object({
    x: z.number().int(),
    y: z.number().int(),
    width: z.number().int().positive(),
    height: z.number().int().positive(),
  }),
});
export const patchMeanSchema = z.object({
  mean: z.tuple([z.number(), z.number(), z.number()]).readonly(),
  count: z.number(),
  rejected: z.number(),
  noise: z.number(),
});

/** Shots that shall be seen as this one is. */
export const carryRequestSchema = z.object({ to: z.array(z.string()).min(1).max(500) });
export const carriedShotSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** Null where it could not take what was carried. */
  proof: stageProofSchema.nullable(),
  problem: z.string().nullable(),
});
export type CarriedShot = z.infer<typeof carriedShotSchema>;

const lightSchema = z.tuple([z.number(), z.number(), z.number()]).readonly();
const n = z.number();
const matrixSchema = z.tuple([n, n, n, n, n, n, n, n, n]).readonly();
/** A chart in the frame that is compared. */
export const chartRequestSchema = z.object({
  /** Top left, top right, bottom right, bottom left of the field of patches, in pixels of the source. */
  corners: z.tuple([pixelSchema, pixelSchema, pixelSchema, pixelSchema]),
  /** The pass whose chart is the target; null for the published table. */
  targetPass: z.string().nullable(),
  /** Patches that do not count. */
  without: z.array(z.number().int().min(0).max(23)),
  /** Leaves brightness alone. */
  keepsExposure: z.boolean(),
  /** A constant light may be taken off: haze, flare. */
  withOffset: z.boolean(),
});
export type ChartRequest = z.infer<typeof chartRequestSchema>;
export const chartAnswerSchema = z.object({
  matrix: matrixSchema,
  offset: lightSchema,
  before: z.array(z.number()).readonly(),
  after: z.array(z.number()).readonly(),
  averageBefore: z.number(),
  averageAfter: z.number(),
  averageWithOffset: z.number(),
  patches: z.array(z.object({ mean: lightSchema, noise: z.number(), clipped: z.number(), at: pixelSchema })).readonly(),
  targets: z.array(lightSchema).readonly(),
});
export type ChartAnswer = z.infer<typeof chartAnswerSchema>;

/** A matrix in the working space as a file for other programs. */
export const matrixFileRequestSchema = viewFileRequestSchema.extend({ matrix: matrixSchema, offset: lightSchema });
export type MatrixFileRequest = z.infer<typeof matrixFileRequestSchema>;
