import { sideAtLevel, windowAtLevel, type Size, type Window } from '@june-haze/core';

/** Parts begin and end at multiples of so many pixels, and reach so far around what is seen, so that small moves need nothing new. */
const grid = 256;
const around = 128;
/** A part that is more of the picture than this is not worth being one. */
const mostShare = 0.6;

/** The part of a picture, in pixels of a level, that is fetched and drawn when some of it is seen; undefined for all of it. */
export function partAround(seen: Window, { width, height }: Size, level: number): Window | undefined {
  const [across, down] = [sideAtLevel(width, level), sideAtLevel(height, level)];
  const window = windowAtLevel(seen, level);
  const from = (at: number) => Math.max(0, Math.floor((at - around) / grid) * grid);
  const to = (at: number, most: number) => Math.min(most, Math.ceil((at + around) / grid) * grid);
  const [x, y] = [from(window.x), from(window.y)];
  const part = { x, y, width: to(window.x + window.width, across) - x, height: to(window.y + window.height, down) - y };
  if (part.width <= 0 || part.height <= 0) return undefined;
  return part.width * part.height > mostShare * across * down ? undefined : part;
}
