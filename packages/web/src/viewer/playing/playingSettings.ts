import { z } from 'zod';
import { useStored } from '../useStored.ts';
import { playingWays } from './player.ts';

/** How a shot is played, kept in this browser. */
const schema = z.object({
  /** Marks of what is played; null for the shot's own ends. */
  first: z.number().int().nullable().catch(null),
  last: z.number().int().nullable().catch(null),
  way: z.enum(playingWays).catch('loop'),
  /** Code values by which a frame may differ from the one before. */
  threshold: z.number().positive().catch(8),
});
export type PlayingSettings = z.infer<typeof schema>;

export const usePlayingSettings = (shotId: string) => useStored(`june-haze-playing ${shotId}`, schema);
