import {
  evaluate,
  stepsOf,
  type Evaluation,
  type Heap,
  type InputPlanes,
  type Plan,
  type Plane,
  type PreparedProcessor,
  type Window,
} from '@june-haze/core';
import type { PictureJob, ProbeAnswer } from './messages.ts';

/** The means of a region's numbers, of one pixel its own: its rows are evaluated again by themselves. `view` lies in the heap. */
export function probe(
  job: PictureJob,
  place: Omit<Evaluation, 'onBand' | 'firstRow' | 'rows'>,
  heap: Heap,
  view: PreparedProcessor,
  region: Window,
): ProbeAnswer {
  const { width } = job;
  const { x, y, width: across, height: down } = region;
  const working: [number, number, number, number] = [0, 0, 0, 0];
  const codes: [number, number, number] = [0, 0, 0];
  const pixels = across * down;
  evaluate(job.plan, heap, {
    ...place,
    firstRow: y,
    rows: down,
    onBand: (_row, rows, total, h) => {
      total.forEach((p, c) => (working[c]! += sumOf(h.floats(p, rows * width), rows, width, x, across) / pixels));
      view(total[0], total[1], total[2], rows * width);
      const at = h.allocate(rows * width * 4);
      h.kernels.packCodes(total[0], total[1], total[2], at, rows * width);
      const packed = h.bytes(at, rows * width * 4);
      for (let row = 0; row < rows; row++)
        for (let i = 4 * (row * width + x), n = 0; n < across; n++, i += 4)
          for (let c = 0; c < 3; c++) codes[c]! += packed[i + c]! / pixels;
    },
  });
  const index = declaredInput(job.plan);
  const sourceId = index === undefined ? undefined : job.plan.inputs[index]!.sourceId;
  const values = index === undefined ? undefined : declaredIn(heap, place.inputs[index], region);
  return { declared: sourceId !== undefined && values ? { sourceId, values } : undefined, working, codes, pixels };
}

function sumOf(plane: Float32Array, rows: number, width: number, x: number, across: number): number {
  let sum = 0;
  for (let row = 0; row < rows; row++) for (let i = row * width + x, n = 0; n < across; n++, i++) sum += plane[i]!;
  return sum;
}

/** Whose numbers are shown as they are declared: the beauty's, else those of the first pass that lies as it is. */
function declaredInput(plan: Plan): number | undefined {
  const against = plan.balance?.picture;
  if (against?.kind === 'input') return against.input;
  for (const { picture } of stepsOf(plan)) if (picture.kind === 'input') return picture.input;
  return undefined;
}

/** The means of an input's own numbers; undefined where it does not hold all of the region. */
function declaredIn(
  heap: Heap,
  input: InputPlanes | undefined,
  { x, y, width, height }: Window,
): [number, number, number] | undefined {
  const window = input?.window;
  if (!input || !window || y + height > window.height || x + width > window.width) return undefined;
  return input.colour.map((p) => {
    let sum = 0;
    for (let row = y; row < y + height; row++)
      for (let column = x; column < x + width; column++) sum += toFloat(heap, p, row * window.width + column);
    return sum / (width * height);
  }) as [number, number, number];
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
