import type { Heap } from '../../kernel/heap.ts';
import type { Quad } from '../blend.ts';
import { number } from '../parameters.ts';
import { finish } from '../finish.ts';
import { filterPlane, gaussianReach, gaussianWeights } from './gaussian.ts';
import { gaussianNoise } from './noise.ts';

/** Middle grey: there the amount is what it says. */
const grey = 0.18;
/** Grain grows no further from so many times middle grey on. */
const mostOverGrey = 1e4;

export const grain = finish({
  kind: 'grain',
  title: 'Grain',
  does: 'v + n · amount · 0.18 · (Y / 0.18)^(1 − darks), n of mean 0 and spread 1, another at each frame. At 1 darks carry as much as brights do; at 0 it follows brightness.',
  published:
    'a sum of four uniform numbers (Irwin–Hall) from an integer hash (M. O’Neill’s PCG output, 2014); its shape over brightness: common practice, no source',
  search: ['noise', 'film', 'texture', 'dither'],
  parameters: {
    amount: number('Amount', 0.05, [0, 10], { soft: [0, 0.5], step: 0.005 }),
    size: number('Size', 0.7, [0, 20], { unit: 'px', soft: [0, 4], step: 0.1 }),
    darks: number('Darks', 0.6, [0, 1]),
    red: number('Red', 1, [0, 4], { soft: [0, 2] }),
    green: number('Green', 1, [0, 4], { soft: [0, 2] }),
    blue: number('Blue', 1, [0, 4], { soft: [0, 2] }),
    colour: number('Colour', 0.6, [0, 1]),
    seed: number('Seed', 0, [0, 1e6], { step: 1 }),
  },
  perFrame: true,
  nothing: ({ amount }) => amount === 0,
  reach: () => 0,
  run({ heap, values, level, width, height, from, fromTop, to, top, end, frame, hasAlpha, luminance }) {
    const n = (end - top) * width;
    const { amount, darks, colour } = values;
    const mark = heap.mark();
    const fields = [0, 1, 2, 3].map((c) =>
      c === 3 && colour === 1
        ? 0
        : noiseField(heap, values.size / 2 ** level, { width, height, top, end }, frame, values.seed, c),
    );
    // A smaller picture's pixels are means of many: grain that is finer than they are is weaker there, as when a picture is reduced.
    const area = Math.max(1, 4 * Math.PI * values.size * values.size);
    const strength = amount * grey * Math.min(1, Math.sqrt(area) / 2 ** level);
    const light = from.map((p) => p + (top - fromTop) * width * 4) as unknown as Quad;
    const strengths = strengthsOf(heap, light, n, luminance, darks, hasAlpha);
    const shared = fields[3]!;
    const k = heap.kernels;
    const [ofOwn, ofShared] = [strength * Math.sqrt(colour), strength * Math.sqrt(1 - colour)];
    for (const [c, gain] of [values.red, values.green, values.blue].entries())
      k.addNoise(to[c]!, light[c]!, strengths, fields[c]!, gain * ofOwn, shared, gain * ofShared, n);
    k.copyPlane(to[3], light[3], n);
    heap.release(mark);
  },
});

/** How strong grain is by brightness, 1 at middle grey; nothing where there is no light, and by alpha where that covers in part. */
function strengthsOf(
  heap: Heap,
  light: Quad,
  n: number,
  luminance: readonly [number, number, number],
  darks: number,
  hasAlpha: boolean,
): number {
  const k = heap.kernels;
  const to = heap.allocatePlane(n);
  if (darks === 1) k.fillPlane(to, n, 1);
  else {
    k.fillPlane(to, n, 0);
    luminance.forEach((w, c) => k.addScaled(to, light[c]!, n, w / grey));
    // What is no finite number has no grain to see.
    k.keepFinite(to, n);
    k.clampPlane(to, n, 0, mostOverGrey);
    k.powPlane(to, n, 1 - darks);
  }
  if (!hasAlpha) return to;
  const cover = heap.allocatePlane(n);
  k.copyPlane(cover, light[3], n);
  k.clampPlane(cover, n, 0, 1);
  k.multiplyPlanes(to, cover, n);
  return to;
}

interface FieldRows {
  readonly width: number;
  readonly height: number;
  readonly top: number;
  readonly end: number;
}

/** Noise of mean 0 and spread 1 over some rows, as soft as `size` says: where a pixel lies alone decides it, so that any rows are the same. */
function noiseField(
  heap: Heap,
  size: number,
  { width, height, top, end }: FieldRows,
  frame: number,
  seed: number,
  channel: number,
): number {
  const n = (end - top) * width;
  const to = heap.allocatePlane(n);
  const reach = size > 0.3 ? gaussianReach(size) : 0;
  const [first, last] = [Math.max(0, top - reach), Math.min(height, end + reach)];
  const mark = heap.mark();
  const raw = heap.allocatePlane((last - first) * width);
  gaussianNoise(heap, raw, { width, top: first, rows: last - first }, frame, seed, channel);
  if (reach === 0) heap.kernels.copyPlane(to, raw, n);
  else {
    const weights = gaussianWeights(size);
    filterPlane(heap, weights, { plane: raw, top: first, end: last }, { plane: to, top, end }, width, height);
    // A mean of independent numbers has less spread: it is given back.
    const squares = weights.reduce((sum, w, k) => sum + (k === 0 ? w * w : 2 * w * w), 0);
    heap.kernels.scale3(to, to, to, n, 1 / squares, 1, 1);
  }
  heap.release(mark);
  return to;
}
