import type { Quad } from '../operations/blend.ts';
import type { Surroundings } from './evaluation.ts';
import { loadPlane, wholeRows } from './load.ts';
import { prepareChanges } from './preparedChanges.ts';
import type { PlaceNode } from './plan.ts';
import { neededSamples, tapsOf, type Side, type Taps } from '../image/resample.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Window } from '../image/level.ts';
import { sideAtLevel } from '../image/level.ts';

const f = Math.fround;

/** How a placed source's columns and rows lie under those of the picture, at a level. */
export function placedSides({ size, placement, aspect, into }: PlaceNode, level: number): { across: Side; down: Side } {
  const side = (own: number, whole: number, shift: number, scale: number): Side => {
    const [small, large] = [sideAtLevel(own, level), sideAtLevel(whole, level)];
    // Centre on centre, then moved. Where nothing is scaled, by whole pixels, so that samples stay what they are.
    const free = (large - small) / 2 + shift / 2 ** level;
    const moved = scale === 1 && Number.isInteger(shift) ? Math.floor(free) : free;
    if (scale === 1) return { scale, start: -moved };
    const centre = large / 2 + shift / 2 ** level;
    return { scale, start: (0.5 - centre) / scale + small / 2 - 0.5 };
  };
  return {
    across: side(size.width, into.width, placement.shift[0], placement.scale * aspect),
    down: side(size.height, into.height, placement.shift[1], placement.scale),
  };
}

/**
 * Writes rows of a placed source: converted on its own pixels, then filtered; numbers that are no light are taken from the nearest sample.
 * Outside its data it is transparent, so that its edges are soft where they fall between pixels.
 */
export function placeRows(e: Surroundings, node: PlaceNode, top: number, end: number, to: Quad): void {
  const { heap, width } = e;
  const input = e.job.inputs[node.input]!;
  const window = input.window ?? wholeRows(e);
  const data = input.data ?? window;
  const { across, down } = placedSides(node, e.level);
  const [needTop, needEnd] = neededSamples(down, top, end);
  const [first, last] = [Math.max(needTop, window.y), Math.min(needEnd, window.y + window.height)];
  const rows = Math.max(0, last - first);
  const mark = heap.mark();
  const own = e.quad(Math.max(1, rows * window.width));
  const n = rows * window.width;
  const block = { x: window.x, y: first, width: window.width, height: rows };
  if (n > 0) {
    input.colour.forEach((plane, c) => loadPlane(e, plane, window, block, own[c]!));
    if (input.alpha) loadPlane(e, input.alpha, window, block, own[3]);
    else cover(heap.floats(own[3], n), data, block);
    const straight = e.plan.inputs[node.input]!.straight ?? false;
    prepareChanges(node.changes, e).run(own, { n, row: first, rows, alpha: true, straight });
  }
  const { data: isData } = e.plan.inputs[node.input]!;
  // Pixel on pixel, samples stay what they are: the filter would soften them.
  const filtered = (side: Side) => !isData && !(side.scale === 1 && Number.isInteger(side.start));
  const columns = tapsOf(across, 0, width, filtered(across));
  const lines = tapsOf(down, top, end, filtered(down));
  const along = heap.allocatePlane(Math.max(1, rows * width));
  own.forEach((plane, c) => {
    filterAlong(heap.floats(plane, Math.max(1, n)), block, columns, heap.floats(along, rows * width), width);
    filterDown(heap, along, block, lines, to[c]!, width);
  });
  heap.release(mark);
}

function cover(alpha: Float32Array, data: { x: number; y: number; width: number; height: number }, block: typeof data) {
  for (let y = 0; y < block.height; y++)
    for (let x = 0; x < block.width; x++) {
      const [px, py] = [block.x + x - data.x, block.y + y - data.y];
      alpha[y * block.width + x] = px >= 0 && py >= 0 && px < data.width && py < data.height ? 1 : 0;
    }
}

/** Rows into lines as wide as the picture; what lies outside the block is 0. */
function filterAlong(from: Float32Array, block: Window, taps: Taps, to: Float32Array, width: number): void {
  const { first, at, weights } = taps;
  const last = block.x + block.width;
  for (let x = 0; x < width; x++) {
    const begin = Math.max(first[x]!, block.x);
    const end = Math.min(first[x]! + at[x + 1]! - at[x]!, last);
    const weight = at[x]! - first[x]!;
    for (let y = 0; y < block.height; y++) {
      const row = y * block.width - block.x;
      let sum = 0;
      for (let j = begin; j < end; j++) sum = f(sum + f(weights[weight + j]! * from[row + j]!));
      to[y * width + x] = sum;
    }
  }
}

/** Lines together into rows. A kernel may run over a row's end: the next row is begun after it. */
function filterDown(heap: Heap, along: number, block: Window, taps: Taps, to: number, width: number): void {
  const { first, at, weights } = taps;
  const k = heap.kernels;
  for (let y = 0; y < first.length; y++) {
    const row = to + y * width * 4;
    k.fillPlane(row, width, 0);
    for (let i = at[y]!; i < at[y + 1]!; i++) {
      const line = first[y]! + i - at[y]! - block.y;
      if (line >= 0 && line < block.height) k.addScaled(row, along + line * width * 4, width, weights[i]!);
    }
  }
}
