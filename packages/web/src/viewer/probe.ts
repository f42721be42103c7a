import {
  evaluate,
  stepsOf,
  type Evaluation,
  type Heap,
  type InputPlanes,
  type Plan,
  type Plane,
  type PreparedProcessor,
} from '@june-haze/core';
import type { PictureJob, ProbeAnswer } from './messages.ts';

/** One pixel's numbers: its row is evaluated again by itself. `view` lies in the heap. */
export function probe(
  job: PictureJob,
  place: Omit<Evaluation, 'onBand' | 'firstRow' | 'rows'>,
  heap: Heap,
  view: PreparedProcessor,
  x: number,
  y: number,
): ProbeAnswer {
  let working: [number, number, number, number] = [0, 0, 0, 0];
  let codes: [number, number, number] = [0, 0, 0];
  evaluate(job.plan, heap, {
    ...place,
    firstRow: y,
    rows: 1,
    onBand: (_row, _count, total, h) => {
      working = total.map((p) => h.floats(p, job.width)[x]!) as typeof working;
      view(total[0], total[1], total[2], job.width);
      const at = h.allocate(job.width * 4);
      h.kernels.packCodes(total[0], total[1], total[2], at, job.width);
      codes = [...h.bytes(at, job.width * 4).slice(x * 4, x * 4 + 3)] as typeof codes;
    },
  });
  const index = declaredInput(job.plan);
  const sourceId = index === undefined ? undefined : job.plan.inputs[index]!.sourceId;
  const values = index === undefined ? undefined : declaredAt(heap, place.inputs[index], x, y);
  return { declared: sourceId !== undefined && values ? { sourceId, values } : undefined, working, codes };
}

/** Whose numbers are shown as they are declared: the beauty's, else those of the first pass that lies as it is. */
function declaredInput(plan: Plan): number | undefined {
  const against = plan.balance?.picture;
  if (against?.kind === 'input') return against.input;
  for (const { picture } of stepsOf(plan)) if (picture.kind === 'input') return picture.input;
  return undefined;
}

/** An input's own numbers at a pixel; undefined where it holds none. */
function declaredAt(
  heap: Heap,
  input: InputPlanes | undefined,
  x: number,
  y: number,
): [number, number, number] | undefined {
  const window = input?.window;
  if (!input || !window || y >= window.height || x >= window.width) return undefined;
  return input.colour.map((p) => toFloat(heap, p, y * window.width + x)) as [number, number, number];
}

function toFloat(heap: Heap, plane: Plane, i: number): number {
  if (!(plane instanceof Uint16Array)) return plane[i]!;
  const mark = heap.mark();
  const [narrow, wide] = [heap.allocate(16), heap.allocatePlane(4)];
  heap.halves(narrow, 1)[0] = plane[i]!;
  heap.kernels.halfToFloat(narrow, wide, 1);
  const value = heap.floats(wide, 1)[0]!;
  heap.release(mark);
  return value;
}
