import type { Heap } from '../kernel/heap.ts';
import type { WholePicture } from '../operations/finish.ts';
import { findFinish } from '../operations/registry.ts';
import { sideAtLevel } from '../image/level.ts';
import type { Evaluation } from './evaluation.ts';
import { Evaluator } from './evaluator.ts';
import type { FinishNode, Plan } from './plan.ts';

/** Rows of a strip that is gathered: a multiple of every halving, so that a block of samples never lies in two. */
export const gatherRows = 256;

/** The nodes that look at the whole picture, in the order in which they are gathered. */
export function wholeNodes(plan: Plan): number[] {
  return plan.nodes.flatMap((n, i) => (n.kind === 'finish' && findFinish(n.finish)!.whole ? [i] : []));
}

/** The empty picture that a node's is gathered into. */
export function emptyWhole(
  plan: Plan,
  node: number,
  width: number,
  height: number,
  level: number,
  allocate = (samples: number) => new Float32Array(samples),
): WholePicture {
  const { finish, values } = plan.nodes[node] as FinishNode;
  const halved = findFinish(finish)!.whole!.halvings(values as never, level);
  const [w, h] = [sideAtLevel(width, halved), sideAtLevel(height, halved)];
  return { halved, width: w, height: h, planes: [0, 1, 2, 3].map(() => allocate(w * h)) };
}

/**
 * Adds a strip of rows to the whole picture that a node looks at: each sample is the mean of a block of 2^halved by 2^halved, at the edges
 * of what is there. Strips begin at multiples of `gatherRows`. The job's inputs hold what `neededRows` says for the node.
 */
export function gather(
  plan: Plan,
  heap: Heap,
  job: Omit<Evaluation, 'onBand' | 'statistics'>,
  node: number,
  into: WholePicture,
): void {
  const { finish, values, from } = plan.nodes[node] as FinishNode;
  const { whole } = findFinish(finish)!;
  const side = 2 ** into.halved;
  const mark = heap.mark();
  const e = new Evaluator(plan, heap, { ...job, bandRows: side, onBand: () => undefined });
  e.blocks(from, e.top, e.end, (quad, row, rows) => {
    const n = rows * e.width;
    whole!.gather(heap, quad, n, values as never, plan.luminance);
    quad.forEach((p, c) =>
      reduceBlock(heap.floats(p, n), e.width, rows, side, into.planes[c]!, Math.floor(row / side) * into.width),
    );
  });
  heap.release(mark);
}

/** Makes of a gathered picture, in place, what its node looks at. Once all strips are in it. */
export function completeWhole(plan: Plan, heap: Heap, node: number, gathered: WholePicture, level: number): void {
  const { finish, values } = plan.nodes[node] as FinishNode;
  findFinish(finish)!.whole!.complete(heap, gathered, values as never, level, plan.luminance);
}

/** Means of squares of a block that is one square high. */
function reduceBlock(
  from: Float32Array,
  width: number,
  rows: number,
  side: number,
  to: Float32Array,
  at: number,
): void {
  for (let left = 0, i = at; left < width; left += side, i++) {
    const right = Math.min(width, left + side);
    let sum = 0;
    for (let y = 0; y < rows; y++) for (let x = left; x < right; x++) sum += from[y * width + x]!;
    to[i] = sum / (rows * (right - left));
  }
}
