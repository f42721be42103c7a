import { z } from 'zod';

export const mediaSequenceSchema = z.object({
  pattern: z.string(),
  firstFrame: z.number().int(),
  lastFrame: z.number().int(),
  count: z.number().int(),
  missing: z.number().int(),
  /** How many files a frame has when every pass lies in a file of its own; 0 for one file a frame. */
  passes: z.number().int(),
});
/** One folder of the media folders: what can be entered and what can be brought in. */
export const mediaFolderSchema = z.object({
  folder: z.string(),
  parent: z.string().nullable(),
  folders: z.array(z.string()),
  sequences: z.array(mediaSequenceSchema),
});
export type MediaFolder = z.infer<typeof mediaFolderSchema>;
export type MediaSequence = z.infer<typeof mediaSequenceSchema>;
