import type { CodeEncoding } from '../colour/displayCodes.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Figures } from '../proof/differences.ts';
import { codesOf, holdAgainst, seenDifference, type CodeDifference } from './decide.ts';
import { leftOver, type LeftOver } from './leftOver.ts';
import { plainSaving } from './mistakes.ts';
import type { CodePicture, LightPicture } from './pictures.ts';
import { averagedAfter, register, type Registration } from './register.ts';
import { verdictOf, type MatchVerdict } from './verdict.ts';

/** Light of a frame through a viewing, against the picture that shows how it must look. */
export interface ReferenceComparison extends CodeDifference {
  readonly verdict: MatchVerdict;
  readonly explained: boolean;
  readonly reason: string;
  /** CIEDE2000 over all pixels. */
  readonly deltaE: Figures;
  readonly registration: Registration;
  readonly leftOver: LeftOver;
}

/**
 * Holds light through colour steps (from its numbers to codes, the last of which clamps to 0 … 1) against a reference. A smaller reference
 * is held against both ways of averaging, and the nearer counts; a JPEG against what its own coding makes of the codes. Throws a
 * RegistrationError for sizes that do not fit.
 */
export function compareToReference(
  light: LightPicture,
  steps: readonly ColourStep[],
  picture: CodePicture,
  encoding: CodeEncoding,
  heap: Heap,
): ReferenceComparison {
  const first = register(light, picture);
  const ways = [first, averagedAfter(light, first)].filter((w) => w !== undefined);
  const codes = codesOf(first.picture);
  const making = { ...plainSaving, steps };
  const [best] = ways
    .map((way) => ({ way, ...holdAgainst(making, way.light, way.picture, codes, way.averageAfter, heap) }))
    .sort((a, b) => a.difference.meanCode - b.difference.meanCode);
  const { difference, made, way } = best!;
  const deltaE = seenDifference(codes, made, first.picture.width, encoding, true);
  const left = leftOver(made, codes, first.picture);
  return {
    ...difference,
    ...verdictOf(difference, deltaE, left, false),
    deltaE,
    registration: way.registration,
    leftOver: left,
  };
}
