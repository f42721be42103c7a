import type { Heap } from '../kernel/heap.ts';
import type { Evaluation } from './evaluation.ts';
import { Evaluator } from './evaluator.ts';
import { PlanError, type Plan } from './plan.ts';
import { emptyStatistics, type RowStatistics } from './statistics.ts';

/**
 * Evaluates a plan over some whole rows, band by band. All arithmetic is float32 in the kernels' order, so that any split gives the same
 * bits. Throws a PlanError for planes of another size than they say.
 */
export function evaluate(plan: Plan, heap: Heap, job: Evaluation): RowStatistics | undefined {
  for (const { colour, alpha, window } of job.inputs) {
    const n = window ? window.width * window.height : job.width * job.rows;
    if ([...colour, alpha].some((p) => p && p.length !== n))
      throw new PlanError('A pass has another size than the picture: passes of one ledger must have one size.');
  }
  const mark = heap.mark();
  const statistics = job.statistics ? emptyStatistics(plan.entryIds.length, job.rows) : undefined;
  try {
    new Evaluator(plan, heap, job, statistics).total();
  } finally {
    heap.release(mark);
  }
  return statistics;
}
