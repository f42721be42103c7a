import type { Inspection } from '@june-haze/core';
import type { Sight } from './sights.ts';

export const colourInspection: Inspection = { kind: 'colour' };

/** What the second canvas was last drawn as: it is shown for nothing else. */
export interface DrawnSecond {
  readonly sight: Sight | undefined;
  readonly frame: number;
  readonly exposure: number;
  readonly inspection: Inspection;
}

export const isDrawn = (drawn: DrawnSecond | undefined, wanted: DrawnSecond): boolean =>
  drawn !== undefined &&
  drawn.sight === wanted.sight &&
  drawn.frame === wanted.frame &&
  drawn.exposure === wanted.exposure &&
  drawn.inspection === wanted.inspection;

/** Codes are no light: they have no stops. */
export const suited = (sight: Sight | undefined, inspection: Inspection): Inspection =>
  inspection.kind === 'stops' && sight?.light === false ? colourInspection : inspection;

/** Shown as it is, past the viewing. */
export const isUntouched = (sight: Sight | undefined) => sight?.light === false;
