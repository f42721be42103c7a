import type { Matte } from '../operations/registry.ts';
import type { MattePlace, MattePlanes } from '../operations/matte.ts';
import { findMatte } from '../operations/registry.ts';
import { valuesAt, whyNotValues } from '../operations/parameters.ts';
import { PlanError, type PlanMatte, type Planes } from './plan.ts';

interface Place extends MattePlace {
  planes(wanted: MattePlanes): Planes;
}

/** A matte of a document with all that it is made of. Throws a PlanError for one that is not there, depends on itself, or lacks a pass. */
export function compileMatte(
  name: string,
  mattes: Readonly<Record<string, Matte>>,
  frame: number,
  place: Place,
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
    const other = definition.other?.(values);
    return {
      kind: stored.kind,
      values,
      planes,
      ...(other === undefined ? {} : { other: compileMatte(other, mattes, frame, place, [...within, name]) }),
    };
  } catch (e) {
    if (e instanceof PlanError) throw e;
    throw new PlanError(`the matte "${name}": ${(e as Error).message}`);
  }
}
