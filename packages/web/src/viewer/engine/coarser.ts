import type { PictureRequest } from './messages.ts';

/** The same picture at a coarser level, for while the hand moves. */
export interface Coarser {
  readonly request: PictureRequest;
  /** It is drawn where the one that is finer takes longer than so many milliseconds. */
  readonly after: number;
}

/** A picture that takes longer is drawn at the level nearest to what is seen. */
export const quickMilliseconds = 25;
/** One that takes longer even there is drawn more coarsely than it is seen, so that it follows the hand. */
export const slowMilliseconds = 100;
/** So many levels more coarsely at most: at a quarter of the size of what is seen nothing could be judged. */
export const roughLevels = 1;

/** How long pictures of a level took, or would take by their pixels, going by the finer one. */
const timeOf = (took: ReadonlyMap<number, number>, level: number, finer: { level: number; time: number }): number =>
  took.get(level) ?? finer.time / 4 ** (level - finer.level);

/** The coarser pictures, from the finest on, that a picture which moves would be drawn by, as long as the finer ones take too long. */
export function worthDrawing(
  { level }: PictureRequest,
  coarser: readonly Coarser[],
  took: ReadonlyMap<number, number>,
): PictureRequest[] {
  const worth: PictureRequest[] = [];
  let finer = { level, time: took.get(level) ?? 0 };
  for (const { request, after } of coarser) {
    if (finer.time <= after) break;
    finer = { level: request.level, time: timeOf(took, request.level, finer) };
    worth.push(request);
  }
  return worth;
}
