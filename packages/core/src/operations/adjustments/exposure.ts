import { diagonal3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

const range = [-20, 20] as const;
const options = { unit: 'stops', soft: [-6, 6], step: 0.05, scale: 'stops' } as const;

export const exposure = adjustment({
  kind: 'exposure',
  title: 'Exposure',
  does: 'v · 2^stops: light in photographic stops.',
  published: 'the stop as a doubling of light: common practice, no source',
  search: ['brightness', 'ev', 'f-stop'],
  parameters: {
    stops: number('All', 0, range, options),
    red: number('Red', 0, range, options),
    green: number('Green', 0, range, options),
    blue: number('Blue', 0, range, options),
  },
  alpha: 'any',
  choosesSpace: true,
  compile: ({ stops, red, green, blue }) => [
    { kind: 'matrix', matrix: diagonal3(2 ** (stops + red), 2 ** (stops + green), 2 ** (stops + blue)) },
  ],
});
