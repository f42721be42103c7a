import { number } from '../parameters.ts';
import { finish } from '../finish.ts';

/** Pixels of the square that the median is of. */
const side = 3;

export const median = finish({
  kind: 'median',
  title: 'Median',
  does: 'The median of each channel over three by three pixels, where a pixel is brighter than it by a factor; 0 takes it everywhere. Fireflies go, edges stay.',
  published: 'J. W. Tukey, "Exploratory Data Analysis", 1977 (running medians)',
  search: ['firefly', 'fireflies', 'spark', 'noise', 'despeckle'],
  parameters: { above: number('Brighter than', 3, [0, 1000], { unit: '×', soft: [0, 20], step: 0.1 }) },
  nothing: () => false,
  reach: (_, level) => (level > 2 ? 0 : 1),
  run({
    heap,
    values: { above },
    level,
    width,
    height,
    from,
    fromTop,
    fromEnd,
    to,
    top,
    end,
    luminance: [wr, wg, wb],
  }) {
    const n = (end - top) * width;
    const [r, g, b] = from.map((p) => heap.floats(p, (fromEnd - fromTop) * width));
    from.forEach((p, c) => heap.kernels.copyPlane(to[c]!, p + (top - fromTop) * width * 4, n));
    // So far reduced, single pixels are gone.
    if (level > 2) return;
    const out = to.map((p) => heap.floats(p, n));
    const around = new Float64Array(side * side);
    const bright = new Float32Array((fromEnd - fromTop) * width);
    for (let i = 0; i < bright.length; i++) bright[i] = wr * r![i]! + wg * g![i]! + wb * b![i]!;
    const middleAt = (plane: Float32Array, x: number, y: number): number => {
      let count = 0;
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
          around[count++] = plane[(v - fromTop) * width + u]!;
      return middleOf(around, count);
    };
    for (let y = top, i = 0; y < end; y++)
      for (let x = 0; x < width; x++, i++) {
        const own = bright[(y - fromTop) * width + x]!;
        if (above > 0 && own - own === 0 && own <= above * middleAt(bright, x, y)) continue;
        [r!, g!, b!].forEach((plane, c) => (out[c]![i] = middleAt(plane, x, y)));
      }
  },
});

/** The middle of the first so many numbers, which it puts in order; what is no number comes last. */
function middleOf(values: Float64Array, count: number): number {
  for (let i = 1; i < count; i++) {
    const v = values[i]!;
    let k = i;
    while (k > 0 && (values[k - 1]! > v || values[k - 1]! !== values[k - 1]!)) values[k] = values[--k]!;
    values[k] = v;
  }
  return values[count >> 1]!;
}
