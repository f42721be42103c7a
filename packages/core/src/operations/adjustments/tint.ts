import { diagonal3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { number, numbers } from '../parameters.ts';

export const tint = adjustment({
  kind: 'tint',
  title: 'Tint',
  does: 'v · colour, as far as the amount says: a coloured filter before the light.',
  published: 'a multiplication by a colour: common practice, no source',
  search: ['multiply', 'filter', 'gel'],
  parameters: {
    colour: numbers('Colour', ['Red', 'Green', 'Blue'], [1, 1, 1], [0, 1000]),
    amount: number('Amount', 1, [0, 1]),
  },
  alpha: 'any',
  choosesSpace: true,
  compile: ({ colour, amount }) => {
    const [r, g, b] = colour.map((c) => 1 - amount + amount * c) as [number, number, number];
    return [{ kind: 'matrix', matrix: diagonal3(r, g, b) }];
  },
});
