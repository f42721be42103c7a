import type { Heap } from '../../kernel/heap.ts';
import { number } from '../parameters.ts';
import { finish, type WholePicture } from '../finish.ts';
import { filterPlane, gaussianWeights } from './gaussian.ts';

/** Gaussians that make the falloff, each twice as wide as the one before. */
const octaves = 4;
/** The narrowest of them is at least this wide on the halved picture, so that halving does not show. */
const narrowest = 4;
const halvingsMost = 6;

const f = Math.fround;

export const glow = finish({
  kind: 'glow',
  title: 'Glow',
  does: 'Light above a threshold spreads far: T + amount · spread. Colour only; alpha stays.',
  published:
    'glare falls with the square of the distance (CIE 135/1-1999, disability glare), here as Gaussians of doubling width and equal energy',
  search: ['bloom', 'glare', 'halation', 'halo'],
  parameters: {
    amount: number('Amount', 0.2, [0, 20], { soft: [0, 1] }),
    size: number('Size', 12, [0.5, 500], { unit: 'px', soft: [1, 100], step: 0.5, scale: 'log' }),
    threshold: number('From', 1, [0, 1000], { soft: [0, 8], step: 0.05 }),
  },
  nothing: ({ amount }) => amount === 0,
  reach: () => 0,
  whole: {
    by: ['size', 'threshold'],
    halvings: ({ size }, level) =>
      Math.min(halvingsMost, Math.max(0, Math.floor(Math.log2(size / 2 ** level / narrowest)))),
    gather(heap, total, n, { threshold }, [wr, wg, wb]) {
      for (const p of total) heap.kernels.keepFinite(p, n);
      const [r, g, b] = total.map((p) => heap.floats(p, n)) as [Float32Array, Float32Array, Float32Array];
      for (let i = 0; i < n; i++) {
        const y = wr * r[i]! + wg * g[i]! + wb * b[i]!;
        const kept = y > threshold ? f((y - threshold) / y) : 0;
        r[i] = r[i]! * kept;
        g[i] = g[i]! * kept;
        b[i] = b[i]! * kept;
      }
    },
    complete(heap, whole, { size }, level) {
      for (const plane of whole.planes.slice(0, 3)) spread(heap, plane, whole, size / 2 ** (level + whole.halved));
    },
  },
  run({ heap, values, width, from, fromTop, to, top, end, whole }) {
    const k = heap.kernels;
    const n = (end - top) * width;
    for (let c = 0; c < 4; c++) {
      k.copyPlane(to[c]!, from[c]! + (top - fromTop) * width * 4, n);
      if (c === 3 || !whole) continue;
      addEnlarged(heap.floats(to[c]!, n), whole.planes[c]!, whole, { width, top, amount: values.amount });
    }
  },
});

/** Puts the mean of its blurs in a plane's place. */
function spread(heap: Heap, samples: Float32Array, { width, height }: WholePicture, size: number): void {
  const k = heap.kernels;
  const n = width * height;
  const mark = heap.mark();
  const sum = heap.allocatePlane(n);
  k.fillPlane(sum, n, 0);
  const plane = heap.placeFloats(samples);
  const blurred = heap.allocatePlane(n);
  for (let o = 0; o < octaves; o++) {
    const rows = { top: 0, end: height };
    const weights = gaussianWeights(Math.min(size * 2 ** o, Math.max(width, height)));
    filterPlane(heap, weights, { plane, ...rows }, { plane: blurred, ...rows }, width, height);
    k.addScaled(sum, blurred, n, 1 / octaves);
  }
  samples.set(heap.floats(sum, n));
  heap.release(mark);
}

/** Adds a halved plane, enlarged by straight lines between its samples, to rows of the full one. */
function addEnlarged(
  to: Float32Array,
  small: Float32Array,
  whole: WholePicture,
  { width, top, amount }: { readonly width: number; readonly top: number; readonly amount: number },
): void {
  const side = 2 ** whole.halved;
  const rows = to.length / width;
  const place = (full: number, count: number) => {
    const at = Math.min(count - 1, Math.max(0, (full + 0.5) / side - 0.5));
    const first = Math.min(count - 1, Math.floor(at));
    return { first, next: Math.min(count - 1, first + 1), part: f(at - first) };
  };
  const columns = Array.from({ length: width }, (_, x) => place(x, whole.width));
  const s = f(amount);
  for (let y = 0; y < rows; y++) {
    const down = place(top + y, whole.height);
    const [upper, lower] = [down.first * whole.width, down.next * whole.width];
    for (let x = 0; x < width; x++) {
      const { first, next, part } = columns[x]!;
      const a = f(small[upper + first]! + f(part * f(small[upper + next]! - small[upper + first]!)));
      const b = f(small[lower + first]! + f(part * f(small[lower + next]! - small[lower + first]!)));
      const i = y * width + x;
      to[i] = to[i]! + f(s * f(a + f(down.part * f(b - a))));
    }
  }
}
