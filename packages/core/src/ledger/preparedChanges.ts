import { prepareFindCut } from '../colour/lookClip.ts';
import { prepareSteps } from '../colour/prepare.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Quad } from '../operations/blend.ts';
import type { Surroundings } from './evaluation.ts';
import { mattePlane } from './matteBlock.ts';
import type { Change } from './plan.ts';
import type { RowStatistics } from './statistics.ts';

/** A block that changes run over. */
export interface ChangeBlock {
  readonly n: number;
  readonly row: number;
  readonly rows: number;
  readonly alpha: boolean;
  readonly straight: boolean;
  /** The entry whose cut-off colours are counted; none are where left out. */
  readonly counted?: number;
}

/** Changes whose constants lie in a heap. Colour is premultiplied after them. */
export interface PreparedChanges {
  run(quad: Quad, block: ChangeBlock): void;
}

/** Places what changes need in the evaluator's heap. */
export function prepareChanges(changes: readonly Change[], e: Surroundings): PreparedChanges {
  const { heap, statistics } = e;
  const prepared = changes.map((change) => ({
    change,
    process: prepareSteps(change.steps, heap),
    count: statistics ? prepareFindCut(change.steps, heap) : undefined,
  }));
  return {
    run(quad, block) {
      let { straight } = block;
      for (const { change, process, count } of prepared) {
        const body = () => {
          if (count && statistics && block.counted !== undefined)
            countCuts(heap, count, quad, block.n, block.counted, statistics);
          process(quad[0], quad[1], quad[2], block.n);
        };
        const how = { alpha: block.alpha, isStraight: straight, bends: change.alpha === 'straight' };
        if (change.matte) {
          if (straight) multiplyAlpha(heap, quad, block.n);
          limited(e, change, quad, block, () => changeColour(heap, quad, block.n, { ...how, isStraight: false }, body));
        } else changeColour(heap, quad, block.n, how, body);
        straight = false;
      }
      if (straight) multiplyAlpha(heap, quad, block.n);
    },
  };
}

function multiplyAlpha(heap: Heap, quad: Quad, n: number): void {
  for (let c = 0; c < 3; c++) heap.kernels.multiplyPlanes(quad[c]!, quad[3], n);
}

/** Changes colour where a matte says so; the matte is of what the change begins with. */
function limited(e: Surroundings, change: Change, quad: Quad, block: ChangeBlock, run: () => void): void {
  const { heap } = e;
  const k = heap.kernels;
  const { n, row, rows, alpha } = block;
  const mark = heap.mark();
  const before = [0, 1, 2].map((c) => copyPlane(heap, quad[c]!, n));
  const amount = heap.allocatePlane(n);
  mattePlane(e, change.matte!, { subject: quad, alpha, row, rows, to: amount });
  run();
  before.forEach((p, c) => {
    k.mixByMatte(p, quad[c]!, amount, n, 1);
    k.copyPlane(quad[c]!, p, n);
  });
  heap.release(mark);
}

/** Counts what a table or cube cuts off, on copies. */
function countCuts(
  heap: Heap,
  count: NonNullable<ReturnType<typeof prepareFindCut>>,
  quad: Quad,
  n: number,
  entry: number,
  statistics: RowStatistics,
): void {
  const mark = heap.mark();
  const [r, g, b] = quad.slice(0, 3).map((p) => copyPlane(heap, p, n)) as [number, number, number];
  statistics.cutOff[entry]! += count(r, g, b, n);
  statistics.tabled[entry]! += n;
  heap.release(mark);
}

/**
 * Changes a quad's colour with its alpha heeded; the result is premultiplied. Changes that bend work on straight colour: divided by alpha
 * before, unless it is straight already, and multiplied after; where alpha is 0 there is no straight colour, and it stays as it was.
 * Colour that has no alpha (`alpha` false) is changed as it is.
 */
export function changeColour(
  heap: Heap,
  [r, g, b, a]: Quad,
  n: number,
  { alpha, isStraight, bends }: { readonly alpha: boolean; readonly isStraight: boolean; readonly bends: boolean },
  change: () => void,
): void {
  const k = heap.kernels;
  const planes = [r, g, b];
  const mark = heap.mark();
  const before = alpha && bends && !isStraight ? planes.map((p) => copyPlane(heap, p, n)) : undefined;
  if (before) for (const p of planes) k.dividePlanes(p, a, n);
  change();
  if (before) planes.forEach((p, c) => k.restorePlanes(p, a, before[c]!, n));
  else if (alpha && isStraight) for (const p of planes) k.multiplyPlanes(p, a, n);
  heap.release(mark);
}

function copyPlane(heap: Heap, plane: number, n: number): number {
  const copy = heap.allocatePlane(n);
  heap.kernels.copyPlane(copy, plane, n);
  return copy;
}
