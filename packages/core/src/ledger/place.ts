import type { Quad } from '../operations/blend.ts';
import type { Surroundings } from './evaluation.ts';
import { loadPlane, wholeRows } from './load.ts';
import { prepareChanges } from './preparedChanges.ts';
import type { PlaceNode } from './plan.ts';
import { filterTaps, nearestTaps, neededSamples, type Side, type Taps } from './resample.ts';
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
  const tapsOf = (side: Side) =>
    isData || (side.scale === 1 && Number.isInteger(side.start)) ? nearestTaps : filterTaps;
  const [acrossTaps, downTaps] = [tapsOf(across), tapsOf(down)];
  const columns = Array.from({ length: width }, (_, x) => acrossTaps(across, x));
  const lines = Array.from({ length: end - top }, (_, y) => downTaps(down, top + y));
  own.forEach((plane, c) => {
    const samples = heap.floats(plane, Math.max(1, n));
    filterPlane(samples, { ...block }, columns, lines, heap.floats(to[c]!, (end - top) * width), width);
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

/** Rows first into lines as wide as the picture, then those together; what lies outside the block is 0. */
function filterPlane(
  from: Float32Array,
  block: { readonly x: number; readonly y: number; readonly width: number; readonly height: number },
  columns: readonly Taps[],
  lines: readonly Taps[],
  to: Float32Array,
  width: number,
): void {
  const along = new Float32Array(block.height * width);
  for (let y = 0; y < block.height; y++)
    for (let x = 0; x < width; x++) {
      const { first, weights } = columns[x]!;
      let sum = 0;
      for (let j = 0; j < weights.length; j++) {
        const at = first + j - block.x;
        if (at >= 0 && at < block.width) sum = f(sum + f(weights[j]! * from[y * block.width + at]!));
      }
      along[y * width + x] = sum;
    }
  lines.forEach(({ first, weights }, y) => {
    const row = to.subarray(y * width, (y + 1) * width);
    row.fill(0);
    for (let j = 0; j < weights.length; j++) {
      const at = first + j - block.y;
      if (at < 0 || at >= block.height) continue;
      const w = weights[j]!;
      for (let x = 0; x < width; x++) row[x] = f(row[x]! + f(w * along[at * width + x]!));
    }
  });
}
