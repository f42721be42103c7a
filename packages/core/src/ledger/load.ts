import type { Plane } from '../exr/plane.ts';
import type { Quad } from '../operations/blend.ts';
import type { Surroundings } from './evaluation.ts';
import type { Window } from '../image/level.ts';
import type { InputPlanes } from './evaluation.ts';
import type { Laid, Planes } from './plan.ts';

/** How colour that was loaded relates to its alpha. */
export interface Loaded {
  readonly alpha: boolean;
  /** Not multiplied by alpha yet. */
  readonly straight: boolean;
}

/**
 * Brings rows of a picture into four planes: floats, in its own space. Outside its data a source is transparent; where the rows are not all
 * data, a source without alpha has one that says so.
 */
export function loadPicture(e: Surroundings, picture: Laid, row: number, rows: number, to: Quad): Loaded {
  const { heap, width } = e;
  const n = rows * width;
  if (picture.kind === 'fill') {
    picture.value.forEach((v, c) => heap.kernels.fillPlane(to[c]!, n, v));
    return { alpha: true, straight: true };
  }
  if (picture.kind === 'node') {
    copyRows(e, picture.node, row, rows, to);
    return { alpha: picture.alpha, straight: false };
  }
  const alpha = loadInput(e, e.job.inputs[picture.input]!, row, rows, to);
  return { alpha, straight: alpha && (e.plan.inputs[picture.input]!.straight ?? false) };
}

/** The same for planes that a matte or a beginning alpha reads: light is premultiplied; what has no fourth plane has 1 there. */
export function loadPlanes(e: Surroundings, planes: Planes, row: number, rows: number, to: Quad): void {
  if (planes.kind === 'node') return copyRows(e, planes.node, row, rows, to);
  const { kernels: k } = e.heap;
  const n = rows * e.width;
  if (!loadInput(e, e.job.inputs[planes.input]!, row, rows, to)) k.fillPlane(to[3], n, 1);
  else if (e.plan.inputs[planes.input]!.straight) for (let c = 0; c < 3; c++) k.multiplyPlanes(to[c]!, to[3], n);
}

function copyRows(e: Surroundings, node: number, row: number, rows: number, to: Quad): void {
  const made = e.rows(node, row, row + rows);
  const at = (row - made.top) * e.width * 4;
  made.quad.forEach((p, c) => e.heap.kernels.copyPlane(to[c]!, p + at, rows * e.width));
}

/** The rows asked for, whole. */
export const wholeRows = (e: Surroundings): Window => ({ x: 0, y: e.top, width: e.width, height: e.job.rows });

/** Brings an input's rows into planes; returns whether it has alpha. */
function loadInput(e: Surroundings, input: InputPlanes, row: number, rows: number, to: Quad): boolean {
  const { heap, width } = e;
  const window = input.window ?? wholeRows(e);
  const block = { x: 0, y: row, width, height: rows };
  const [first] = input.colour;
  const same = input.colour.every((p) => p === first);
  input.colour.forEach((plane, c) => {
    if (c > 0 && same) heap.kernels.copyPlane(to[c]!, to[0], rows * width);
    else loadPlane(e, plane, window, block, to[c]!);
  });
  const covered = contains(input.data ?? window, block);
  if (input.alpha) loadPlane(e, input.alpha, window, block, to[3]);
  else if (covered) return false;
  else fillCovered(heap.floats(to[3], rows * width), input.data ?? window, block);
  return true;
}

/** 1 where a window covers a block, 0 elsewhere. */
function fillCovered(alpha: Float32Array, data: Window, block: Window): void {
  alpha.fill(0);
  const [left, right] = [Math.max(block.x, data.x), Math.min(block.x + block.width, data.x + data.width)];
  for (let y = Math.max(block.y, data.y); y < Math.min(block.y + block.height, data.y + data.height); y++)
    if (right > left)
      alpha.fill(1, (y - block.y) * block.width + left - block.x, (y - block.y) * block.width + right - block.x);
}

const contains = (outer: Window, inner: Window): boolean =>
  outer.x <= inner.x &&
  outer.y <= inner.y &&
  outer.x + outer.width >= inner.x + inner.width &&
  outer.y + outer.height >= inner.y + inner.height;

/** Samples of a window over a block; 0 outside. Halves become floats. */
export function loadPlane({ heap }: Surroundings, plane: Plane, window: Window, block: Window, to: number): void {
  const n = block.width * block.height;
  const mark = heap.mark();
  const half = plane instanceof Uint16Array;
  const at = half ? heap.allocate(n * 2) : to;
  const target = half ? heap.halves(at, n) : heap.floats(at, n);
  if (window.x === block.x && window.width === block.width && contains(window, block)) {
    const from = (block.y - window.y) * window.width;
    target.set(plane.subarray(from, from + n));
  } else {
    target.fill(0);
    const [left, right] = [Math.max(block.x, window.x), Math.min(block.x + block.width, window.x + window.width)];
    const [upper, lower] = [Math.max(block.y, window.y), Math.min(block.y + block.height, window.y + window.height)];
    for (let y = upper; right > left && y < lower; y++) {
      const from = (y - window.y) * window.width - window.x;
      target.set(plane.subarray(from + left, from + right), (y - block.y) * block.width + left - block.x);
    }
  }
  if (half) heap.kernels.halfToFloat(at, to, n);
  heap.release(mark);
}
