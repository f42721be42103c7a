import { z } from 'zod';

/** What stands in the header `x-june-planes` (JSON, percent-encoded) of an answer with planes: samples follow, one channel after the other. */
export const planesHeaderSchema = z.object({
  /** Of the rows that follow, at the level asked for. */
  width: z.number().int(),
  rows: z.number().int(),
  types: z.array(z.enum(['half', 'float', 'uint'])),
  /** Lines that the file does not hold. */
  missing: z.array(z.tuple([z.number(), z.number()])),
  /** The file's name, for sentences about it, and the size of its whole picture. */
  file: z.string(),
  size: z.object({ width: z.number().int(), height: z.number().int() }),
  /** Where the file has data, in pixels of the whole picture at the level asked for: outside it is transparent. */
  data: z.object({
    x: z.number().int(),
    y: z.number().int(),
    width: z.number().int(),
    height: z.number().int(),
  }),
});
export type PlanesHeader = z.infer<typeof planesHeaderSchema>;

/** Numbers of an address's query; frames and parts as far as files number them. */
const frame = z.coerce.number().int().min(-9_999_999).max(9_999_999);
const row = z.coerce.number().int().min(0).max(1_000_000);
const flag = z
  .enum(['0', '1'])
  .default('0')
  .transform((f) => f === '1');

/** Which rows of which channels of a frame are asked for, halved `level` times; `data` is never averaged. */
export const planesQuerySchema = z
  .object({
    frame,
    part: z.coerce.number().int().min(0).max(9999),
    level: z.coerce.number().int().min(0).max(12).default(0),
    top: row.default(0),
    /** Excluded; the picture's end when left out. */
    end: row.optional(),
    data: flag,
    channel: z.union([z.string(), z.array(z.string()).max(64)]).transform((c) => [c].flat()),
  })
  .refine(({ top, end }) => end === undefined || end > top, 'The rows end before they begin.');

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
  display: z.string().optional(),
  view: z.string().optional(),
  look: z.string().max(500).optional(),
});
