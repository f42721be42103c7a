import type { Heap } from '../kernel/heap.ts';
import { prepareSteps, type PreparedProcessor } from './prepare.ts';
import type { ColourStep } from './steps.ts';

type Ends = readonly [low: number, high: number];

/** The part of 0 … 1 over which a table changes: beyond it lie flat ends. */
export function liveDomain(table: Float32Array): Ends {
  const last = table.length - 1;
  let low = 0;
  let high = last;
  while (low < last && table[low + 1] === table[low]) low++;
  while (high > low && table[high - 1] === table[high]) high--;
  return low >= high ? [0, 1] : [low / last, high / last];
}

/** Where a list of steps first cuts off: a table or a cube, with the ends of each channel. */
function firstCut(steps: readonly ColourStep[]): { at: number; ends: readonly [Ends, Ends, Ends] } | undefined {
  for (const [at, step] of steps.entries()) {
    if (step.kind === 'cube')
      return {
        at,
        ends: [
          [0, 1],
          [0, 1],
          [0, 1],
        ],
      };
    if (step.kind === 'table') {
      const ends = liveDomain(step.table);
      return { at, ends: [ends, ends, ends] };
    }
    if (step.kind === 'channels' && step.each.every((s) => s.kind === 'table')) {
      const ends = step.each.map((s) => (s.kind === 'table' ? liveDomain(s.table) : ([0, 1] as const)));
      return { at, ends: ends as unknown as readonly [Ends, Ends, Ends] };
    }
  }
  return undefined;
}

/** Counts pixels of planes (which it changes) that the first table or cube of a look cuts off; undefined for a look without one. */
export function prepareClipCount(
  steps: readonly ColourStep[],
  heap: Heap,
): ((r: number, g: number, b: number, n: number) => number) | undefined {
  const cut = firstCut(steps);
  if (!cut) return undefined;
  const before: PreparedProcessor = prepareSteps(steps.slice(0, cut.at), heap);
  // A ten-thousandth is rounding, not clipping.
  const [lowR, lowG, lowB] = cut.ends.map(([low]) => low - 1e-4) as [number, number, number];
  const [highR, highG, highB] = cut.ends.map(([, high]) => high + 1e-4) as [number, number, number];
  return (rp, gp, bp, n) => {
    before(rp, gp, bp, n);
    const [red, green, blue] = [heap.floats(rp, n), heap.floats(gp, n), heap.floats(bp, n)];
    let count = 0;
    for (let i = 0; i < n; i++) {
      const [r, g, b] = [red[i]!, green[i]!, blue[i]!];
      if (r < lowR || r > highR || g < lowG || g > highG || b < lowB || b > highB) count++;
    }
    return count;
  };
}
