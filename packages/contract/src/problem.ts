import { z } from 'zod';

/** Every error body: one sentence for the person. */
export const problemSchema = z.object({ error: z.string() });
