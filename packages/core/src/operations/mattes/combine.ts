import { choice, name } from '../parameters.ts';
import { matte } from '../matte.ts';

const f = Math.fround;

export const combine = matte({
  kind: 'combine',
  title: 'Two mattes together',
  does: 'Both: a · b. Either: a + b − a · b. The first without the second: a · (1 − b).',
  published:
    'product, probabilistic sum and difference of soft sets: L. A. Zadeh, "Fuzzy Sets", Information and Control 8 (1965)',
  search: ['multiply', 'union', 'subtract', 'intersect', 'add'],
  parameters: {
    of: name('matte', 'The first'),
    and: name('matte', 'The second'),
    how: choice(
      'How',
      [
        ['both', 'Both'],
        ['either', 'Either'],
        ['without', 'The first without the second'],
      ],
      'both',
    ),
  },
  others: ({ of, and }) => [of, and],
  run({ heap, n, to, others, values: { how } }) {
    const [a, b] = others.map((p) => heap.floats(p, n)) as [Float32Array, Float32Array];
    const plane = heap.floats(to, n);
    for (let i = 0; i < n; i++) {
      const product = f(a[i]! * b[i]!);
      plane[i] = how === 'both' ? product : how === 'either' ? a[i]! + b[i]! - product : a[i]! - product;
    }
  },
});
