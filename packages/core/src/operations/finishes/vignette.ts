import { number, numbers } from '../parameters.ts';
import { finish } from '../finish.ts';

export const vignette = finish({
  kind: 'vignette',
  title: 'Vignette',
  does: 'T · 2^(stops · s), s rising from 0 at the inner edge to 1 at the corners as 3t² − 2t³; a place is measured from the centre, half the diagonal being 1.',
  published: 'common practice, no source; smooth is 3t² − 2t³',
  search: ['edges', 'corner', 'darken', 'lens'],
  parameters: {
    stops: number('Corners', -1, [-10, 10], { unit: 'stops', soft: [-3, 3], step: 0.05, scale: 'stops' }),
    inner: number('Inner edge', 0.35, [0, 2], { soft: [0, 1] }),
    outer: number('Outer edge', 1.1, [0, 4], { soft: [0, 2] }),
    round: number('Roundness', 0.5, [0, 1]),
    centre: numbers('Off centre', ['X', 'Y'], [0, 0], [-1e5, 1e5], 1),
  },
  nothing: ({ stops }) => stops === 0,
  reach: () => 0,
  run({ heap, values, level, width, height, from, fromTop, to, top, end }) {
    const { stops, inner, outer, round } = values;
    const side = 2 ** level;
    const [cx, cy] = [width / 2 + values.centre[0]! / side, height / 2 + values.centre[1]! / side];
    const half = Math.sqrt(width * width + height * height) / 2;
    // Round: circles. Otherwise as flat as the picture is, between both as the number says.
    const across = half * (round + (1 - round) * ((width * Math.SQRT2) / (2 * half)));
    const down = half * (round + (1 - round) * ((height * Math.SQRT2) / (2 * half)));
    const n = (end - top) * width;
    const mark = heap.mark();
    const at = heap.allocatePlane(n);
    const gains = heap.floats(at, n);
    for (let y = top, i = 0; y < end; y++) {
      const v = (y + 0.5 - cy) / down;
      for (let x = 0; x < width; x++, i++) {
        const u = (x + 0.5 - cx) / across;
        const away = Math.sqrt(u * u + v * v);
        const t = outer > inner ? Math.min(1, Math.max(0, (away - inner) / (outer - inner))) : away >= inner ? 1 : 0;
        gains[i] = stops * t * t * (3 - 2 * t);
      }
    }
    heap.kernels.exp2Plane(at, n);
    for (let c = 0; c < 4; c++) {
      heap.kernels.copyPlane(to[c]!, from[c]! + (top - fromTop) * width * 4, n);
      if (c < 3) heap.kernels.multiplyPlanes(to[c]!, at, n);
    }
    heap.release(mark);
  },
});
