import { diagonal3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { perChannel } from '../parameters.ts';

export const gain = adjustment({
  kind: 'gain',
  title: 'Gain',
  does: 'v · gain, by channel.',
  published: 'a multiplication: common practice, no source',
  search: ['multiply', 'slope', 'white'],
  parameters: perChannel(1, [0, 1000], { soft: [0, 4] }),
  alpha: 'any',
  choosesSpace: true,
  compile: ({ master, red, green, blue }) => [
    { kind: 'matrix', matrix: diagonal3(master * red, master * green, master * blue) },
  ],
});
