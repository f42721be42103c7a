import { diagonal3, identity3, invert3, multiply3, type Matrix3 } from '../../colour/matrix.ts';
import { adaptation, rec2020, rec709, toXyz, type Primaries } from '../../colour/primaries.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { exp2Exact, log2Exact } from '../../kernel/exactPower.ts';
import { fixedFunctionSteps } from '../fixedFunction.ts';
import { curvePair, type CurvePair } from './logs.ts';

const d65 = rec709.white;

/** XYZ (white D65) to a display's own linear light, white adapted by Bradford where it is another. */
export function toDisplay(p: Primaries): ColourStep {
  const white: Matrix3 = p.white === d65 ? identity3 : adaptation(d65, p.white);
  return { kind: 'matrix', matrix: multiply3(invert3(toXyz(p)), white) };
}

/** ITU-R BT.2100-2, table 5: the HLG opto-electrical curve, E in 0 … 1. */
const hlg = ((): CurvePair => {
  const a = 0.17883277;
  const b = 1 - 4 * a;
  const c = 0.5 - a * Math.log(4 * a);
  const ln2 = Math.LN2;
  return curvePair(
    'HLG',
    (v) => {
      const size = Math.abs(v);
      const light = size <= 0.5 ? (size * size) / 3 : (exp2Exact((size - c) / a / ln2) + b) / 12;
      return v < 0 ? -light : light;
    },
    (x) => {
      const size = Math.abs(x);
      const code = size <= 1 / 12 ? Math.sqrt(3 * size) : a * log2Exact(12 * size - b) * ln2 + c;
      return x < 0 ? -code : code;
    },
  );
})();

/** XYZ where 1 is 100 cd/m² to HLG codes of a 1000 cd/m² display: the display's surround (gamma 1.2) undone, then the camera's curve. */
export function hlgDisplay(): { forward: ColourStep[]; inverse: ColourStep[] } {
  const scale = (k: number): ColourStep => ({ kind: 'matrix', matrix: diagonal3(k, k, k) });
  const surround = (direction: 'forward' | 'inverse') =>
    fixedFunctionSteps(
      { type: 'fixedFunction', direction: 'forward', style: 'rec2100_surround', parameters: [1 / 1.2] },
      direction,
    );
  const light = toDisplay(rec2020);
  const unit: ColourStep = { kind: 'clamp', low: 0, high: 1 };
  const back: ColourStep = { kind: 'matrix', matrix: toXyz(rec2020) };
  return {
    forward: [light, { kind: 'clamp', low: 0, high: Infinity }, scale(0.1), ...surround('forward'), hlg.encode, unit],
    inverse: [unit, hlg.decode, ...surround('inverse'), scale(10), back],
  };
}

export { hlg };
