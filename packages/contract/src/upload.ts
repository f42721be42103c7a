import { z } from 'zod';

/** The folder of one drop among a shot's: one segment of a path. */
export const batchSchema = z.string().regex(/^[^/\\\0.][^/\\\0]{0,120}$/, 'is no name for a folder');
const path = z.string().min(1).max(500);

/** Files that are to be dropped into a shot's folder of the uploads: their paths within the batch and their sizes. */
export const uploadPlanSchema = z.object({
  shot: z.string(),
  batch: batchSchema,
  files: z.array(z.object({ path, size: z.number().int().nonnegative() })).max(100_000),
});
export type UploadPlan = z.infer<typeof uploadPlanSchema>;
/** Which of them are not there, which are there in the same size and may hold something else, and where all of them will lie. */
export const uploadAnswerSchema = z.object({
  folder: z.string(),
  lacking: z.array(z.string()),
  alike: z.array(z.string()),
});

/** The content of files that are there in the same size: SHA-256, in hexadecimal digits. */
export const uploadHashesSchema = z.object({
  shot: z.string(),
  batch: batchSchema,
  files: z.array(z.object({ path, hash: z.string().regex(/^[0-9a-f]{64}$/) })).max(100_000),
});
export type UploadHashes = z.infer<typeof uploadHashesSchema>;
/** Which of them hold something else. */
export const uploadDifferenceSchema = z.object({ others: z.array(z.string()) });
