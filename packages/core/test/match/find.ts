import { findMatch, type MatchResult } from '../../src/match/finder.ts';
import type { CodePicture, LightPicture } from '../../src/match/pictures.ts';
import { configs, heap } from './cases.ts';

/** The finder's answer, all steps of it taken. */
export function found(
  light: LightPicture,
  picture: CodePicture,
  more: Partial<Parameters<typeof findMatch>[0]> = {},
): MatchResult {
  const search = findMatch({ light, picture, configs, ...more }, heap);
  let step = search.next();
  while (!step.done) step = search.next();
  return step.value;
}
