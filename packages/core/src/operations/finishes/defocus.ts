import type { Heap } from '../../kernel/heap.ts';
import { dataPlanes, skyFrom } from '../mattes/dataPass.ts';
import { finish, type FinishBlock } from '../finish.ts';
import { choice, name, number } from '../parameters.ts';
import { areaOf, spansOf, spread, type Span } from './aperture.ts';

const f = Math.fround;

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
    // Memory that grows leaves views of it behind: what the layers need is there before the first view.
    const room = heap.mark();
    heap.allocate(5 * (8 * n + 64) + 8 * (width + 2 * largest(values, level) + 16));
    heap.release(room);
    const light = from.map((p) => heap.floats(p, rows * width));
    const circles = circlesOf(block);
    const total = [0, 1, 2, 3, 4].map(() => new Float32Array(n));
    const region: Region = { width, rows, first: top - fromTop, last: end - fromTop };
    for (const layer of layersOf(largest(values, level))) {
      const spans = spansOf(Math.abs(layer.radius), values.blades);
      const mark = heap.mark();
      addLayer(heap, light, circles, layer, region, spans, total);
      heap.release(mark);
    }
    const out = to.map((p) => heap.floats(p, n));
    // What is covered only in part (seams, the picture's edges, what was hidden) takes the light of what covers it.
    for (let i = 0; i < n; i++) {
      const covered = total[4]![i]!;
      for (let c = 0; c < 4; c++)
        out[c]![i] = covered > 1e-6 ? f(total[c]![i]! / covered) : light[c]![region.first * width + i]!;
    }
  },
});

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
  const raw = heap.floats(planes[0]![0], (planesEnd - planesTop) * width);
  const depthAt = (at: number) => {
    const d = raw[at]!;
    return !(d < skyFrom) || (none === 'zero' && d === 0) ? skyFrom : Math.max(d, 1e-6);
  };
  const rows = planesEnd - planesTop;
  const nearestAlong = new Float32Array(rows * width);
  for (let i = 0, y = 0; y < rows; y++)
    for (let x = 0; x < width; x++, i++) {
      const own = depthAt(i);
      const [left, right] = [x > 0 ? depthAt(i - 1) : own, x + 1 < width ? depthAt(i + 1) : own];
      nearestAlong[i] = Math.min(own, left, right);
    }
  const out = new Float32Array((fromEnd - fromTop) * width);
  for (let y = Math.max(fromTop, planesTop); y < Math.min(fromEnd, planesEnd); y++)
    for (let x = 0, i = (y - planesTop) * width; x < width; x++, i++) {
      const [above, below] = [y > planesTop ? i - width : i, y + 1 < planesEnd ? i + width : i];
      const nearest = Math.min(nearestAlong[i]!, nearestAlong[above]!, nearestAlong[below]!);
      const circle = size * (1 - focus / nearest);
      out[(y - fromTop) * width + x] = Math.min(most, Math.max(-most, circle)) / 2 ** level;
    }
  return out;
}

/** A layer: pixels by how near their circle lies to its radius, each of two neighbours taking its share. */
interface Layer {
  readonly radius: number;
  readonly below: number;
  readonly above: number;
}

/** Radii grow by a third or so: what is blurred widely need not be told apart so finely. */
const radii = [0, 0.7, 1.4, 2.2, 3.2, 4.5, 6.5, 9, 13, 18, 26, 36, 52, 72];

/** From the farthest behind the focus to the nearest before it. */
function layersOf(most: number): Layer[] {
  const behind = [...radii.filter((r) => r < most * 0.98), most];
  const all = [...behind.reverse(), ...behind.filter((r) => r > 0).map((r) => -r)].sort((a, b) => b - a);
  return all.map((radius, i) => ({ radius, above: all[i - 1] ?? Infinity, below: all[i + 1] ?? -Infinity }));
}

/** How much of a pixel is of a layer: all at its radius, falling to nothing at its neighbours'. */
function shareOf(circle: number, { radius, above, below }: Layer): number {
  if (circle === radius) return 1;
  if (circle > radius) return above === Infinity ? 1 : Math.max(0, (above - circle) / (above - radius));
  return below === -Infinity ? 1 : Math.max(0, (circle - below) / (radius - below));
}

interface Region {
  readonly width: number;
  readonly rows: number;
  /** Of those, the rows that are wanted. */
  readonly first: number;
  readonly last: number;
}

/** Spreads a layer's light and lays it over what lies behind it: five planes, the last of which is how much is covered. */
function addLayer(
  heap: Heap,
  light: readonly Float32Array[],
  circles: Float32Array,
  layer: Layer,
  { width, rows, first, last }: Region,
  spans: readonly Span[],
  total: readonly Float32Array[],
): void {
  const down = Math.max(...spans.map((s) => Math.abs(s.down)));
  const [from, to] = [Math.max(0, first - down), Math.min(rows, last + down)];
  const share = new Float32Array((to - from) * width);
  // The rows that it lies in.
  let [lowest, highest] = [Infinity, -Infinity];
  for (let y = from, i = 0, at = from * width; y < to; y++)
    for (let x = 0; x < width; x++, i++, at++) {
      const circle = circles[at]!;
      if (circle <= layer.below || circle >= layer.above) continue;
      share[i] = shareOf(circle, layer);
      if (y < lowest) lowest = y;
      highest = y;
    }
  if (highest < lowest) return;
  const area = areaOf(spans);
  const rowsOf = (plane: Float32Array) => plane.subarray(from * width, to * width);
  const added = spread(heap, [...light.map(rowsOf), undefined], share, width, spans, first - from, last - from);
  const [start, stop] = [Math.max(first, lowest - down), Math.min(last, highest + down + 1)];
  const [r, g, b, a, all] = added as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array];
  const [toR, toG, toB, toA, toAll] = total as [Float32Array, Float32Array, Float32Array, Float32Array, Float32Array];
  for (let i = (start - first) * width; i < (stop - first) * width; i++) {
    const own = all[i]! / area;
    if (own === 0) continue;
    const behind = own < 1 ? 1 - own : 0;
    toR[i] = f(toR[i]! * behind + r[i]! / area);
    toG[i] = f(toG[i]! * behind + g[i]! / area);
    toB[i] = f(toB[i]! * behind + b[i]! / area);
    toA[i] = f(toA[i]! * behind + a[i]! / area);
    toAll[i] = f(toAll[i]! * behind + own);
  }
}
