import { findFinish } from '../operations/registry.ts';
import { placedSides } from './place.ts';
import { matteRows, type Plan, type PlanMatte, type Planes, type PlanStep } from './plan.ts';
import { neededSamples } from '../image/resample.ts';

/** Rows from the first to before the second. */
export type RowRange = readonly [top: number, end: number];

/** Rows of the total, or of a node. */
export interface RowsOf {
  readonly top: number;
  readonly end: number;
  /** Of the whole picture, at the level. */
  readonly height: number;
  readonly level: number;
  readonly node?: number;
}

/**
 * The rows of each input that some rows of the total (or of a node) are made of, in the input's own picture, which may have fewer or more of
 * them; undefined for inputs that are not read at all.
 */
export const neededRows = (plan: Plan, rows: RowsOf): readonly (RowRange | undefined)[] => needsOf(plan, rows).inputs;

/** The same, with the rows of each node that are made on the way. */
export function needsOf(
  plan: Plan,
  { top, end, height, level, node = plan.nodes.length - 1 }: RowsOf,
): { readonly inputs: readonly (RowRange | undefined)[]; readonly nodes: readonly (RowRange | undefined)[] } {
  const inputs: (RowRange | undefined)[] = plan.inputs.map(() => undefined);
  const nodes: (RowRange | undefined)[] = plan.nodes.map(() => undefined);
  const note = (needed: (RowRange | undefined)[], i: number, from: number, to: number) => {
    const known = needed[i];
    needed[i] = known ? [Math.min(known[0], from), Math.max(known[1], to)] : [from, to];
  };
  const input = (i: number, from: number, to: number) => note(inputs, i, from, to);
  const planes = (p: Planes | undefined, from: number, to: number) => {
    if (p?.kind === 'input') input(p.input, from, to);
    else if (p) visit(p.node, from, to);
  };
  const matte = (m: PlanMatte | undefined, from: number, to: number): void => {
    if (!m) return;
    const [first, last] = matteRows(m, from, to, height, level);
    for (const p of m.planes) planes(p, first, last);
    for (const other of m.others ?? []) matte(other, first, last);
  };
  const step = (s: PlanStep, from: number, to: number): void => {
    if (s.picture.kind === 'subtotal') s.picture.steps.forEach((inner) => step(inner, from, to));
    else if (s.picture.kind !== 'fill') planes(s.picture, from, to);
    for (const m of [s.matte, ...s.changes.map((c) => c.matte)]) matte(m, from, to);
  };
  const visit = (at: number, from: number, to: number): void => {
    const found = plan.nodes[at]!;
    note(nodes, at, from, to);
    if (found.kind === 'place') {
      const [a, b] = neededSamples(placedSides(found, level).down, from, to);
      input(found.input, a, b);
    } else if (found.kind === 'finish') {
      const reach = findFinish(found.finish)!.reach(found.values as never, level);
      matte(found.matte, from, to);
      for (const p of found.planes ?? []) planes(p, Math.max(0, from - reach), Math.min(height, to + reach));
      visit(found.from, Math.max(0, from - reach), Math.min(height, to + reach));
    } else {
      planes(found.startAlpha, from, to);
      if (found.from !== undefined) visit(found.from, from, to);
      found.steps.forEach((s) => step(s, from, to));
    }
  };
  visit(node, top, end);
  if (plan.balance && plan.balance.picture.kind !== 'fill') planes(plan.balance.picture, top, end);
  return { inputs, nodes };
}
