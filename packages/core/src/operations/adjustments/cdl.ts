import { diagonal3 } from '../../colour/matrix.ts';
import type { PlaneStep } from '../../colour/steps.ts';
import { adjustment } from '../adjustment.ts';
import { number, numbers } from '../parameters.ts';
import { saturationMatrix } from './saturation.ts';

const channels = ['Red', 'Green', 'Blue'];
/** ASC CDL 1.2: saturation weighs as Rec.709 does, whatever the space. */
const weights = [0.2126, 0.7152, 0.0722] as const;
const power = (exponent: number): PlaneStep => ({ kind: 'power', exponent, negatives: 'keep' });

export const cdl = adjustment({
  kind: 'cdl',
  title: 'ASC CDL',
  does: '(v · slope + offset)^power, then saturation by Rec.709 weights; nothing is cut off, the power acts above 0 only.',
  published: 'ASC Color Decision List 1.2, without its clamps',
  search: ['slope', 'offset', 'power', 'sop', 'ccc', 'grade'],
  parameters: {
    slope: numbers('Slope', channels, [1, 1, 1], [0, 1000]),
    offset: numbers('Offset', channels, [0, 0, 0], [-1000, 1000], 0.001),
    power: numbers('Power', channels, [1, 1, 1], [0.01, 100]),
    saturation: number('Saturation', 1, [0, 10], { soft: [0, 2] }),
  },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ slope, offset, power: powers, saturation }) => [
    {
      kind: 'matrix',
      matrix: diagonal3(slope[0]!, slope[1]!, slope[2]!),
      offset: [offset[0]!, offset[1]!, offset[2]!],
    },
    ...(powers.every((p) => p === 1)
      ? []
      : [{ kind: 'channels', each: powers.map(power) as unknown as [PlaneStep, PlaneStep, PlaneStep] } as const]),
    { kind: 'matrix', matrix: saturationMatrix(saturation, weights) },
  ],
});
