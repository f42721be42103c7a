import { findMatch, type MatchResult } from '../../src/match/finder.ts';
import type { CodePicture, LightPicture } from '../../src/match/pictures.ts';
import { configs, heap } from './cases.ts';

/** The finder's answer, all steps of it taken. */
export function found(
  light: LightPicture,
  picture: CodePicture,
  chromaticities?: Parameters<typeof findMatch>[0]['chromaticities'],
): MatchResult {
  const search = findMatch({ light, picture, configs, chromaticities }, heap);
  let step = search.next();
  while (!step.done) step = search.next();
  return step.value;
}
