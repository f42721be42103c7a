import type { Heap } from '../kernel/heap.ts';
import { prepareSteps, type PreparedProcessor } from './prepare.ts';
import type { Ends } from './stepKind.ts';
import { kindOf } from './stepKinds/registry.ts';
import type { ColourStep } from './steps.ts';

/** Where a list of steps first cuts off: a table or a cube, with the ends of each channel. */
function firstCut(steps: readonly ColourStep[]): { at: number; ends: readonly [Ends, Ends, Ends] } | undefined {
  for (const [at, step] of steps.entries()) {
    const ends = kindOf(step).cutsOff?.(step);
    if (ends) return { at, ends };
  }
  return undefined;
}

/** Counts pixels of planes (which it changes) that are cut off, and notes them in `flags`, a byte a pixel, with `bit`. */
export type FindCut = (r: number, g: number, b: number, n: number, flags?: Uint8Array, bit?: number) => number;

/** What finds the pixels that the first table or cube of some steps cuts off; undefined for steps without one. */
export function prepareFindCut(steps: readonly ColourStep[], heap: Heap): FindCut | undefined {
  const cut = firstCut(steps);
  if (!cut) return undefined;
  const before: PreparedProcessor = prepareSteps(steps.slice(0, cut.at), heap);
  // A ten-thousandth is rounding, not clipping.
  const [lowR, lowG, lowB] = cut.ends.map(([low]) => low - 1e-4) as [number, number, number];
  const [highR, highG, highB] = cut.ends.map(([, high]) => high + 1e-4) as [number, number, number];
  return (rp, gp, bp, n, flags, bit = 0) => {
    before(rp, gp, bp, n);
    const [red, green, blue] = [heap.floats(rp, n), heap.floats(gp, n), heap.floats(bp, n)];
    let count = 0;
    for (let i = 0; i < n; i++) {
      const [r, g, b] = [red[i]!, green[i]!, blue[i]!];
      if (r < lowR || r > highR || g < lowG || g > highG || b < lowB || b > highB) {
        count++;
        if (flags) flags[i]! |= bit;
      }
    }
    return count;
  };
}
