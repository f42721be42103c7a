import { z } from 'zod';

/** What the server takes of its machine, in bytes. */
export const machineSchema = z.object({
  /** Decoded frames, and what they may take. */
  frames: z.number(),
  framesMost: z.number(),
  /** The whole process, as the system counts it. */
  process: z.number(),
  threads: z.number().int(),
});
export type Machine = z.infer<typeof machineSchema>;
