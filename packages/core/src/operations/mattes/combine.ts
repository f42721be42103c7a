import { choice, name } from '../parameters.ts';
import { matte } from '../matte.ts';

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
    const [a, b] = others as [number, number];
    const k = heap.kernels;
    // Of a: the part that is in b too, taken as it is, added to, or taken away.
    k.copyPlane(to, a, n);
    k.multiplyPlanes(to, b, n);
    if (how === 'both') return;
    k.scale3(to, to, to, n, -1, 1, 1);
    k.addScaled(to, a, n, 1);
    if (how === 'either') k.addScaled(to, b, n, 1);
  },
});
