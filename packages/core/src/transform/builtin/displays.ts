import { diagonal3, identity3, invert3, multiply3, type Matrix3 } from '../../colour/matrix.ts';
import { adaptation, rec2020, rec709, toXyz, type Primaries } from '../../colour/primaries.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { fixedFunctionSteps } from '../fixedFunction.ts';
import { decode, encode } from './curves.ts';

const d65 = rec709.white;

/** XYZ (white D65) to a display's own linear light, white adapted by Bradford where it is another. */
export function toDisplay(p: Primaries): ColourStep {
  const white: Matrix3 = p.white === d65 ? identity3 : adaptation(d65, p.white);
  return { kind: 'matrix', matrix: multiply3(invert3(toXyz(p)), white) };
}

/**
 * Light of BT.2020 primaries (1 is 100 cd/m²) and HLG codes of a 1000 cd/m² display: the display's surround (gamma 1.2) undone, then the
 * camera's curve. ITU-R BT.2100-2, table 5.
 */
export function hlgLight(): { encode: ColourStep[]; decode: ColourStep[] } {
  const scale = (k: number): ColourStep => ({ kind: 'matrix', matrix: diagonal3(k, k, k) });
  const surround = (direction: 'forward' | 'inverse') =>
    fixedFunctionSteps(
      { type: 'fixedFunction', direction: 'forward', style: 'rec2100_surround', parameters: [1 / 1.2] },
      direction,
    );
  const unit: ColourStep = { kind: 'clamp', low: 0, high: 1 };
  return {
    encode: [scale(0.1), ...surround('forward'), encode('hlg'), unit],
    decode: [unit, decode('hlg'), ...surround('inverse'), scale(10)],
  };
}

/** XYZ (white D65) to HLG codes, and back. */
export function hlgDisplay(): { forward: ColourStep[]; inverse: ColourStep[] } {
  const { encode: toCodes, decode: toLight } = hlgLight();
  return {
    forward: [toDisplay(rec2020), ...toCodes],
    inverse: [...toLight, { kind: 'matrix', matrix: toXyz(rec2020) }],
  };
}
