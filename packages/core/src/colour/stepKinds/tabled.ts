import type { Heap } from '../../kernel/heap.ts';
import { curveTable, prepareTable, type Below } from '../curveTable.ts';
import type { PreparedPlane } from '../stepKind.ts';
import type { ColourStep } from '../steps.ts';

/** The whole power of two at or below a number: a table of a curve begins there, below it is straight. */
export const below = (x: number) => Math.floor(Math.log2(x));

/** A curve as a table over 2^from … 2^to, made once a thread; `bent` is the part of it that is no straight line. */
export function tabled(
  step: ColourStep,
  domain: readonly [number, number],
  under: Below,
  heap: Heap,
  exact: PreparedPlane,
  bent = exact,
): PreparedPlane {
  return prepareTable(curveTable(JSON.stringify(step), domain, under, heap, bent), heap, exact);
}
