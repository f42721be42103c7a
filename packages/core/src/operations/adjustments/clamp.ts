import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

const range = [-1e6, 1e6] as const;

export const clamp = adjustment({
  kind: 'clamp',
  title: 'Clamp',
  does: 'What lies below low becomes low, what lies above high becomes high.',
  published: 'minimum and maximum',
  search: ['limit', 'clip'],
  parameters: {
    low: number('Low', 0, range, { soft: [0, 1] }),
    high: number('High', 1, range, { soft: [0, 10] }),
  },
  alpha: 'straight',
  choosesSpace: true,
  actsAtOnce: true,
  compile: ({ low, high }) => {
    if (low > high) throw new Error('low lies above high; exchange them.');
    return [{ kind: 'clamp', low, high }];
  },
});
