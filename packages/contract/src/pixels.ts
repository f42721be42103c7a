import { z } from 'zod';

/** Numbers of an address's query; frames and parts as far as files number them. */
const frame = z.coerce.number().int().min(-9_999_999).max(9_999_999);
const flag = z
  .enum(['0', '1'])
  .default('0')
  .transform((f) => f === '1');

const window = z.object({
  x: z.number().int(),
  y: z.number().int(),
  width: z.number().int(),
  height: z.number().int(),
});

/**
 * Planes of a part of a frame's file, halved `level` times; `data` is never averaged. With a window, in pixels of that level, what of it lies
 * in the picture; whole planes without. `stamp` makes another address of changed files.
 */
export const planesWantSchema = z.object({
  source: z.string(),
  frame: z.number().int().min(-9_999_999).max(9_999_999),
  stamp: z.string().optional(),
  part: z.number().int().min(0).max(9999),
  level: z.number().int().min(0).max(12).default(0),
  data: z.boolean().default(false),
  window: window.optional(),
  channels: z.array(z.string()).min(1).max(1024),
});
export type PlanesWant = z.input<typeof planesWantSchema>;

/** Files that a run wrote are looked at as if it were a source, by this name. */
export const sourceOfRun = (runId: string): string => `run ${runId}`;

/** The run of such a source; undefined for a source of the shot. */
export const runOfSource = (source: string): string | undefined => /^run (.+)$/.exec(source)?.[1];

/** All planes that a picture needs, in one request: each `want` is one of the above as JSON. */
export const planesQuerySchema = z.object({
  want: z
    .union([z.string(), z.array(z.string()).max(256)])
    .transform((w, context) =>
      [w].flat().map((text): unknown => {
        try {
          return JSON.parse(text);
        } catch {
          context.addIssue('is no JSON.');
          return z.NEVER;
        }
      }),
    )
    .pipe(z.array(planesWantSchema)),
});

/** What stands before the samples of each want: what they are, or a sentence for why there are none. */
export const planesHeaderSchema = z.union([
  z.object({ error: z.string(), status: z.number().int() }),
  z.object({
    /** Of the planes that follow, at the level asked for. */
    width: z.number().int(),
    height: z.number().int(),
    types: z.array(z.enum(['half', 'float', 'uint'])),
    /** Lines that the file does not hold. */
    missing: z.array(z.tuple([z.number(), z.number()])),
    /** The file's name, for sentences about it, and the size of its whole picture. */
    file: z.string(),
    size: z.object({ width: z.number().int(), height: z.number().int() }),
    /** Where the file has data, in pixels of the whole picture at the level asked for: outside it is transparent. */
    data: window,
  }),
]);
export type PlanesHeader = z.infer<typeof planesHeaderSchema>;

/** A small picture of one pass of a frame: through the shot's viewing or another, or as it is. */
export const thumbnailQuerySchema = z.object({
  frame,
  pass: z.string(),
  width: z.coerce
    .number()
    .int()
    .default(160)
    .transform((w) => Math.min(640, Math.max(32, w))),
  space: z.string().optional(),
  untouched: flag,
  /** With the shot's exposure, levels and gamma. */
  exposed: flag,
  display: z.string().optional(),
  view: z.string().optional(),
  look: z.string().max(500).optional(),
  /** Another config of the Library whose view it is seen through, by its id; empty for the built-in one. */
  config: z.string().max(64).optional(),
});
