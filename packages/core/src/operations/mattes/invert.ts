import { name } from '../parameters.ts';
import { matte } from '../matte.ts';

export const invert = matte({
  kind: 'invert',
  title: 'Inverted',
  does: '1 − another matte, which is limited to 0 … 1 before.',
  published: 'the complement',
  search: ['not', 'outside'],
  parameters: { of: name('matte', 'Of') },
  other: ({ of }) => of,
  run({ heap, n, to, other }) {
    const [plane, given] = [heap.floats(to, n), heap.floats(other, n)];
    for (let i = 0; i < n; i++) {
      const m = given[i]!;
      plane[i] = 1 - (m > 0 ? (m < 1 ? m : 1) : 0);
    }
  },
});
