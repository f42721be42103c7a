import type { Heap } from '../../kernel/heap.ts';
import { dataPlanes, skyFrom } from '../mattes/dataPass.ts';
import { finish, type FinishBlock } from '../finish.ts';
import { choice, name, number } from '../parameters.ts';
import { rangeAround } from '../rangeAround.ts';
import { areaOf, spansOf, spread, type LayerRows, type Span } from './aperture.ts';

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
  does: 'Each depth is spread over its circle of confusion, size · |1 − focus / depth| pixels in radius, from far to near, so that what is sharp in front does not bleed.',
  published:
    'the thin lens: M. Potmesil and I. Chakravarty, "A Lens and Aperture Camera Model", SIGGRAPH 1981; layers from far to near by "over" (Porter and Duff, 1984)',
  search: ['defocus', 'depth of field', 'bokeh', 'lens', 'blur'],
  parameters,
  planes: (values, place) => dataPlanes(values, place, 1),
  nothing: ({ size, most }) => size === 0 || most === 0,
  reach: (values, level) => Math.ceil(largest(values, level)) + 2,
  run(block) {
    const { heap, width, from, fromTop, fromEnd, to, top, end, level, values } = block;
    const rows = fromEnd - fromTop;
    const n = (end - top) * width;
    const mark = heap.mark();
    const radii = radiiOf(largest(values, level));
    const layers = layersOf(circlesOf(block), radii, width, rows);
    // Light, alpha where the total has one, and how much is covered.
    const light = block.hasAlpha ? from : from.slice(0, 3);
    const total = [...light, 0].map(() => heap.allocatePlane(n));
    for (const plane of total) heap.kernels.fillPlane(plane, n, 0);
    const region: Region = { width, rows, first: top - fromTop, last: end - fromTop };
    radii.forEach((radius, layer) => {
      const spans = spansOf(Math.abs(radius), values.blades);
      const layerMark = heap.mark();
      addLayer(heap, light, rowsOfLayer(heap, layers, layer), region, spans, total);
      heap.release(layerMark);
    });
    // What is covered only in part (seams, the picture's edges, what was hidden) takes the light of what covers it.
    const covered = total[light.length]!;
    to.forEach((plane, c) => {
      if (c < light.length) heap.kernels.dividePlanes(total[c]!, covered, n);
      heap.kernels.copyPlane(plane, c < light.length ? total[c]! : from[c]! + region.first * width * 4, n);
    });
    const out = to.map((p) => heap.floats(p, n));
    const own = from.map((p) => heap.floats(p + region.first * width * 4, n));
    heap.floats(covered, n).forEach((cover, i) => {
      if (!(cover > leastCovered)) for (let c = 0; c < light.length; c++) out[c]![i] = own[c]![i]!;
    });
    heap.release(mark);
  },
});

/** Covered by less, a pixel has no light to be told from: it keeps its own. */
const leastCovered = 1e-6;

/** The widest circle's radius, in pixels of a level. */
const largest = ({ most }: { readonly most: number }, level: number): number => most / 2 ** level;

/** Circles of confusion by pixel, behind the focus above 0 and before it below. An edge's pixels go with what lies nearest: it is what they show. */
function circlesOf({
  heap,
  planes,
  planesTop,
  planesEnd,
  fromTop,
  fromEnd,
  width,
  level,
  values,
}: Block): Float32Array {
  const { focus, size, most, none } = values;
  const rows = planesEnd - planesTop;
  const depths = heap.floats(planes[0]![0], rows * width).slice();
  for (let i = 0; i < depths.length; i++) {
    const d = depths[i]!;
    depths[i] = !(d < skyFrom) || (none === 'zero' && d === 0) ? skyFrom : Math.max(d, 1e-6);
  }
  const mark = heap.mark();
  const { low, stride } = rangeAround(heap, depths, width, rows, 1);
  const out = new Float32Array((fromEnd - fromTop) * width);
  const scale = 1 / 2 ** level;
  for (let y = Math.max(fromTop, planesTop); y < Math.min(fromEnd, planesEnd); y++)
    for (let x = 0, i = (y - fromTop) * width, at = (y - planesTop) * stride; x < width; x++, i++, at++) {
      const circle = size * (1 - focus / low[at]!);
      out[i] = Math.min(most, Math.max(-most, circle)) * scale;
    }
  heap.release(mark);
  return out;
}

/** Radii grow by a third or so: what is blurred widely need not be told apart so finely. */
const steps = [0, 0.7, 1.4, 2.2, 3.2, 4.5, 6.5, 9, 13, 18, 26, 36, 52, 72];

/** The layers' radii, from the farthest behind the focus to the nearest before it. */
function radiiOf(most: number): number[] {
  const behind = [...steps.filter((r) => r < most * 0.98), most];
  return [...behind.reverse(), ...behind.filter((r) => r > 0).map((r) => -r)].sort((a, b) => b - a);
}

/** Which layers pixels are of: each of the one whose radius lies next above its circle by a share, and by the rest of the next. */
interface Layers {
  readonly width: number;
  readonly rows: number;
  readonly upper: Uint8Array;
  readonly share: Float32Array;
  /** By layer and row: the first pixel of it, and the one after its last; 0 and 0 for none. */
  readonly from: Int32Array;
  readonly to: Int32Array;
}

function layersOf(circles: Float32Array, radii: readonly number[], width: number, rows: number): Layers {
  const upper = new Uint8Array(circles.length);
  const share = new Float32Array(circles.length);
  const [from, to] = [new Int32Array(radii.length * rows), new Int32Array(radii.length * rows)];
  const note = (layer: number, y: number, x: number) => {
    const at = layer * rows + y;
    if (to[at] === 0) from[at] = x;
    to[at] = x + 1;
  };
  const last = radii.length - 1;
  for (let y = 0, i = 0, layer = 0; y < rows; y++)
    for (let x = 0; x < width; x++, i++) {
      const circle = circles[i]!;
      // Neighbours are mostly of the same layer.
      while (layer > 0 && circle > radii[layer]!) layer--;
      while (layer < last && circle <= radii[layer + 1]!) layer++;
      upper[i] = layer;
      const below = layer < last ? radii[layer + 1]! : -Infinity;
      share[i] = circle >= radii[layer]! || layer === last ? 1 : (circle - below) / (radii[layer]! - below);
      note(layer, y, x);
      if (share[i]! < 1) note(layer + 1, y, x);
    }
  return { width, rows, upper, share, from, to };
}

/** How much of each pixel is of a layer, row by row, in the heap until the caller's mark is released. */
function rowsOfLayer(heap: Heap, { width, rows, upper, share, from, to }: Layers, layer: number): LayerRows {
  const at = heap.allocatePlane(width);
  return (y) => {
    const place = layer * rows + y;
    const [left, right] = [from[place]!, to[place]!];
    const shares = heap.floats(at, width);
    for (let k = 0, i = y * width + left; k < right - left; k++, i++) {
      const own = upper[i]!;
      shares[k] = own === layer ? share[i]! : own === layer - 1 ? 1 - share[i]! : 0;
    }
    return { left, right, shares: at };
  };
}

interface Region {
  readonly width: number;
  readonly rows: number;
  /** Of those, the rows that are wanted. */
  readonly first: number;
  readonly last: number;
}

/** Spreads a layer's light and lays it over what lies behind it: its planes, and how much is covered. */
function addLayer(
  heap: Heap,
  light: readonly number[],
  rowAt: LayerRows,
  { width, rows, first, last }: Region,
  spans: readonly Span[],
  total: readonly number[],
): void {
  const down = Math.max(...spans.map((s) => Math.abs(s.down)));
  const [from, to] = [Math.max(0, first - down), Math.min(rows, last + down)];
  // What of the picture it lies in.
  let [lowest, highest, left, right] = [Infinity, -Infinity, width, 0];
  for (let y = from; y < to; y++) {
    const row = rowAt(y);
    if (row.left === row.right) continue;
    if (y < lowest) lowest = y;
    highest = y;
    left = Math.min(left, row.left);
    right = Math.max(right, row.right);
  }
  if (highest < lowest) return;
  const area = areaOf(spans);
  const [start, stop] = [Math.max(first, lowest - down), Math.min(last, highest + down + 1)];
  const rowsSpread = { width, from: lowest, to: highest + 1 };
  const added = spread(heap, [...light, 0], rowAt, rowsSpread, spans, start, stop);
  const across = Math.ceil(Math.max(...spans.map((s) => s.half))) + 1;
  const [begin, end] = [Math.max(0, left - across), Math.min(width, right + across)];
  for (let y = start; y < stop; y++) {
    const [of, to] = [((y - start) * width + begin) * 8, ((y - first) * width + begin) * 4];
    for (let c = 0; c < total.length; c++)
      heap.kernels.layOver(total[c]! + to, added[c]! + of, added[light.length]! + of, end - begin, 1 / area);
  }
}
