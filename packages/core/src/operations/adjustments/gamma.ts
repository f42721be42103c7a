import type { PlaneStep } from '../../colour/steps.ts';
import { adjustment } from '../adjustment.ts';
import { perChannel } from '../parameters.ts';

const power = (gamma: number): PlaneStep => ({ kind: 'power', exponent: 1 / gamma, negatives: 'keep' });

export const gamma = adjustment({
  kind: 'gamma',
  title: 'Gamma',
  does: 'v^(1/gamma) above 0, by channel; what lies at 0 or below stays.',
  published: 'the power law of IEC 61966-2-1, Annex A; that negatives stay is common practice, no source',
  search: ['power', 'midtones'],
  parameters: perChannel(1, [0.01, 100], { soft: [0.2, 5], scale: 'log' }),
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ master, red, green, blue }) => {
    const gammas = [red, green, blue].map((g) => g * master);
    if (gammas.every((g) => g === 1)) return [];
    return [{ kind: 'channels', each: gammas.map(power) as unknown as [PlaneStep, PlaneStep, PlaneStep] }];
  },
});
