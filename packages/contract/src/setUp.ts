import { z } from 'zod';
import { viewingSchema } from './viewing.ts';

/** What new shots may start from: colours and a rate that a person keeps under a name. */
export const setUpSchema = z.object({
  id: z.string(),
  name: z.string(),
  config: z.string().nullable(),
  /** What the config is called; null for the built-in one. */
  configName: z.string().nullable(),
  variables: z.record(z.string(), z.string()),
  workingSpace: z.string(),
  /** Its exposure is 0: that is each shot's own. */
  viewing: viewingSchema,
  rate: z.number(),
});
export type SetUp = z.infer<typeof setUpSchema>;

/** Keeps a shot's colours and rate; a set-up of that name becomes this one. */
export const newSetUpSchema = z.object({
  name: z.string().trim().min(1, 'A set-up needs a name.').max(80),
  shotId: z.string(),
});
