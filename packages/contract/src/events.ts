import { z } from 'zod';
import { runFrameSchema } from './output.ts';
import { stageProofSchema } from './stage.ts';

/** What the server tells without being asked, one line of a server-sent event stream each. */
export const eventSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('shot'), shotId: z.string() }),
  /** A frame of a run was written, with what the output stage's proof is now: nothing else of the shot changed. */
  z.object({
    kind: z.literal('frame'),
    shotId: z.string(),
    runId: z.string(),
    frame: runFrameSchema,
    proof: stageProofSchema,
  }),
  /** The database went away, or is there again. */
  z.object({ kind: z.literal('database'), there: z.boolean() }),
  z.object({ kind: z.literal('shelf') }),
  z.object({ kind: z.literal('library') }),
  z.object({ kind: z.literal('setUps') }),
  z.object({ kind: z.literal('recipes') }),
  z.object({ kind: z.literal('demo'), done: z.number(), count: z.number() }),
]);
export type ServerEvent = z.infer<typeof eventSchema>;

export const demoStateSchema = z.object({ done: z.number(), count: z.number() });
