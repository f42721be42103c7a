import { kindOf } from './stepKinds/registry.ts';
import type { ColourStep } from './steps.ts';

/**
 * Shortens a list of steps where it is exact: neighbouring matrices become one (in float64), what does nothing is dropped, and a step
 * followed by the one that undoes it goes, but for the clamp that the pair amounts to. Tables stay: they cut off at their ends.
 */
export function mergeSteps(steps: readonly ColourStep[]): ColourStep[] {
  const merged: ColourStep[] = [];
  const push = (step: ColourStep): void => {
    const kind = kindOf(step);
    const last = merged.at(-1);
    const left = last && kind.merge?.(last, step);
    if (left) {
      merged.pop();
      left.forEach(push);
    } else if (!kind.nothing?.(step)) merged.push(step);
  };
  steps.forEach(push);
  return merged;
}

/** Whether steps are a linear map without offset: what a working space's way to the reference must be. */
export const isLinearMap = (steps: readonly ColourStep[]): boolean =>
  mergeSteps(steps).every((s) => s.kind === 'matrix' && !s.offset);
