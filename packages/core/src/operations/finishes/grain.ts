import type { Heap } from '../../kernel/heap.ts';
import { number } from '../parameters.ts';
import { finish } from '../finish.ts';
import { filterPlane, gaussianReach, gaussianWeights } from './gaussian.ts';
import { gaussianNoise } from './noise.ts';

type Light = readonly [Float32Array, Float32Array, Float32Array, Float32Array];
/** Middle grey: there the amount is what it says. */
const grey = 0.18;

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
  run({ heap, values, level, width, height, from, fromTop, to, top, end, frame, hasAlpha, luminance: [wr, wg, wb] }) {
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
    const offset = (top - fromTop) * width;
    const strengthsAt = heap.allocatePlane(n);
    const light = from.map((p) => heap.floats(p + offset * 4, n)) as unknown as Light;
    const strengths = heap.floats(strengthsAt, n);
    for (let i = 0; i < n; i++) {
      const y = wr * light[0][i]! + wg * light[1][i]! + wb * light[2][i]!;
      strengths[i] = y > 0 ? Math.min(1e4, y / grey) : 0;
    }
    if (darks === 1) strengths.fill(1);
    else heap.kernels.powPlane(strengthsAt, n, 1 - darks);
    if (hasAlpha) for (let i = 0; i < n; i++) strengths[i] = strengths[i]! * Math.min(1, Math.max(0, light[3][i]!));
    const shared = fields[3] ? heap.floats(fields[3], n) : undefined;
    const [own, common] = [strength * Math.sqrt(colour), strength * Math.sqrt(1 - colour)];
    for (const [c, gain] of [values.red, values.green, values.blue].entries()) {
      const [field, out, plane] = [heap.floats(fields[c]!, n), heap.floats(to[c]!, n), light[c]!];
      const [k, m] = [gain * own, gain * common];
      for (let i = 0; i < n; i++) {
        const v = plane[i]!;
        const noise = shared ? k * field[i]! + m * shared[i]! : k * field[i]!;
        out[i] = v - v === 0 ? v + strengths[i]! * noise : v;
      }
    }
    heap.kernels.copyPlane(to[3], from[3] + offset * 4, n);
    heap.release(mark);
  },
});

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
  gaussianNoise(heap.floats(raw, (last - first) * width), width, first, frame, seed, channel);
  if (reach === 0) heap.kernels.copyPlane(to, raw, n);
  else {
    const weights = gaussianWeights(size);
    filterPlane(heap, weights, { plane: raw, top: first, end: last }, { plane: to, top, end }, width, height);
    // A mean of independent numbers has less spread: it is given back.
    const squares = weights.reduce((sum, w, k) => sum + (k === 0 ? w * w : 2 * w * w), 0);
    const plane = heap.floats(to, n);
    for (let i = 0; i < n; i++) plane[i] = plane[i]! / squares;
  }
  heap.release(mark);
  return to;
}
