import { cannotTurn, planeKind, type Ends, type StepOf } from '../stepKind.ts';

/** A table over 0 … 1, linear between entries, its ends held. */
export const table = planeKind<StepOf<'table'>>({
  kind: 'table',
  preparePlane(step, heap) {
    const at = heap.placeFloats(step.table);
    return (p, n) => heap.kernels.tablePlane(p, n, at, step.table.length);
  },
  invert() {
    throw cannotTurn('table');
  },
  cutsOff(step) {
    const ends = liveDomain(step.table);
    return [ends, ends, ends];
  },
});

/** The part of 0 … 1 over which a table changes: beyond it lie flat ends. */
export function liveDomain(entries: Float32Array): Ends {
  const last = entries.length - 1;
  let low = 0;
  let high = last;
  while (low < last && entries[low + 1] === entries[low]) low++;
  while (high > low && entries[high - 1] === entries[high]) high--;
  return low >= high ? [0, 1] : [low / last, high / last];
}
