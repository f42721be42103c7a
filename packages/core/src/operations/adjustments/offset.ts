import { identity3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { perChannel } from '../parameters.ts';

export const offset = adjustment({
  kind: 'offset',
  title: 'Offset',
  does: 'v + offset, by channel.',
  published: 'an addition: common practice, no source',
  search: ['add', 'brightness'],
  parameters: perChannel(0, [-1000, 1000], { soft: [-0.5, 0.5], step: 0.001 }),
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ master, red, green, blue }) => [
    { kind: 'matrix', matrix: identity3, offset: [master + red, master + green, master + blue] },
  ],
});
