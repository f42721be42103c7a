import { adjustment } from '../adjustment.ts';
import { name } from '../parameters.ts';

export const conversion = adjustment({
  kind: 'conversion',
  title: 'Colour space',
  does: 'Reads the numbers as those of one space and writes those of another.',
  published: 'the definitions of the spaces; see docs/colour.md',
  search: ['convert', 'transform', 'primaries', 'log', 'linearise'],
  parameters: { from: name('space', 'From'), to: name('space', 'To') },
  alpha: 'straight',
  choosesSpace: false,
  compile: ({ from, to }, { colour }) => {
    // Not chosen yet: without effect.
    return from && to ? colour.conversion(from, to) : [];
  },
});
