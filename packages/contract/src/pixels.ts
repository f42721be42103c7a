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
});
export type PlanesHeader = z.infer<typeof planesHeaderSchema>;
