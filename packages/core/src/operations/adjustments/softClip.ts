import type { PlaneStep } from '../../colour/steps.ts';
import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

export const softClip = adjustment({
  kind: 'softClip',
  title: 'Soft clip',
  does: 'Above from, values bend smoothly towards to and never pass it: from + room · t / (t + room), t = v − from.',
  published:
    'the hyperbolic shoulder (E. Reinhard et al., "Photographic Tone Reproduction for Digital Images", 2002, eq. 3), begun at a value',
  search: ['shoulder', 'roll-off', 'highlights', 'compress'],
  parameters: {
    from: number('From', 1, [0, 1000], { soft: [0, 4], scale: 'log' }),
    to: number('To', 4, [0.001, 10000], { soft: [1, 16], scale: 'log' }),
  },
  alpha: 'straight',
  choosesSpace: true,
  actsAtOnce: true,
  compile: ({ from, to }) => {
    if (to <= from) throw new Error('“to” must lie above “from”.');
    const step: PlaneStep = {
      kind: 'plainPlane',
      recipe: { what: 'shoulder', join: from, top: to, inverse: false },
    };
    return [step];
  },
});
