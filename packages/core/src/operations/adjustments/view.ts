import { adjustment } from '../adjustment.ts';
import { name } from '../parameters.ts';

export const view = adjustment({
  kind: 'view',
  title: 'View',
  does: 'The codes that a display shows through a view: 0 … 1, no light any more.',
  published: 'the definitions of displays and views; see docs/colour.md',
  search: ['display', 'tone map'],
  parameters: { display: name('display', 'Display'), view: name('view', 'View') },
  alpha: 'straight',
  choosesSpace: false,
  compile: ({ display, view: chosen }, { colour, space }) => {
    // Not chosen yet: without effect.
    return display && chosen ? colour.view(space, { display, view: chosen, exposure: 0 }) : [];
  },
});
