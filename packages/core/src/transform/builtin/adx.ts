import type { Matrix3 } from '../../colour/matrix.ts';
import { diagonal3 } from '../../colour/matrix.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { decode } from './curves.ts';

/** Academy CTL, ACEScsc.Academy.ADX10_to_ACES.ctl and ADX16_to_ACES.ctl: printing density to ACES, numbers from memory. */
const channelToInterimDensity: Matrix3 = [
  0.75573, 0.22197, 0.0223, 0.05901, 0.96928, -0.02829, 0.16134, 0.07406, 0.7646,
];
const exposureToAces: Matrix3 = [0.72286, 0.1263, 0.15084, 0.11923, 0.76418, 0.11659, 0.01427, 0.08213, 0.90359];

/** ADX codes (0 … 1 of 10 or 16 bits) to ACES2065-1. */
export function adxSteps(bits: 10 | 16): ColourStep[] {
  const [top, black, perDensity] = bits === 10 ? [1023, 95, 500] : [65535, 1520, 8000];
  const k = top / perDensity;
  const o = -black / perDensity;
  return [
    { kind: 'matrix', matrix: diagonal3(k, k, k), offset: [o, o, o] },
    { kind: 'matrix', matrix: channelToInterimDensity },
    decode('printingDensity'),
    { kind: 'matrix', matrix: exposureToAces },
  ];
}
