import { fixedFunctionSteps } from '../transform/fixedFunction.ts';
import { invert3, apply3 } from './matrix.ts';
import type { ColourStep, PlaneStep } from './steps.ts';

/**
 * The steps that undo steps. Clamps stay clamps (what they cut off is gone). Throws a RangeError for a step whose inverse must be made where it is
 * made itself: tables, cubes and steps without a kernel.
 */
export function invertSteps(steps: readonly ColourStep[]): ColourStep[] {
  return [...steps].reverse().flatMap(invertStep);
}

function invertStep(step: ColourStep): ColourStep[] {
  switch (step.kind) {
    case 'matrix': {
      const matrix = invert3(step.matrix);
      if (!step.offset) return [{ kind: 'matrix', matrix }];
      const [x, y, z] = apply3(matrix, step.offset);
      return [{ kind: 'matrix', matrix, offset: [-x, -y, -z] }];
    }
    case 'channels': {
      const [a, b, c] = step.each;
      return [{ kind: 'channels', each: [invertPlane(a), invertPlane(b), invertPlane(c)] }];
    }
    case 'acesGlowAndRed':
      // The forward step ends at 0, so nothing below comes in here.
      return [
        { kind: 'clamp', low: 0, high: Infinity },
        ...undoFunction('aces_redmod10'),
        ...undoFunction('aces_glow10'),
      ];
    case 'aces2':
      return [{ kind: 'plain', recipe: { what: 'undoAces2', peak: step.peak, limiting: step.limiting } }];
    case 'tone':
      return [{ kind: 'plainPlane', recipe: { what: 'undoTone', splines: step.splines } }];
    case 'surround':
      return undoFunction('aces_darktodim10');
    case 'plain':
      if (!('inverse' in step.recipe)) throw new RangeError(`The step "${step.recipe.what}" cannot be turned round.`);
      return [{ kind: 'plain', recipe: { ...step.recipe, inverse: !step.recipe.inverse } }];
    case 'cube':
      throw new RangeError(`The step "${step.kind}" cannot be turned round.`);
    default:
      return [invertPlane(step)];
  }
}

function undoFunction(style: string): ColourStep[] {
  return fixedFunctionSteps({ type: 'fixedFunction', direction: 'forward', style, parameters: [] }, 'inverse');
}

const opposites = {
  encode: 'decode',
  decode: 'encode',
  encodeLog: 'decodeLog',
  decodeLog: 'encodeLog',
  encodePq: 'decodePq',
  decodePq: 'encodePq',
} as const;

function invertPlane(step: PlaneStep): PlaneStep {
  switch (step.kind) {
    case 'power':
      return { ...step, exponent: 1 / step.exponent };
    case 'clamp':
      return step;
    case 'plainPlane':
      if ('inverse' in step.recipe) return { ...step, recipe: { ...step.recipe, inverse: !step.recipe.inverse } };
      throw new RangeError(`The step "${step.recipe.what}" cannot be turned round.`);
    case 'table':
      throw new RangeError(`The step "${step.kind}" cannot be turned round.`);
    default:
      return { ...step, kind: opposites[step.kind] } as PlaneStep;
  }
}
