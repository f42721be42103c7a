import { scopesOf, viewingParts, warningKinds } from '@june-haze/core';
import { z } from 'zod';
import { differenceTimes, scopeKinds, ways } from './ways.ts';
import type { SightChoice } from './sights.ts';
import { useStored } from './useStored.ts';

const point = z.tuple([z.number(), z.number()]).readonly();

const inspectionSchema = z.union([
  z.object({ kind: z.enum(['colour', 'red', 'green', 'blue', 'luminance', 'alpha', 'stops', 'ids']) }),
  z.object({ kind: z.enum(['range', 'vectors']), near: z.number(), far: z.number() }),
]);

const sightSchema = z.custom<SightChoice>((v) => typeof v === 'object' && v !== null && 'of' in v);

/** How a picture is looked at: of one shot in one stage, kept in this browser. */
const viewerStateSchema = z.object({
  view: z.union([z.literal('fit'), z.object({ scale: z.number().positive(), centre: point })]).catch('fit'),
  /** What is looked at, and what beside it; null for the stage's own and for nothing. */
  first: sightSchema.nullable().catch(null),
  second: sightSchema.nullable().catch(null),
  way: z.enum(ways).catch('alone'),
  times: z.number().catch(differenceTimes[3]!),
  /** Where the wipe's line is, as shares of the pane, and its angle in degrees from upright. */
  wipe: z.object({ at: point, angle: z.number() }).catch({ at: [0.5, 0.5], angle: 0 }),
  inspection: inspectionSchema.catch({ kind: 'colour' }),
  /** How passes of data are looked at, by source and pass. */
  ranges: z.record(z.string(), inspectionSchema).catch({}),
  warn: z.array(z.enum(warningKinds)).catch([]),
  off: z.array(z.enum(viewingParts)).catch([]),
  plain: z.boolean().catch(false),
  exposure: z.number().min(-20).max(20).catch(0),
  scopes: z
    .object({
      open: z.boolean(),
      of: z.enum(scopesOf),
      waveform: z.enum(scopeKinds),
      regionOnly: z.boolean(),
    })
    .catch({ open: false, of: 'shown', waveform: 'overlaid', regionOnly: false }),
  region: z.object({ x: z.number(), y: z.number(), width: z.number(), height: z.number() }).nullable().catch(null),
  /** Pixels whose numbers stay in sight. */
  pins: z.array(point).max(8).catch([]),
  /** A place that was left to see another, to come back to. */
  lastPlace: z.string().nullable().catch(null),
});
export type ViewerState = z.infer<typeof viewerStateSchema>;

/** The state of the viewer of a shot in a stage, and how it is changed; it is there again on the next visit. */
export const useViewerState = (shotId: string, stage: string, atFirst?: Partial<ViewerState>) =>
  useStored(`june-haze-viewer ${stage} ${shotId}`, viewerStateSchema, atFirst);
