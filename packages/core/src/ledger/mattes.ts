import type { Matte } from '../operations/registry.ts';
import type { MattePlace, MattePlanes } from '../operations/matte.ts';
import { findMatte } from '../operations/registry.ts';
import { valuesAt, whyNotValues } from '../operations/parameters.ts';
import type { LedgerDocument } from './document.ts';
import { PlanError, type PlanMatte, type Planes } from './plan.ts';

/** Where passes are found, and their planes asked for. */
export interface PassPlace extends MattePlace {
  planes(wanted: MattePlanes): Planes;
}

/**
 * A matte of a document with all that it is made of; each once, however many use it. Throws a PlanError for one that is not there, depends on
 * itself, or lacks a pass.
 */
export function compileMatte(
  name: string,
  mattes: Readonly<Record<string, Matte>>,
  frame: number,
  place: PassPlace,
  compiled: Map<string, PlanMatte> = new Map(),
  within: readonly string[] = [],
): PlanMatte {
  const known = compiled.get(name);
  if (known) return known;
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
    const others = definition
      .others?.(values)
      .map((o) => compileMatte(o, mattes, frame, place, compiled, [...within, name]));
    if (definition.reach && others?.some(isOfSubject))
      throw new Error(
        'it looks at neighbours, which a matte of what it is applied to does not have; take one of a pass.',
      );
    const made: PlanMatte = { kind: stored.kind, values, planes, ...(others ? { others } : {}) };
    compiled.set(name, made);
    return made;
  } catch (e) {
    if (e instanceof PlanError) throw e;
    throw new PlanError(`the matte "${name}": ${(e as Error).message}`);
  }
}

/** Whether a matte, or one that it is made of, is made of what it is applied to. */
export const isOfSubject = ({ kind, others = [] }: PlanMatte): boolean =>
  findMatte(kind)?.ofSubject === true || others.some(isOfSubject);

/** Some mattes of a document with all that they are made of; names that are not there are passed over. */
export function mattesWith(names: readonly string[], mattes: Readonly<Record<string, Matte>>): Record<string, Matte> {
  const found = new Map<string, Matte>();
  const take = (name: string): void => {
    const stored = Object.hasOwn(mattes, name) ? mattes[name] : undefined;
    if (!stored || found.has(name)) return;
    found.set(name, stored);
    const definition = findMatte(stored.kind);
    if (!definition?.others || whyNotValues(definition.parameters, stored) !== undefined) return;
    definition.others(valuesAt(definition.parameters, stored, 0)).forEach(take);
  };
  names.forEach(take);
  return Object.fromEntries(found);
}

/** Whether a document's matte is made of what it is applied to, so that there is nothing of it alone. */
export const isOfWhatItIsAppliedTo = (name: string, mattes: Readonly<Record<string, Matte>>): boolean =>
  Object.values(mattesWith([name], mattes)).some((m) => findMatte(m.kind)?.ofSubject === true);

/** A ledger whose total's red is a matte: white, where it is white. */
export const ledgerOfMatte = (name: string, mattes: Readonly<Record<string, Matte>>): LedgerDocument => ({
  version: 2,
  entries: [
    {
      id: 'matte',
      name,
      kind: 'fill',
      enabled: true,
      operation: 'plus',
      mix: 1,
      adjustments: [],
      colour: [1, 1, 1],
      alpha: 1,
      matte: name,
    },
  ],
  mattes: mattesWith([name], mattes),
  alphaFrom: null,
});
