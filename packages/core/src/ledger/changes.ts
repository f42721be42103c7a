import { UnknownNameError } from '../colour/spaces.ts';
import { isLinearMap, mergeSteps } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import { ColourFileError } from '../config/place.ts';
import type { ShotColour } from '../config/shotColour.ts';
import { valuesAt, whyNotValues } from '../operations/parameters.ts';
import { findAdjustment, type Adjustment } from '../operations/registry.ts';
import type { Change, PlanMatte } from './plan.ts';
import { PlanError } from './plan.ts';

/** What compiling an entry's colour needs. */
export interface ChangePlace {
  readonly colour: ShotColour;
  readonly working: string;
  readonly frame: number;
  matte(name: string): PlanMatte;
}

/** Whether steps are more than a multiplication, so that alpha matters to them. */
export const bending = (steps: readonly ColourStep[]): boolean =>
  steps.some((c) => c.kind !== 'matrix' || c.offset !== undefined);

/** Steps as a change: what is no multiplication is done on straight colour. None when they do nothing. */
export function conversionChange(steps: readonly ColourStep[]): Change[] {
  return steps.length ? [{ steps, alpha: bending(steps) ? 'straight' : 'any' }] : [];
}

/** An adjustment as a change, at a frame; undefined when it does nothing. Throws a PlanError that says what it lacks. */
export function adjustmentChange(adjustment: Adjustment, place: ChangePlace): Change | undefined {
  if (!adjustment.enabled) return undefined;
  const definition = findAdjustment(adjustment.kind);
  if (!definition)
    throw new PlanError(`this version does not know the adjustment "${(adjustment as { kind: string }).kind}".`);
  const said = `${definition.title.toLowerCase()}`;
  const why = whyNotValues(definition.parameters, adjustment);
  if (why !== undefined) throw new PlanError(`${said}: ${why}.`);
  try {
    const values = valuesAt(definition.parameters, adjustment, place.frame);
    const { colour, working } = place;
    const space = (definition.choosesSpace && (adjustment.space ?? definition.usualSpace)) || working;
    const own = definition.compile(values, { space, colour, luminance: colour.luminance(space) });
    if (!own.length) return undefined;
    const there = colour.conversion(working, space);
    const back = colour.conversion(space, working);
    const steps = mergeSteps([...there, ...own, ...back]);
    if (!steps.length) return undefined;
    const multiplies = definition.alpha === 'any' && isLinearMap(there);
    const matte = adjustment.matte ? place.matte(adjustment.matte) : undefined;
    return { steps, alpha: multiplies ? 'any' : 'straight', ...(matte ? { matte } : {}) };
  } catch (e) {
    if (e instanceof UnknownNameError || e instanceof ColourFileError || e instanceof PlanError || isPlain(e))
      throw new PlanError(`${said}: ${e.message}`);
    throw e;
  }
}

/** A definition's own sentence. */
const isPlain = (e: unknown): e is Error => e instanceof Error && e.constructor === Error;

/**
 * Joins neighbours that may run together: those with one rule of alpha, and, where the picture has no alpha, all. What a matte limits
 * stands alone.
 */
export function mergeChanges(changes: readonly Change[], hasAlpha: boolean): Change[] {
  const merged: Change[] = [];
  for (const change of changes) {
    const last = merged.at(-1);
    const joins = last && !last.matte && !change.matte && (last.alpha === change.alpha || !hasAlpha);
    if (!joins) {
      merged.push(change);
      continue;
    }
    merged.pop();
    const steps = mergeSteps([...last.steps, ...change.steps]);
    if (steps.length) merged.push({ steps, alpha: change.alpha === 'any' ? last.alpha : change.alpha });
  }
  return merged;
}
