import { kindOf } from './stepKinds/registry.ts';
import type { ColourStep } from './steps.ts';

/**
 * The steps that undo steps. Clamps stay clamps (what they cut off is gone). Throws a RangeError for a step whose inverse must be made where it is
 * made itself: tables, cubes and steps without a kernel.
 */
export const invertSteps = (steps: readonly ColourStep[]): ColourStep[] =>
  [...steps].reverse().flatMap((step) => kindOf(step).invert(step));
