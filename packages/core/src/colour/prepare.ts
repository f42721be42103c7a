import type { Heap } from '../kernel/heap.ts';
import type { PreparedProcessor } from './stepKind.ts';
import { kindOf } from './stepKinds/registry.ts';
import type { ColourStep } from './steps.ts';

export type { PreparedProcessor } from './stepKind.ts';

/** Places a processor's constants in the heap (they live until the caller releases its mark). */
export function prepareSteps(steps: readonly ColourStep[], heap: Heap): PreparedProcessor {
  const runs = steps.map((step) => kindOf(step).prepare(step, heap));
  return (r, g, b, n) => {
    for (const run of runs) run(r, g, b, n);
  };
}
