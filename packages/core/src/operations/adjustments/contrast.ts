import { diagonal3 } from '../../colour/matrix.ts';
import type { PlaneStep } from '../../colour/steps.ts';
import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

const power = (exponent: number): PlaneStep => ({ kind: 'power', exponent, negatives: 'keep' });

export const contrast = adjustment({
  kind: 'contrast',
  title: 'Contrast',
  does: 'pivot · (v / pivot)^amount above 0: the pivot stays; what lies at 0 or below too.',
  published: 'a power about a pivot: common practice, no source; mid grey 0.18 as in SMPTE ST 2065-1',
  search: ['pivot', 'power'],
  parameters: {
    amount: number('All', 1, [0.01, 10], { soft: [0.5, 2], scale: 'log' }),
    red: number('Red', 1, [0.01, 10], { soft: [0.5, 2], scale: 'log' }),
    green: number('Green', 1, [0.01, 10], { soft: [0.5, 2], scale: 'log' }),
    blue: number('Blue', 1, [0.01, 10], { soft: [0.5, 2], scale: 'log' }),
    pivot: number('Pivot', 0.18, [1e-4, 1000], { soft: [0.01, 1], scale: 'log' }),
  },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ amount, red, green, blue, pivot }) => {
    const exponents = [red, green, blue].map((c) => c * amount);
    if (exponents.every((e) => e === 1)) return [];
    return [
      { kind: 'matrix', matrix: diagonal3(1 / pivot, 1 / pivot, 1 / pivot) },
      { kind: 'channels', each: exponents.map(power) as unknown as [PlaneStep, PlaneStep, PlaneStep] },
      { kind: 'matrix', matrix: diagonal3(pivot, pivot, pivot) },
    ];
  },
});
