import { exp2Exact, log2Exact } from '../kernel/exactPower.ts';
import { solveRising } from '../transform/monotone.ts';
import { fixedFunctionSteps } from '../transform/fixedFunction.ts';
import { splineValue, type ToneSpline } from './acesTonescale.ts';
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
    case 'tone':
      return [undoTone(step.splines)];
    case 'surround':
      return undoFunction('aces_darktodim10');
    case 'cube':
    case 'plain':
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
    case 'table':
    case 'plainPlane':
      throw new RangeError(`The step "${step.kind}" cannot be turned round.`);
    default:
      return { ...step, kind: opposites[step.kind] } as PlaneStep;
  }
}

/** Light to scene values through both tone scales backwards; what lies beyond their ends is held there. */
function undoTone([first, second]: readonly [ToneSpline, ToneSpline]): ColourStep {
  const perDecade = 3.321928094887362;
  const forward = (x: number) => splineValue(splineValue(x, first), second);
  const [low, high] = [forward(first.min[0]), forward(first.max[0])];
  const run = (plane: Float32Array) => {
    for (let i = 0; i < plane.length; i++) {
      const y = log2Exact(plane[i]!) / perDecade;
      const x = y <= low ? first.min[0] : y >= high ? first.max[0] : solveRising(forward, y);
      plane[i] = exp2Exact(x * perDecade);
    }
  };
  return { kind: 'plainPlane', name: 'tone, undone', run };
}
