import type { Matte } from '../operations/registry.ts';
import type { MattePlace, MattePlanes } from '../operations/matte.ts';
import { findMatte } from '../operations/registry.ts';
import { valuesAt, whyNotValues } from '../operations/parameters.ts';
import { PlanError, type PlanMatte, type Planes } from './plan.ts';

/** Where passes are found, and their planes asked for. */
export interface PassPlace extends MattePlace {
  planes(wanted: MattePlanes): Planes;
}

/** A matte of a document with all that it is made of. Throws a PlanError for one that is not there, depends on itself, or lacks a pass. */
export function compileMatte(
  name: string,
  mattes: Readonly<Record<string, Matte>>,
  frame: number,
  place: PassPlace,
  within: readonly string[] = [],
): PlanMatte {
  if (within.includes(name)) throw new PlanError(`the matte "${name}" depends on itself.`);
  const stored = Object.hasOwn(mattes, name) ? mattes[name] : undefined;
  if (!stored) throw new PlanError(`there is no matte "${name}".`);
  const definition = findMatte(stored.kind);
  if (!definition)
    throw new PlanError(
      `the matte "${name}": this version does not know the kind "${(stored as { kind: string }).kind}".`,
    );
  const why = whyNotValues(definition.parameters, stored);
  if (why !== undefined) throw new PlanError(`the matte "${name}": ${why}.`);
  const values = valuesAt(definition.parameters, stored, frame);
  try {
    const planes = (definition.planes?.(values, place) ?? []).map((p) => place.planes(p));
    const others = definition.others?.(values).map((o) => compileMatte(o, mattes, frame, place, [...within, name]));
    if (definition.reach && others?.some(isOfSubject))
      throw new Error(
        'it looks at neighbours, which a matte of what it is applied to does not have; take one of a pass.',
      );
    return { kind: stored.kind, values, planes, ...(others ? { others } : {}) };
  } catch (e) {
    if (e instanceof PlanError) throw e;
    throw new PlanError(`the matte "${name}": ${(e as Error).message}`);
  }
}

/** Whether a matte, or one that it is made of, is made of what it is applied to. */
const isOfSubject = ({ kind, others = [] }: PlanMatte): boolean =>
  findMatte(kind)?.ofSubject === true || others.some(isOfSubject);
