import { number } from '../parameters.ts';
import { finish } from '../finish.ts';
import { filterPlane, gaussianReach, gaussianWeights } from './gaussian.ts';

export const blur = finish({
  kind: 'blur',
  title: 'Blur',
  does: 'A Gaussian of premultiplied colour and alpha; size is its standard deviation in pixels of the full picture.',
  published: 'the normal distribution, sampled and cut at 3.5 deviations; edge lines repeated',
  search: ['gauss', 'soft', 'defocus'],
  parameters: { size: number('Size', 4, [0, 500], { unit: 'px', soft: [0, 50], step: 0.1, scale: 'log' }) },
  nothing: ({ size }) => size === 0,
  reach: ({ size }, level) => gaussianReach(size / 2 ** level),
  run({ heap, values, level, width, height, from, fromTop, fromEnd, to, top, end }) {
    const weights = gaussianWeights(values.size / 2 ** level);
    from.forEach((plane, c) =>
      filterPlane(heap, weights, { plane, top: fromTop, end: fromEnd }, { plane: to[c]!, top, end }, width, height),
    );
  },
});
