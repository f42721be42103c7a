import { diagonal3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { perChannel } from '../parameters.ts';

export const lift = adjustment({
  kind: 'lift',
  title: 'Lift',
  does: 'v + lift · (1 − v), by channel: black moves, 1 stays.',
  published: 'lift about white: common practice, no source',
  search: ['black', 'shadows'],
  parameters: perChannel(0, [-10, 0.99], { soft: [-0.5, 0.5], step: 0.001 }),
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ master, red, green, blue }) => {
    const [r, g, b] = [master + red, master + green, master + blue];
    return [{ kind: 'matrix', matrix: diagonal3(1 - r, 1 - g, 1 - b), offset: [r, g, b] }];
  },
});
