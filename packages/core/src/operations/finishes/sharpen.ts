import { number } from '../parameters.ts';
import { finish } from '../finish.ts';
import { filterPlane, gaussianReach, gaussianWeights } from './gaussian.ts';

export const sharpen = finish({
  kind: 'sharpen',
  title: 'Sharpen',
  does: 'v + amount · (v − blurred v), on premultiplied colour; alpha stays.',
  published: 'unsharp masking: common practice, no source',
  search: ['unsharp', 'detail', 'crisp'],
  parameters: {
    amount: number('Amount', 0.5, [0, 20], { soft: [0, 3] }),
    size: number('Size', 1.5, [0, 200], { unit: 'px', soft: [0, 20], step: 0.1, scale: 'log' }),
  },
  nothing: ({ amount, size }) => amount === 0 || size === 0,
  reach: ({ size }, level) => gaussianReach(size / 2 ** level),
  run({ heap, values, level, width, height, from, fromTop, fromEnd, to, top, end }) {
    const k = heap.kernels;
    const n = (end - top) * width;
    const weights = gaussianWeights(values.size / 2 ** level);
    for (let c = 0; c < 4; c++) {
      const own = from[c]! + (top - fromTop) * width * 4;
      if (c < 3) {
        filterPlane(
          heap,
          weights,
          { plane: from[c]!, top: fromTop, end: fromEnd },
          { plane: to[c]!, top, end },
          width,
          height,
        );
        sharpenPlane(heap.floats(to[c]!, n), heap.floats(own, n), values.amount);
      } else k.copyPlane(to[c]!, own, n);
    }
  },
});

/** What is no finite number stays what it was. */
function sharpenPlane(blurred: Float32Array, own: Float32Array, amount: number): void {
  const f = Math.fround;
  const s = f(amount);
  for (let i = 0; i < own.length; i++) {
    const v = own[i]!;
    blurred[i] = v - v === 0 ? v + f(s * f(v - blurred[i]!)) : v;
  }
}
