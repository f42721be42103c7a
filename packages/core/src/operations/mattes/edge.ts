import type { Heap } from '../../kernel/heap.ts';
import { filterPlane, gaussianReach, gaussianWeights } from '../finishes/gaussian.ts';
import { name, number } from '../parameters.ts';
import { matte } from '../matte.ts';

const f = Math.fround;

/** How far it is grown, or shrunk below 0, in whole pixels of a level. */
const grown = (grow: number, level: number): number => Math.round(grow / 2 ** level);

export const edge = matte({
  kind: 'edge',
  title: 'Edge of a matte',
  does: 'Another matte grown or shrunk by a disc, then blurred by a Gaussian of a standard deviation, then stretched so that the low end is 0 and the high end 1.',
  published:
    'greyscale dilation and erosion: J. Serra, "Image Analysis and Mathematical Morphology", 1982; the normal distribution',
  search: ['blur', 'grow', 'shrink', 'levels', 'feather', 'erode', 'dilate', 'soften'],
  parameters: {
    of: name('matte', 'Of'),
    grow: number('Grow', 0, [-100, 100], { unit: 'px', soft: [-30, 30], step: 1 }),
    blur: number('Blur', 0, [0, 200], { unit: 'px', soft: [0, 50], step: 0.5 }),
    low: number('Low end', 0, [0, 1]),
    high: number('High end', 1, [0, 1]),
  },
  others: ({ of }) => [of],
  reach: ({ grow, blur }, level) => Math.abs(grown(grow, level)) + gaussianReach(blur / 2 ** level),
  run({ heap, to, others, values, level, width, height, top, end, fromTop, fromEnd }) {
    const n = (end - top) * width;
    const mark = heap.mark();
    const by = grown(values.grow, level);
    const blurTop = Math.max(fromTop, top - gaussianReach(values.blur / 2 ** level));
    const blurEnd = Math.min(fromEnd, end + gaussianReach(values.blur / 2 ** level));
    const shaped = heap.allocatePlane((blurEnd - blurTop) * width);
    const from = { plane: others[0]!, top: fromTop, end: fromEnd };
    growRows(heap, from, { plane: shaped, top: blurTop, end: blurEnd }, width, by);
    if (values.blur > 0)
      filterPlane(
        heap,
        gaussianWeights(values.blur / 2 ** level),
        { plane: shaped, top: blurTop, end: blurEnd },
        { plane: to, top, end },
        width,
        height,
      );
    else heap.kernels.copyPlane(to, shaped + (top - blurTop) * width * 4, n);
    stretch(heap.floats(to, n), values.low, values.high);
    heap.release(mark);
  },
});

interface PlaneRows {
  readonly plane: number;
  readonly top: number;
  readonly end: number;
}

/** The largest (or, below 0, the least) of a disc about each pixel; what lies outside the picture does not count. */
function growRows(heap: Heap, from: PlaneRows, to: PlaneRows, width: number, by: number): void {
  const source = heap.floats(from.plane, (from.end - from.top) * width);
  const target = heap.floats(to.plane, (to.end - to.top) * width);
  const reach = Math.abs(by);
  const sign = by < 0 ? -1 : 1;
  const halves = Array.from({ length: 2 * reach + 1 }, (_, k) =>
    Math.floor(Math.sqrt(reach * reach - (k - reach) ** 2)),
  );
  for (let y = to.top; y < to.end; y++)
    for (let x = 0; x < width; x++) {
      let most = -Infinity;
      for (let dy = -reach; dy <= reach; dy++) {
        const row = y + dy;
        if (row < from.top || row >= from.end) continue;
        const half = halves[dy + reach]!;
        const at = (row - from.top) * width;
        for (let u = Math.max(0, x - half); u <= Math.min(width - 1, x + half); u++) {
          const v = sign * source[at + u]!;
          if (v > most) most = v;
        }
      }
      target[(y - to.top) * width + x] = sign * most;
    }
}

function stretch(plane: Float32Array, low: number, high: number): void {
  if (low === 0 && high === 1) return;
  const gain = high > low ? 1 / (high - low) : Infinity;
  for (let i = 0; i < plane.length; i++) {
    const over = plane[i]! - low;
    plane[i] = gain < Infinity ? f(over * gain) : over >= 0 ? 1 : 0;
  }
}
