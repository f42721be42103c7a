import { name } from '../parameters.ts';
import { matte } from '../matte.ts';

export const invert = matte({
  kind: 'invert',
  title: 'Inverted',
  does: '1 − another matte, which is limited to 0 … 1 before.',
  published: 'the complement',
  search: ['not', 'outside'],
  parameters: { of: name('matte', 'Of') },
  others: ({ of }) => [of],
  run({ heap, n, to, others }) {
    const [plane, given] = [heap.floats(to, n), heap.floats(others[0]!, n)];
    for (let i = 0; i < n; i++) plane[i] = 1 - given[i]!;
  },
});
