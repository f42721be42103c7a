import type { Heap } from '../../kernel/heap.ts';
import { dataPlanes, skyFrom } from '../mattes/dataPass.ts';
import { finish, type FinishBlock } from '../finish.ts';
import { choice, name, number, numbers, onlyWith } from '../parameters.ts';
import { exp2Exact } from '../../kernel/exactPower.ts';
import { edgeReach } from '../depthSides.ts';
import { eachEdgePixel } from './depthEdges.ts';
import { filterPlane, gaussianReach, gaussianWeights } from './gaussian.ts';

const f = Math.fround;
/** log2 of e. */
const log2e = 1.4426950408889634;

export const haze = finish({
  kind: 'haze',
  title: 'Haze',
  does: 'Light is lost over distance and the colour of the haze takes its place: T + a · (1 − t) · (colour − T), t = e^(−density · (depth − start)); where alpha is 0 light stays. With a thickness above 0 its density falls exponentially with height, seen from the camera. Of the light that is lost a share may come scattered: blurred, it joins the colour of the haze. At soft edges both sides are hazed by their own depth.',
  published:
    'the law of Bouguer, Lambert and Beer (exponential extinction); H. Koschmieder, "Theorie der horizontalen Sichtweite", 1924 (airlight); density falling with height integrated along the ray: C. Wenzel, SIGGRAPH 2006 course 26; scattered light as a spread of the picture: S. G. Narasimhan and S. K. Nayar, "Shedding Light on the Weather", CVPR 2003, its spread here a Gaussian',
  search: ['fog', 'mist', 'atmosphere', 'depth', 'aerial'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Depth', ['depth']),
    colour: numbers('Colour', ['Red', 'Green', 'Blue'], [0.5, 0.55, 0.6], [0, 1e5], 0.01, 'colour'),
    density: number('Density', 0.02, [0, 1e4], { unit: '1/m', soft: [0, 0.2], step: 0.001, scale: 'log' }),
    start: number('From', 0, [0, 1e9], { soft: [0, 100], step: 0.5, pick: 'data' }),
    most: number('At most', 1, [0, 1]),
    scatter: number('Scattered light', 0, [0, 1]),
    ...onlyWith('scatter', {
      spread: number('Scattered over', 8, [0.5, 100], { unit: 'px', soft: [1, 40], step: 0.5, scale: 'log' }),
    }),
    thickness: number('Thickness', 0, [0, 1e6], { unit: 'm', soft: [0, 50], step: 0.1 }),
    ...onlyWith('thickness', {
      position: name('pass', 'Position, for height', ['position']),
      ground: number('Ground at', 0, [-1e6, 1e6], { unit: 'm', soft: [-10, 10], step: 0.1 }),
      eye: number('Camera at', 1.6, [-1e6, 1e6], { unit: 'm', soft: [-10, 10], step: 0.1 }),
      up: choice(
        'Up is',
        [
          ['y', 'Y'],
          ['z', 'Z'],
        ],
        'y',
      ),
    }),
    none: choice(
      'Sky is',
      [
        ['far', 'hazed at most'],
        ['clear', 'left clear'],
        ['zero', 'hazed at most, stored as 0'],
      ],
      'far',
    ),
  },
  planes: (values, place) => [
    ...dataPlanes(values, place, 1),
    ...(values.thickness > 0 ? dataPlanes({ source: values.source, pass: values.position }, place, 3) : []),
  ],
  nothing: ({ density, most }) => density === 0 || most === 0,
  reach: ({ scatter, spread }, level) => Math.max(edgeReach, scatter > 0 ? gaussianReach(spread / 2 ** level) : 0),
  run(block) {
    const { values } = block;
    const [r, g, b] = values.colour as [number, number, number];
    const colour = Float64Array.of(r, g, b);
    const { scatter } = values;
    const { heap } = block;
    const mark = heap.mark();
    const depth = depthsOf(block);
    const amount = lostOf(block, depth);
    const scattered = scatter > 0 ? spreadOf(block) : undefined;
    // Light where nothing covers (a glow, a volume) lies before what is hazed: it stays, and by shares at soft ends.
    const hazed = (v: number, alpha: number, lost: number, taken: number): number => {
      const covers = alpha > 0 ? (alpha < 1 ? alpha : 1) : 0;
      return f(v + lost * covers * (taken - v));
    };
    const takenAt = (c: number, out: number) => (scattered ? colour[c]! + scatter * scattered[c]![out]! : colour[c]!);
    eachEdgePixel(block, {
      depth,
      amount,
      fill(to, light, alpha, lost, n) {
        const k = heap.kernels;
        const inner = heap.mark();
        const share = alpha === undefined ? lost : coveredShare(heap, lost, alpha, n);
        for (let c = 0; c < 3; c++) {
          if (!scattered) k.mixTowards(to[c]!, light[c]!, share, n, colour[c]!);
          else mixScattered(heap, to[c]!, light[c]!, share, n, colour[c]!, scattered[c]!, scatter);
        }
        heap.release(inner);
      },
      change: (v, alpha, c, lost, out) => hazed(v, alpha, lost, takenAt(c, out)),
    });
    heap.release(mark);
  },
});

type Block = FinishBlock<(typeof haze)['parameters']>;

/** Light moved towards the haze's colour with the light that comes scattered, by a share. */
function mixScattered(
  heap: Heap,
  to: number,
  light: number,
  share: number,
  n: number,
  colour: number,
  scattered: Float32Array,
  scatter: number,
): void {
  const k = heap.kernels;
  const mark = heap.mark();
  const taken = heap.allocatePlane(n);
  k.fillPlane(taken, n, colour);
  k.addScaled(taken, heap.placeFloats(scattered), n, scatter);
  k.copyPlane(to, light, n);
  k.mixByMatte(to, taken, share, n, 1);
  heap.release(mark);
}

/** A plane's shares by how far alpha covers. */
function coveredShare(heap: Heap, share: number, alpha: number, n: number): number {
  const k = heap.kernels;
  const cover = heap.allocatePlane(n);
  k.copyPlane(cover, alpha, n);
  k.clampPlane(cover, n, 0, 1);
  k.multiplyPlanes(cover, share, n);
  return cover;
}

/** Depths with the sky at one depth: a plane in the heap. */
function depthsOf({ heap, planes, planesTop, planesEnd, width, values: { none } }: Block): number {
  const n = (planesEnd - planesTop) * width;
  const depth = heap.allocatePlane(n);
  heap.kernels.surfaceDepths(depth, planes[0]![0], n, skyFrom, none === 'zero' ? 1 : 0, -Infinity);
  return depth;
}

/** How much of the light at each depth is lost: a plane in the heap. */
function lostOf(block: Block, depth: number): number {
  const { heap, values, planes, planesTop, planesEnd, width } = block;
  const { density, start, most, none, up } = values;
  const n = (planesEnd - planesTop) * width;
  const lost = heap.allocatePlane(n);
  const place = planes[1];
  if (place)
    exponentsByHeight(heap.floats(lost, n), heap.floats(depth, n), heap.floats(place[up === 'y' ? 1 : 2], n), values);
  else heap.kernels.exponentsOfDepth(lost, depth, n, start, density * log2e);
  heap.kernels.exp2Plane(lost, n);
  heap.kernels.lostOfLeft(lost, depth, n, most, skyFrom, none === 'clear' ? 0 : most);
  return lost;
}

/** The exponents of what is left of light where the haze is as dense as the heights of what is seen say. */
function exponentsByHeight(
  to: Float32Array,
  depth: Float32Array,
  heights: Float32Array,
  values: Block['values'],
): void {
  const { density, start } = values;
  for (let i = 0; i < to.length; i++) {
    const beyond = depth[i]! > start ? depth[i]! - start : 0;
    to[i] = Math.max(-126, -density * beyond * meanDensity(heights[i]!, values) * log2e);
  }
}

/** The light of the rows wanted, spread. */
function spreadOf({ heap, values, level, width, height, from, fromTop, fromEnd, top, end }: Block): Float32Array[] {
  const weights = gaussianWeights(values.spread / 2 ** level);
  const n = (end - top) * width;
  const mark = heap.mark();
  const to = heap.allocatePlane(n);
  const spread = [0, 1, 2].map((c) => {
    filterPlane(heap, weights, { plane: from[c]!, top: fromTop, end: fromEnd }, { plane: to, top, end }, width, height);
    return heap.floats(to, n).slice();
  });
  heap.release(mark);
  return spread;
}

/** Steeper than this the closed form loses its digits; then the density half way stands for all. */
const flat = 1e-3;

/**
 * The mean density along the ray from the camera to a height, as a share of that at the ground: that of e^(−(h − ground) / thickness)
 * between both heights. Below the ground it grows no further.
 */
function meanDensity(
  height: number,
  { thickness, ground, eye }: { readonly thickness: number; readonly ground: number; readonly eye: number },
): number {
  const at = (h: number) => exp2Exact(Math.max(-140, (-Math.max(0, h - ground) / thickness) * log2e));
  const [a, b] = [Math.max(ground, eye), Math.max(ground, height)];
  const rise = (b - a) / thickness;
  if (Math.abs(rise) < flat) return at((a + b) / 2);
  return (at(a) - at(b)) / rise;
}
