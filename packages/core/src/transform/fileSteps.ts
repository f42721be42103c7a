import { mergeSteps } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import { ColourFileError } from '../config/place.ts';
import { builtinStyleSteps } from './builtin/styles.ts';
import { transformSteps } from './steps.ts';
import { combine, type Direction, type Transform } from './transform.ts';

/** Steps of what a LUT or CDL file holds: groups of transforms that need no config. Throws for one that does. */
export function selfContainedSteps(transform: Transform, direction: Direction = 'forward'): ColourStep[] {
  return mergeSteps(gather(transform, direction));
}

function gather(transform: Transform, direction: Direction): ColourStep[] {
  switch (transform.type) {
    case 'group': {
      const way = combine(transform.direction, direction);
      const children = way === 'forward' ? transform.children : [...transform.children].reverse();
      return children.flatMap((c) => gather(c, way));
    }
    case 'builtin':
      return builtinStyleSteps(transform.style, combine(transform.direction, direction), transform.place);
    case 'file':
    case 'space':
    case 'look':
    case 'displayView':
      throw new ColourFileError('this needs a colour config to be used.', transform.place, 'unsupported');
    default:
      return transformSteps(transform, direction);
  }
}
