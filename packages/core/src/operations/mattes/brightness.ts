import { choice, number } from '../parameters.ts';
import { matte } from '../matte.ts';

const f = Math.fround;

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
    const [r, g, b, a] = subject.map((p) => heap.floats(p, n)) as [
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    const plane = heap.floats(to, n);
    const [wr, wg, wb] = luminance;
    const { low, high, soft } = values;
    const width = high - low;
    for (let i = 0; i < n; i++) {
      const alpha = subjectHasAlpha && a[i] !== 0 ? a[i]! : 1;
      const y = (wr * r[i]! + wg * g[i]! + wb * b[i]!) / alpha;
      const t = width > 0 ? (y - low) / width : y >= high ? 1 : 0;
      const held = t > 0 ? (t < 1 ? t : 1) : 0;
      plane[i] = f(soft === 'smooth' ? held * held * (3 - 2 * held) : held);
    }
  },
});
