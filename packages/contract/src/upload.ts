import { z } from 'zod';

/** Files that are to be dropped into a folder of the uploads: their paths within it and their sizes. */
export const uploadPlanSchema = z.object({
  /** The folder's name: one segment. */
  batch: z.string().regex(/^[^/\\\0.][^/\\\0]{0,120}$/, 'is no name for a folder'),
  files: z.array(z.object({ path: z.string().min(1).max(500), size: z.number().int().nonnegative() })).max(100_000),
});
export type UploadPlan = z.infer<typeof uploadPlanSchema>;
/** Which of them are not there whole yet, and where they will lie in the media folders. */
export const uploadAnswerSchema = z.object({ folder: z.string(), lacking: z.array(z.string()) });
