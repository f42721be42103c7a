import type { Heap } from '../kernel/heap.ts';
import type { Evaluation, KeptPicture, KeptTotal } from './evaluation.ts';
import { Evaluator } from './evaluator.ts';
import { loadPicture } from './load.ts';
import type { Plan, PlanStep, RunNode } from './plan.ts';
import type { Quad } from '../operations/blend.ts';
import { prepareChanges } from './preparedChanges.ts';

/** Whether a step's picture, converted and adjusted, hangs on nothing but its source. */
export const canBeKept = ({ picture, changes }: PlanStep): boolean =>
  picture.kind === 'input' && changes.every((c) => !c.matte);

/**
 * Makes the total of a run before one of its steps, for some rows, and leaves it in the heap for later evaluations of the same picture. The
 * job's inputs hold what those rows are made of.
 */
export function keepTotal(
  plan: Plan,
  heap: Heap,
  job: Omit<Evaluation, 'onBand' | 'firstRow' | 'rows'>,
  {
    node,
    steps,
    top,
    end,
  }: { readonly node: number; readonly steps: number; readonly top: number; readonly end: number },
): KeptTotal {
  const run = plan.nodes[node] as RunNode;
  const shorter: Plan = { ...plan, nodes: plan.nodes.with(node, { ...run, steps: run.steps.slice(0, steps) }) };
  const planes = [0, 1, 2, 3].map(() => heap.allocatePlane((end - top) * job.width)) as unknown as Quad;
  const mark = heap.mark();
  const e = new Evaluator(shorter, heap, { ...job, firstRow: top, rows: end - top, onBand: () => undefined });
  e.blocks(node, top, end, (quad, row, rows) =>
    planes.forEach((p, c) => heap.kernels.copyPlane(p + (row - top) * job.width * 4, quad[c]!, rows * job.width)),
  );
  heap.release(mark);
  return { steps, planes, top, end };
}

/**
 * Makes a step's picture for the rows of a job and leaves it in the heap, for later evaluations of the same rows. Undefined where the source
 * does not cover them: its alpha would differ from block to block.
 */
export function keepPicture(
  plan: Plan,
  heap: Heap,
  job: Omit<Evaluation, 'onBand' | 'kept'>,
  { picture, changes }: PlanStep,
): KeptPicture | undefined {
  if (picture.kind !== 'input') return undefined;
  const { width, rows, firstRow: top = 0 } = job;
  const before = heap.mark();
  const alpha = plan.inputs[picture.input]!.alpha !== undefined;
  const planes = Array.from({ length: alpha ? 4 : 3 }, () => heap.allocatePlane(rows * width));
  const mark = heap.mark();
  const e = new Evaluator(plan, heap, { ...job, onBand: () => undefined });
  const each = Math.max(1, Math.floor(16384 / width));
  const block = e.quad(each * width);
  const prepared = prepareChanges(changes, e);
  for (let row = top; row < top + rows; row += each) {
    const count = Math.min(each, top + rows - row);
    const loaded = loadPicture(e, picture, row, count, block);
    if (loaded.alpha !== alpha) {
      heap.release(before);
      return undefined;
    }
    prepared.run(block, { n: count * width, row, rows: count, ...loaded });
    planes.forEach((p, c) => heap.kernels.copyPlane(p + (row - top) * width * 4, block[c]!, count * width));
  }
  heap.release(mark);
  return { planes, alpha, top, end: top + rows };
}
