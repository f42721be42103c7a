import { z } from 'zod';

/** One thing that can be brought in: a sequence, a still, a movie, or a set of one file per pass. */
export const mediaSequenceSchema = z.object({
  /** Relative to the folder; may lead into folders of it. */
  pattern: z.string(),
  kind: z.enum(['sequence', 'still', 'movie']),
  firstFrame: z.number().int(),
  lastFrame: z.number().int(),
  count: z.number().int(),
  missing: z.number().int(),
  /** How many files a frame has when every pass lies in a file of its own; 0 for one file a frame. */
  passes: z.number().int(),
  /** Patterns of those files, to bring in each by itself. */
  members: z.array(z.string()),
  view: z.enum(['left', 'right']).nullable(),
  version: z.number().int().nullable(),
  /** A newer version of it lies beside it. */
  outdated: z.boolean(),
});
/** One folder of the media folders: what can be entered and what can be brought in. */
export const mediaFolderSchema = z.object({
  folder: z.string(),
  parent: z.string().nullable(),
  folders: z.array(z.string()),
  sequences: z.array(mediaSequenceSchema),
  /** More lies in the folders below than is listed here. */
  more: z.boolean(),
});
export type MediaFolder = z.infer<typeof mediaFolderSchema>;
export type MediaSequence = z.infer<typeof mediaSequenceSchema>;
