import { choice, number } from '../parameters.ts';
import { matte } from '../matte.ts';

export const brightness = matte({
  kind: 'brightness',
  title: 'Brightness',
  does: '0 where luminance lies below low, 1 from high on, rising between; of the straight colour of what it is applied to.',
  published: 'a ramp between two values; smooth is 3t² − 2t³ (common practice, no source)',
  search: ['luma', 'luminance', 'key', 'highlights', 'shadows'],
  parameters: {
    low: number('Low', 0, [-1000, 100000], { soft: [0, 1], step: 0.001 }),
    high: number('High', 1, [-1000, 100000], { soft: [0, 4], step: 0.001 }),
    soft: choice(
      'Between',
      [
        ['linear', 'Straight'],
        ['smooth', 'Smooth'],
      ],
      'linear',
    ),
  },
  ofSubject: true,
  measure: {
    of: 'brightness',
    scale: 'stops',
    ends: ['low', 'high'],
    shape: ({ low, high }) => [
      [low, 0],
      [Math.max(low, high), 1],
    ],
  },
  run({ heap, n, values, to, subject, subjectHasAlpha, luminance }) {
    const k = heap.kernels;
    k.fillPlane(to, n, 0);
    luminance.forEach((weight, c) => k.addScaled(to, subject[c]!, n, weight));
    if (subjectHasAlpha) k.dividePlanes(to, subject[3], n);
    k.rampPlane(to, n, values.low, values.high, values.soft === 'smooth' ? 1 : 0);
  },
});
