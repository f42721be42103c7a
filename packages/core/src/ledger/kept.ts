import type { Heap } from '../kernel/heap.ts';
import type { Evaluation, KeptPicture } from './evaluation.ts';
import { Evaluator } from './evaluator.ts';
import { loadPicture } from './load.ts';
import type { Plan, PlanStep } from './plan.ts';
import { prepareChanges } from './preparedChanges.ts';

/** Kinds of colour steps that are cheap to tell apart: tables and cubes are not written out for a key. */
const plainKinds: ReadonlySet<string> = new Set([
  'matrix',
  'encode',
  'decode',
  'encodeLog',
  'decodeLog',
  'power',
  'clamp',
  'encodePq',
  'decodePq',
]);

/**
 * What tells a step's picture, converted and adjusted, from another of the same files, frame and level; undefined for one that is not worth
 * keeping or that cannot be told by a few words.
 */
export function keptKey(plan: Plan, { picture, changes }: PlanStep): string | undefined {
  if (picture.kind !== 'input') return undefined;
  if (changes.some((c) => c.matte || c.steps.some((s) => !plainKinds.has(s.kind)))) return undefined;
  return JSON.stringify([plan.inputs[picture.input], changes]);
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
