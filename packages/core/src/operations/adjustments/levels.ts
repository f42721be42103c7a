import { diagonal3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

const range = [-1000, 1000] as const;
const options = { soft: [0, 1], step: 0.001 } as const;

export const levels = adjustment({
  kind: 'levels',
  title: 'Levels',
  does: '(v − black in) / (white in − black in) · (white out − black out) + black out; nothing is cut off.',
  published: 'a straight line through two points',
  search: ['black point', 'white point', 'range'],
  parameters: {
    blackIn: number('Black in', 0, range, options),
    whiteIn: number('White in', 1, range, options),
    blackOut: number('Black out', 0, range, options),
    whiteOut: number('White out', 1, range, options),
  },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ blackIn, whiteIn, blackOut, whiteOut }) => {
    if (blackIn === whiteIn) throw new Error('black in and white in are the same; move one of them.');
    const k = (whiteOut - blackOut) / (whiteIn - blackIn);
    const at0 = blackOut - blackIn * k;
    return [{ kind: 'matrix', matrix: diagonal3(k, k, k), offset: [at0, at0, at0] }];
  },
});
