import { z } from 'zod';

/** What the server tells without being asked, one line of a server-sent event stream each. */
export const eventSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('shot'), shotId: z.string() }),
  z.object({ kind: z.literal('shelf') }),
  z.object({ kind: z.literal('library') }),
  z.object({ kind: z.literal('demo'), done: z.number(), count: z.number() }),
]);
export type ServerEvent = z.infer<typeof eventSchema>;

export const demoStateSchema = z.object({ done: z.number(), count: z.number() });
