import type { Heap } from '../../kernel/heap.ts';
import { number } from '../parameters.ts';
import { finish, type WholePicture } from '../finish.ts';
import { addSpread, keepAbove, saturate } from './brightLight.ts';
import { filterPlane, gaussianWeights } from './gaussian.ts';

/** Gaussians that make the falloff, each twice as wide as the one before. */
const octaves = 4;
/** The narrowest of them is at least this wide on the halved picture, so that halving does not show. */
const narrowest = 4;
const halvingsMost = 6;

export const glow = finish({
  kind: 'glow',
  title: 'Glow',
  does: 'Light above a threshold spreads far: T + amount · spread, the spread as colourful as is said. Colour only; alpha stays.',
  published:
    'glare falls with the square of the distance (CIE 135/1-1999, disability glare), here as Gaussians of doubling width and equal energy',
  search: ['bloom', 'glare', 'halation', 'halo'],
  parameters: {
    amount: number('Amount', 0.2, [0, 20], { soft: [0, 1] }),
    size: number('Size', 12, [0.5, 500], { unit: 'px', soft: [1, 100], step: 0.5, scale: 'log' }),
    threshold: number('From', 1, [0, 1000], { soft: [0, 8], step: 0.05 }),
    saturation: number('Colour of the spread', 1, [0, 4], { soft: [0, 2] }),
  },
  nothing: ({ amount }) => amount === 0,
  reach: () => 0,
  whole: {
    by: ['size', 'threshold', 'saturation'],
    halvings: ({ size }, level) =>
      Math.min(halvingsMost, Math.max(0, Math.floor(Math.log2(size / 2 ** level / narrowest)))),
    gather: (heap, total, n, { threshold }, luminance) => keepAbove(heap, total, n, threshold, luminance),
    complete(heap, whole, { size, saturation }, level, luminance) {
      const colour = whole.planes.slice(0, 3);
      for (const plane of colour) spread(heap, plane, whole, size / 2 ** (level + whole.halved));
      saturate(colour, saturation, luminance);
    },
  },
  run: (block) => addSpread(block, block.values.amount),
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
