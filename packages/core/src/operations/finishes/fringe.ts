import { number } from '../parameters.ts';
import { finish } from '../finish.ts';
import { placesOf } from './places.ts';

export const fringe = finish({
  kind: 'fringe',
  title: 'Edge fringing',
  does: 'Red is drawn larger and blue smaller about the centre, so that they lie so many pixels apart from green in the corners; alpha stays. Straight lines between samples.',
  published:
    'lateral chromatic aberration as a difference of magnification: W. J. Smith, "Modern Optical Engineering", ch. 3',
  search: ['chromatic', 'aberration', 'lens', 'dispersion'],
  parameters: { size: number('In the corners', 1.5, [-100, 100], { unit: 'px', soft: [-10, 10], step: 0.1 }) },
  nothing: ({ size }) => size === 0,
  reach: ({ size }, level) => Math.ceil(Math.abs(size) / 2 ** level) + 1,
  run({ heap, values, level, width, height, from, fromTop, fromEnd, to, top, end }) {
    const n = (end - top) * width;
    const half = Math.sqrt(width * width + height * height) / 2;
    const share = values.size / 2 ** level / half;
    const own = (c: number) => from[c]! + (top - fromTop) * width * 4;
    heap.kernels.copyPlane(to[1], own(1), n);
    heap.kernels.copyPlane(to[3], own(3), n);
    for (const [c, sign] of [
      [0, -1],
      [2, 1],
    ] as const) {
      const plane = heap.floats(from[c], (fromEnd - fromTop) * width);
      const out = heap.floats(to[c], n);
      // Drawn larger, a place shows what lies nearer to the centre.
      const scale = 1 + sign * share;
      const nearer = (count: number) => placesOf(count, count, (i) => (i + 0.5 - count / 2) * scale + count / 2 - 0.5);
      const columns = nearer(width);
      const lines = nearer(height);
      for (let y = top, i = 0; y < end; y++) {
        const part = lines.share[y]!;
        const [a, b] = [(lines.first[y]! - fromTop) * width, (lines.next[y]! - fromTop) * width];
        for (let x = 0; x < width; x++, i++) {
          const [left, right, q] = [columns.first[x]!, columns.next[x]!, columns.share[x]!];
          const above = between(plane[a + left]!, plane[a + right]!, q);
          const below = between(plane[b + left]!, plane[b + right]!, q);
          out[i] = between(above, below, part);
        }
      }
    }
  },
});

/** What is no finite number counts as 0, so that it spreads to no other pixel. */
const finite = (v: number): number => (v - v === 0 ? v : 0);

const between = (a: number, b: number, share: number): number => finite(a) + share * (finite(b) - finite(a));
