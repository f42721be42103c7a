import { z } from 'zod';
import {
  beyondKinds,
  compressions,
  keyedSchema,
  layerings,
  lutEncodings,
  shapeOf,
  mattes,
  passRoles,
  type Entry,
  type LedgerDocument,
  type Matte,
} from '@june-haze/core';
import { adjustmentSchema, finishShapes, mixSchema, operationSchema } from './ledger.ts';
import {
  codesToChoose,
  commentsSchema,
  cropSchema,
  movieCodecs,
  offsetSchema,
  outputKinds,
  ownerSchema,
  rateSchema,
  stepSchema,
  timecodeSchema,
  widthSchema,
} from './output.ts';
import { placementSchema, speedSchema } from './source.ts';

// The job file: everything that a picture's pixels depend on, in one document; docs/jobs.md is its description for people. Every field that
// is not known is refused: a slip of the pen must not pass for a default.

const name = z.string().min(1).max(500);
const text = z.string().max(500);
const light = keyedSchema([-1e9, 1e9]);

export const jobSourceSchema = z.strictObject({
  /** Relative to the job; hash marks stand for the frame, without them it is a still or a movie. */
  pattern: name,
  /** Of a source with a file for each pass: their patterns in order, by the pass's name; `pattern`, with `{pass}`, is the source's own then. */
  files: z.record(name, name).optional(),
  /** What passes are for, by name, where their names do not say it. */
  roles: z.record(name, z.enum(passRoles)).optional(),
  space: name,
  alpha: z.enum(['premultiplied', 'straight', 'none']).default('premultiplied'),
  /** A file's number is the frame's and this. */
  offset: z.number().int().default(0),
  placement: placementSchema.prefault({}),
  missing: z.enum(['stop', 'hold', 'black']).default('stop'),
  /** Own frames a frame of the shot, counted from its first file; below 0 it runs backwards. */
  speed: speedSchema.default(1),
  /** What it gives before its first file and after its last. */
  beyond: z.enum(beyondKinds).default('stop'),
});

const common = {
  name: text.optional(),
  enabled: z.boolean().default(true),
  mix: mixSchema.default(1),
  matte: name.nullable().optional(),
};
const picture = {
  ...common,
  operation: operationSchema,
  adjustments: z.array(adjustmentSchema).max(64).default([]),
};

export interface JobPicture {
  readonly name?: string | undefined;
  readonly enabled: boolean;
}

/** An entry as a job writes it: sources by the job's own names, no ids. */
export const jobEntrySchema: z.ZodType<JobPicture> = z.lazy(() =>
  z.discriminatedUnion('kind', [
    z.strictObject({ ...picture, kind: z.literal('pass'), source: name, pass: name, alphaFrom: name.optional() }),
    z.strictObject({
      ...picture,
      kind: z.literal('fill'),
      colour: z.tuple([light, light, light]),
      alpha: keyedSchema([0, 1]).default(1),
    }),
    z.strictObject({ ...picture, kind: z.literal('subtotal'), entries: z.array(jobEntrySchema).max(500) }),
    z.discriminatedUnion(
      'finish',
      finishShapes.map(({ adjusts, ...shape }) =>
        z.strictObject({
          ...common,
          kind: z.literal('finish'),
          ...shape,
          ...(adjusts ? { adjustments: picture.adjustments } : {}),
        }),
      ) as unknown as readonly [z.ZodObject, ...z.ZodObject[]],
    ),
  ]),
) as unknown as z.ZodType<JobPicture>;

const jobMatteSchema = z.discriminatedUnion(
  'kind',
  mattes.map((d) => z.strictObject({ kind: z.literal(d.kind), ...shapeOf(d.parameters) })) as unknown as readonly [
    z.ZodObject,
    ...z.ZodObject[],
  ],
) as unknown as z.ZodType<Matte>;

const frameNumber = z.number().int().min(-9_999_999).max(9_999_999);

export const jobOutputSchema = z.strictObject({
  name,
  kind: z.enum(outputKinds),
  /** Null is through the viewing. */
  space: name.nullable().default(null),
  sampleType: z.enum(['half', 'float', 'uint8', 'uint10', 'uint16']).optional(),
  compression: z.enum(compressions).optional(),
  /** Pictures through the viewing: codes of another kind of display that show the same light. */
  codes: z.enum(codesToChoose).optional(),
  codec: z.enum(movieCodecs).optional(),
  /** Of contact sheets: pictures in a row, numbers below them, and the kind of file. */
  columns: z.number().int().min(1).max(200).optional(),
  labels: z.boolean().optional(),
  sheetFile: z.enum(['png', 'jpeg']).optional(),
  quality: z.number().int().min(1).max(100).optional(),
  /** The first and the last frame of this output, where they are others than the job's. */
  frames: z.tuple([frameNumber, frameNumber]).optional(),
  /** Every how many frames one is written, from the first. */
  step: stepSchema.optional(),
  /** A part of the picture, in its pixels. */
  crop: cropSchema.optional(),
  /** EXR of a part: its display window stays the whole picture's, the part is its data window. */
  keepWindow: z.boolean().optional(),
  /** How wide the files are; their height follows. */
  width: widthSchema.optional(),
  pattern: name,
  /** Of passes: those that are written as they came, mattes of the job, and how they lie in files. */
  passes: z
    .array(z.strictObject({ source: name, pass: name }))
    .max(1000)
    .optional(),
  mattes: z.array(name).max(200).optional(),
  layering: z.enum(layerings).optional(),
  /** A file's number is the frame's and this. */
  offset: offsetSchema.optional(),
  /** Frames a second that the files say, other than the job's. */
  rate: rateSchema.optional(),
  /** The time code of the first frame; left out, the frame's own number. */
  timecode: timecodeSchema.optional(),
  /** Of EXR, ACES and PNG: false leaves alpha out where there is one. Of TIFF and ProRes movies: true writes it. */
  alpha: z.boolean().optional(),
  /** 8-bit pictures: what lies between two codes is spread over both by chance. */
  dither: z.boolean().optional(),
  owner: ownerSchema.optional(),
  comments: commentsSchema.optional(),
});
export type JobOutput = z.infer<typeof jobOutputSchema>;

export const jobSchema = z.strictObject({
  version: z.literal(1),
  /** What a person read off the renderer, in its own words: for those who take the job over, no pixel depends on it. */
  rendererNote: z.string().max(4000).default(''),
  /** The first and the last frame. */
  frames: z.tuple([frameNumber, frameNumber]),
  rate: z.number().positive().max(1000).default(24),
  /** Width and height; left out, those of the first source's display window. */
  size: z.tuple([z.number().int().min(1).max(65536), z.number().int().min(1).max(65536)]).optional(),
  config: name.nullable().default(null),
  /** Values of the config's variables, above its own defaults. */
  variables: z.record(z.string(), z.string().max(500)).default({}),
  working: name,
  viewing: z
    .strictObject({
      display: name,
      view: name,
      look: z.string().max(500).nullable().default(null),
      /** A LUT or CDL file, `id` its name beside the job. */
      lookFile: z.strictObject({ id: name, name: text, space: name }).nullable().default(null),
      /** A show LUT beside the job, `id` its file's name: then `display` is "LUTs of the Library" and `view` a name for it. */
      viewLut: z
        .strictObject({ id: name, from: name, encoding: z.enum(lutEncodings) })
        .nullable()
        .default(null),
      exposure: z.number().min(-100).max(100).default(0),
      /** The display codes that become 0 and 1, before the gamma. */
      black: z.number().min(-1).max(1).default(0),
      white: z.number().min(0).max(3).default(1),
      gamma: z.number().positive().max(100).default(1),
    })
    .optional(),
  sources: z.record(name, jobSourceSchema),
  alphaFrom: z.strictObject({ source: name, pass: name }).nullable().default(null),
  entries: z.array(jobEntrySchema).max(1000),
  mattes: z.record(name, jobMatteSchema).default({}),
  outputs: z.array(jobOutputSchema).max(100),
});
export type Job = z.infer<typeof jobSchema>;

/** A job's ledger in the form that the engine compiles: sources are known by their names; an entry's id says where it stands. */
export function ledgerOfJob(job: Job): LedgerDocument {
  const { alphaFrom } = job;
  return {
    version: 2,
    entries: job.entries.map((e, i) => entryOf(e as JobRecord, `entries ${i + 1}`)),
    mattes: job.mattes,
    alphaFrom: alphaFrom && { sourceId: alphaFrom.source, pass: alphaFrom.pass },
  };
}

type JobRecord = JobPicture & Readonly<Record<string, unknown>> & { readonly kind: string };

function entryOf(entry: JobRecord, place: string): Entry {
  const { source, entries, ...rest } = entry as JobRecord & { source?: string; entries?: readonly JobRecord[] };
  const called = [entry.name, rest.pass, rest.finish, rest.kind].find((n) => typeof n === 'string');
  return {
    ...rest,
    id: place,
    name: `${place}, ${String(called)}`,
    // A pass is of a source; a finish reads one, under the name that it has for it.
    ...(source === undefined ? {} : entry.kind === 'finish' ? { source } : { sourceId: source }),
    ...(entries ? { entries: entries.map((e, i) => entryOf(e, `${place}.${i + 1}`)) } : {}),
  } as unknown as Entry;
}

/** Why a document is no job, as one sentence that names the first place that is wrong; undefined when it is one. */
export function whyNoJob(found: unknown): string | undefined {
  const parsed = jobSchema.safeParse(found);
  if (parsed.success) return undefined;
  const issue = deepest(parsed.error.issues[0]!);
  const place = issue.path.map(String).join('.');
  return place === '' ? issue.message : `${place}: ${issue.message}`;
}

interface Issue {
  readonly path: readonly PropertyKey[];
  readonly message: string;
  readonly code?: string;
  readonly errors?: readonly (readonly Issue[])[];
}

/** Of a choice that fits none of its forms, what is wrong with the form that comes nearest. */
function deepest(issue: Issue): Issue {
  const inner = (issue.errors ?? []).flatMap((list) => (list[0] ? [deepest(list[0])] : []));
  const best = inner.sort((a, b) => b.path.length - a.path.length)[0];
  return best ? { ...best, path: [...issue.path, ...best.path] } : issue;
}

/** The job file's JSON schema (draft 2020-12), of what may be written: docs/job.schema.json. */
export function jobJsonSchema(): object {
  return z.toJSONSchema(jobSchema, { io: 'input', reused: 'ref' });
}

/** Where a job file lies: below the output folder or in a media folder. */
export const jobPlaceSchema = z.object({ place: z.string() });
export type JobPlace = z.infer<typeof jobPlaceSchema>;
export const jobListSchema = z.object({ jobs: z.array(z.string()) });
export type JobList = z.infer<typeof jobListSchema>;
export const importJobSchema = z.object({ place: z.string().trim().min(1, 'A job file needs a name.').max(1000) });
