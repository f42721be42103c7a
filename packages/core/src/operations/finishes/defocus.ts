import type { Heap } from '../../kernel/heap.ts';
import { dataPlanes, skyFrom } from '../mattes/dataPass.ts';
import { finish, type FinishBlock } from '../finish.ts';
import { choice, name, number } from '../parameters.ts';
import { rangeAround } from '../rangeAround.ts';
import { areaOf, placeSpans, spansOf, type Span } from './aperture.ts';

const parameters = {
  source: name('source', 'Source'),
  pass: name('pass', 'Depth', ['depth']),
  focus: number('Focus at', 10, [1e-3, 1e9], { soft: [0.1, 100], step: 0.1, pick: 'data' }),
  size: number('Blur of infinity', 8, [0, 100], { unit: 'px', soft: [0, 30], step: 0.5 }),
  most: number('At most', 20, [0, 100], { unit: 'px', soft: [0, 40], step: 0.5 }),
  blades: choice(
    'Aperture',
    [
      ['disc', 'Round'],
      ['six', 'Six blades'],
      ['five', 'Five blades'],
    ],
    'disc',
  ),
  none: choice(
    'Sky is',
    [
      ['far', 'behind all'],
      ['zero', 'behind all, stored as 0'],
    ],
    'far',
  ),
} as const;
type Block = FinishBlock<typeof parameters>;

export const defocus = finish({
  kind: 'defocus',
  title: 'Blur by focus',
  does: 'Each depth is spread over its circle of confusion, size · |1 − focus / depth| pixels in radius, from near to far, each depth taking what those before it left free, so that what is sharp in front does not bleed.',
  published:
    'the thin lens: M. Potmesil and I. Chakravarty, "A Lens and Aperture Camera Model", SIGGRAPH 1981; layers by "disjoint over", whose share of what lies behind is min(1, (1 − a) / b): the X Rendering Extension’s operators, after T. Porter and T. Duff, "Compositing Digital Images", SIGGRAPH 1984',
  search: ['defocus', 'depth of field', 'bokeh', 'lens', 'blur'],
  parameters,
  planes: (values, place) => dataPlanes(values, place, 1),
  nothing: ({ size, most }) => size === 0 || most === 0,
  reach: (values, level) => Math.ceil(largest(values, level)) + 2,
  run(block) {
    const { heap, width, from, fromTop, to, top, end, level, values } = block;
    const n = (end - top) * width;
    const mark = heap.mark();
    const radii = radiiOf(largest(values, level));
    const layers = layersOf(block, radii);
    // Light, alpha where the total has one, and how much is covered.
    const light = block.hasAlpha ? from : from.slice(0, 3);
    const total = [...light, 0].map(() => heap.allocatePlane(n));
    for (const plane of total) heap.kernels.fillPlane(plane, n, 0);
    const region: Region = { width, first: top - fromTop, last: end - fromTop };
    for (let layer = radii.length - 1; layer >= 0; layer--) {
      const layerMark = heap.mark();
      addLayer(heap, light, layers, layer, region, spansOf(Math.abs(radii[layer]!), values.blades), total);
      heap.release(layerMark);
    }
    // What is covered only in part (seams, the picture's edges, what was hidden) takes the light of what covers it.
    const covered = total[light.length]!;
    to.forEach((plane, c) => {
      const own = from[c]! + region.first * width * 4;
      if (c < light.length) heap.kernels.coveredOr(plane, total[c]!, covered, own, n, leastCovered);
      else heap.kernels.copyPlane(plane, own, n);
    });
    heap.release(mark);
  },
});

/** Covered by less, a pixel has no light to be told from: it keeps its own. */
const leastCovered = 1e-6;

/** The widest circle's radius, in pixels of a level. */
const largest = ({ most }: { readonly most: number }, level: number): number => most / 2 ** level;

/** Radii grow by a third or so: what is blurred widely need not be told apart so finely. */
const steps = [0, 0.7, 1.4, 2.2, 3.2, 4.5, 6.5, 9, 13, 18, 26, 36, 52, 72];

/** The layers' radii, from the farthest behind the focus to the nearest before it. */
function radiiOf(most: number): number[] {
  const behind = [...steps.filter((r) => r < most * 0.98), most];
  return [...behind.reverse(), ...behind.filter((r) => r > 0).map((r) => -r)].sort((a, b) => b - a);
}

/** Which layers pixels are of: planes in the heap. */
interface Layers {
  /** By pixel: a layer's number, and between two of them a share of each. */
  readonly places: number;
  /** By row: a bit for each layer of which it has any. */
  readonly has: Int32Array;
}

/**
 * The layers that pixels are of, by their circles of confusion. An edge's pixels go with what lies nearest: it is what they show. Where there is no
 * depth, all is in focus.
 */
function layersOf(block: Block, radii: readonly number[]): Layers {
  const { heap, planes, planesTop, planesEnd, fromTop, fromEnd, width, level, values } = block;
  const { focus, size, most, none } = values;
  const k = heap.kernels;
  const rows = fromEnd - fromTop;
  const places = heap.allocatePlane(rows * width);
  const mark = heap.mark();
  const radiiAt = heap.placeFloats(radii);
  const inFocus = heap.allocatePlane(width);
  const depths = heap.allocatePlane((planesEnd - planesTop) * width);
  k.surfaceDepths(depths, planes[0]![0], (planesEnd - planesTop) * width, skyFrom, none === 'zero' ? 1 : 0, leastDepth);
  const { low, stride } = rangeAround(heap, depths, width, planesEnd - planesTop, 1);
  k.fillPlane(inFocus, width, focus);
  const has = new Int32Array(rows);
  for (let y = fromTop, row = 0; y < fromEnd; y++, row++) {
    const nearest = y < planesTop || y >= planesEnd ? inFocus : low + (y - planesTop) * stride * 4;
    const place = places + row * width * 4;
    k.layerPlaces(place, nearest, width, size, focus, most, 1 / 2 ** level, radiiAt, radii.length);
    has[row] = k.layersOfRow(place, width);
  }
  heap.release(mark);
  return { places, has };
}

/** Nothing is nearer to the camera. */
const leastDepth = 1e-6;

/** The rows that are wanted, counted from the total's first. */
interface Region {
  readonly width: number;
  readonly first: number;
  readonly last: number;
}

/** Whether a row that has such layers has one of them. */
const isOf = (has: number, layer: number): boolean => ((has >>> layer) & 1) === 1;

/** The rows of a layer that reach those wanted; undefined for none. */
function rowsOfLayer({ has }: Layers, layer: number, from: number, to: number): [number, number] | undefined {
  let [top, end] = [from, to];
  while (top < end && !isOf(has[top]!, layer)) top++;
  while (end > top && !isOf(has[end - 1]!, layer)) end--;
  return top < end ? [top, end] : undefined;
}

/** Spreads a layer's light and lays it under what lies before it: its planes, and how much is covered. */
function addLayer(
  heap: Heap,
  light: readonly number[],
  layers: Layers,
  layer: number,
  { width, first, last }: Region,
  shape: readonly Span[],
  total: readonly number[],
): void {
  const k = heap.kernels;
  const spans = placeSpans(heap, shape);
  const { down, reach } = spans;
  const found = rowsOfLayer(layers, layer, Math.max(0, first - down), Math.min(layers.has.length, last + down));
  if (!found) return;
  const [start, stop] = [Math.max(first, found[0] - down), Math.min(last, found[1] + down)];
  const n = (stop - start) * width;
  const added = total.map(() => heap.allocatePlane(n));
  for (const plane of added) k.fillPlane(plane, n, 0);
  const [shares, bounds] = [heap.allocatePlane(width), heap.allocate(8)];
  const sums = heap.allocate((width + 1 + 2 * reach) * 8) + reach * 8;
  const ends = new Int32Array(k.memory.buffer, bounds, 2);
  let [leftmost, rightmost] = [width, 0];
  for (let y = found[0]; y < found[1]; y++) {
    if (!isOf(layers.has[y]!, layer)) continue;
    k.layerShares(shares, layers.places + y * width * 4, width, layer, bounds);
    const [left, right] = [ends[0]!, ends[1]!];
    if (left === right) continue;
    [leftmost, rightmost] = [Math.min(leftmost, left), Math.max(rightmost, right)];
    for (let c = 0; c < total.length; c++) {
      k.rowSums(sums, c < light.length ? light[c]! + y * width * 4 : 0, shares, left, right, reach, width);
      k.spreadRow(added[c]!, width, stop - start, y - start, sums, left, right, spans.at, spans.count);
    }
  }
  if (rightmost === 0) return;
  const begin = Math.max(0, leftmost - reach);
  const end = Math.min(width, rightmost + reach);
  const each = 1 / areaOf(shape);
  for (let y = start; y < stop; y++) {
    const [of, at] = [((y - start) * width + begin) * 4, ((y - first) * width + begin) * 4];
    for (let c = 0; c < total.length; c++)
      k.layUnder(
        total[c]! + at,
        added[c]! + of,
        added[light.length]! + of,
        total[light.length]! + at,
        end - begin,
        each,
      );
  }
}
