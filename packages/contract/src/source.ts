import { z } from 'zod';
import { alphaKinds, beyondKinds, fileKinds, passRoles, problemKinds, type PixelTraits } from '@june-haze/core';

const frameNumbers = z.array(z.number().int());

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
  against: z.string().optional(),
  about: z.enum(['space', 'primaries', 'linear', 'encoded', 'log']).optional(),
  weight: z.number().optional(),
  /** With the declared space; undefined when it says nothing about it. */
  agrees: z.boolean().optional(),
});
export type EvidenceItem = z.infer<typeof evidenceSchema>;

export const findingSchema = z.object({
  kind: z.enum(problemKinds),
  source: z.string().nullable(),
  pass: z.string().nullable(),
  file: z.string().nullable(),
  frames: frameNumbers,
  sampled: z.boolean(),
  text: z.string(),
});
export type Finding = z.infer<typeof findingSchema>;

const box = z.object({ xMin: z.number(), yMin: z.number(), xMax: z.number(), yMax: z.number() });
const alphaKind = z.enum(alphaKinds);
const codeRange = z.enum(['full', 'legal']);

/** What was found in a source's files, as they lie. Stored; what came later has a default for what was stored before. */
export const sourceFactsSchema = z.object({
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
  layout: z.array(z.string()).default([]),
  /** Of a source with one file per pass: its files in order, each with its pass and how many parts it has; `still` for one frame only. */
  files: z
    .array(
      z.object({
        pattern: z.string(),
        pass: z.string().default(''),
        parts: z.number().int(),
        still: z.boolean().default(false),
      }),
    )
    .optional(),
  evidence: z.array(evidenceSchema),
  confidence: z.number().default(0),
  fileKind: z.enum(fileKinds).default('exr'),
  step: z.number().int().default(1),
  view: z.enum(['left', 'right']).nullable().default(null),
  version: z.number().int().nullable().default(null),
  /** Its pattern with the version left open. */
  versions: z.string().default(''),
  pixelAspect: z.number().default(1),
  rateFrom: z.string().nullable().default(null),
  timecode: z.string().nullable().default(null),
  alpha: alphaKind.default('none'),
  range: codeRange.nullable().default(null),
  notes: z.array(z.string()).default([]),
  dataWindow: box.nullable().default(null),
  displayWindow: box.nullable().default(null),
  /** Oldest and newest file, milliseconds since 1970. */
  firstTime: z.number().nullable().default(null),
  lastTime: z.number().nullable().default(null),
  /** Frames that were being written when they were looked at. */
  growing: frameNumbers.default([]),
  traits: z.custom<PixelTraits>().nullable().default(null),
  /** Frames whose pixels were looked at. */
  measuredFrames: frameNumbers.default([]),
  measuredFull: z.boolean().default(false),
  prints: z.array(z.object({ frame: z.number().int(), values: z.array(z.number()) })).default([]),
  findings: z.array(findingSchema).default([]),
});
export type SourceFacts = z.infer<typeof sourceFactsSchema>;

/** What is done on writing where a frame is missing or damaged. */
export const faultPolicies = ['stop', 'hold', 'black'] as const;

/** Scaled about its centre, then moved, in pixels of the shot's picture, right and down. */
export const placementSchema = z.strictObject({
  scale: z.number().positive().max(1000).default(1),
  shift: z.tuple([z.number().min(-1e5).max(1e5), z.number().min(-1e5).max(1e5)]).default([0, 0]),
});

/** Whole frames of a source a frame of the shot. */
export const speedSchema = z
  .number()
  .min(-100)
  .max(100)
  .refine((s) => Math.abs(s) >= 0.001, 'A speed is at least 0.001, forwards or backwards.');

const readingFields = {
  rate: z.number().positive().max(1000).nullable(),
  /** The number that the first frame has in the shot. */
  firstFrame: z.number().int().min(-1_000_000).max(10_000_000).nullable(),
  pixelAspect: z.number().positive().max(100).nullable(),
  alpha: alphaKind.nullable(),
  range: codeRange.nullable(),
  /** A plate is converted into the working space; a reference is shown untouched and never summed. */
  use: z.enum(['plate', 'reference']),
  onFault: z.enum(faultPolicies),
  /** Its own frames a frame of the shot; below 0 it runs backwards. */
  speed: speedSchema,
  beyond: z.enum(beyondKinds),
  /** How it lies in the shot's picture; null: centred as it is. */
  placement: placementSchema.nullable(),
};
/** How a source is read otherwise than its files say. Nothing here touches files. */
export const sourceReadingSchema = z.object({
  rate: readingFields.rate.default(null),
  firstFrame: readingFields.firstFrame.default(null),
  pixelAspect: readingFields.pixelAspect.default(null),
  alpha: readingFields.alpha.default(null),
  range: readingFields.range.default(null),
  use: readingFields.use.default('plate'),
  onFault: readingFields.onFault.default('stop'),
  speed: readingFields.speed.default(1),
  beyond: readingFields.beyond.default('stop'),
  placement: readingFields.placement.default(null),
});
export type SourceReading = z.infer<typeof sourceReadingSchema>;

/** A problem as it is listed: by a key that lasts, silenced with a reason or not. */
export const listedProblemSchema = findingSchema.extend({
  key: z.string(),
  silenced: z.string().nullable(),
});
export type ListedProblem = z.infer<typeof listedProblemSchema>;

/** How far the look at a source's files is. */
export const checkSchema = z.object({
  stage: z.enum(['waiting', 'headers', 'pixels', 'done', 'failed']),
  done: z.number().int(),
  count: z.number().int(),
  message: z.string().nullable(),
});
export type Check = z.infer<typeof checkSchema>;

/** A source as it is used in the shot: numbers as they are read; `stored` has those of the files where they differ. */
export const sourceSchema = sourceFactsSchema.omit({ findings: true, prints: true }).extend({
  id: z.string(),
  name: z.string(),
  folder: z.string(),
  pattern: z.string(),
  declaredSpace: z.string().nullable(),
  confirmed: z.boolean(),
  /** The saved rule that confirmed it, in words; null when a person did or nobody. */
  confirmedBy: z.string().nullable(),
  reading: sourceReadingSchema,
  /** Shot frame less the number in the file's name. */
  offset: z.number().int(),
  stored: sourceFactsSchema.pick({ rate: true, firstFrame: true, pixelAspect: true, alpha: true, range: true }),
  check: checkSchema,
  /** Another whenever its pixels may be: its files, where they lie, or how it is read. Whatever keeps pixels keeps them by this. */
  stamp: z.string(),
  problems: z.array(listedProblemSchema),
});
export type Source = z.infer<typeof sourceSchema>;

export const newSourcesSchema = z.object({ folder: z.string(), patterns: z.array(z.string()).min(1).max(500) });
export const sourceChangeSchema = z
  .object({
    declaredSpace: z.string().min(1).nullable(),
    confirmed: z.boolean(),
    reading: z.object(readingFields).partial(),
  })
  .partial();
export type SourceChange = z.infer<typeof sourceChangeSchema>;
/** One change for many sources. */
export const manySourcesChangeSchema = z.object({ sources: z.array(z.string()).min(1), change: sourceChangeSchema });
export const roleChangeSchema = z.object({ pass: z.string(), role: z.enum(passRoles) });
/** An empty reason takes the silence back. */
export const silenceSchema = z.object({ keys: z.array(z.string()).min(1), reason: z.string().trim().max(300) });
/** Another folder for sources that moved, or another version of one. */
export const relinkSchema = z.object({ folder: z.string(), pattern: z.string().optional() });
export const spaceRuleSchema = z.object({
  folder: z.string(),
  /** The kind of file that it speaks of; null for all. */
  fileKind: z.enum(fileKinds).nullable(),
  space: z.string(),
});
export type SpaceRule = z.infer<typeof spaceRuleSchema>;
