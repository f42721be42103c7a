import type { Matrix3 } from '../../colour/matrix.ts';
import { diagonal3 } from '../../colour/matrix.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { exp2Exact, log2Exact } from '../../kernel/exactPower.ts';
import { solveRising } from '../monotone.ts';
import { curvePair, type CurvePair } from './logs.ts';

/** Academy CTL, ACEScsc.Academy.ADX10_to_ACES.ctl and ADX16_to_ACES.ctl: printing density to ACES, numbers from memory. */
const channelToInterimDensity: Matrix3 = [
  0.75573, 0.22197, 0.0223, 0.05901, 0.96928, -0.02829, 0.16134, 0.07406, 0.7646,
];
const exposureToAces: Matrix3 = [0.72286, 0.1263, 0.15084, 0.11923, 0.76418, 0.11659, 0.01427, 0.08213, 0.90359];

const densities = [-0.19, 0.01, 0.028, 0.054, 0.095, 0.145, 0.22, 0.3, 0.4, 0.5, 0.6];
const exposures = [
  -6, -2.721718645, -2.521718645, -2.321718645, -2.121718645, -1.921718645, -1.721718645, -1.521718645, -1.321718645,
  -1.121718645, -0.926545676714876,
];
const slope = 100 / 55;
const reference = ((7120 - 1520) / 8000) * slope - Math.log10(0.18);

/** Interim density to the log10 of relative exposure. */
function logExposure(density: number): number {
  if (density > 0.6) return slope * density - reference;
  if (density <= densities[0]!) return exposures[0]!;
  let i = 0;
  while (i < densities.length - 2 && density > densities[i + 1]!) i++;
  const t = (density - densities[i]!) / (densities[i + 1]! - densities[i]!);
  return exposures[i]! + t * (exposures[i + 1]! - exposures[i]!);
}

const perDecade = 3.321928094887362;
const exposure: CurvePair = curvePair(
  'printing density',
  (density) => Math.min(exp2Exact(logExposure(density) * perDecade), 65504),
  (x) => {
    const wanted = log2Exact(x) / perDecade;
    return wanted <= exposures[0]! ? densities[0]! : solveRising(logExposure, wanted);
  },
);

/** ADX codes (0 … 1 of 10 or 16 bits) to ACES2065-1, and what undoes it. */
export function adx(bits: 10 | 16): { forward: ColourStep[]; curve: CurvePair } {
  const [top, black, perDensity] = bits === 10 ? [1023, 95, 500] : [65535, 1520, 8000];
  const k = top / perDensity;
  const o = -black / perDensity;
  return {
    forward: [
      { kind: 'matrix', matrix: diagonal3(k, k, k), offset: [o, o, o] },
      { kind: 'matrix', matrix: channelToInterimDensity },
      exposure.decode,
      { kind: 'matrix', matrix: exposureToAces },
    ],
    curve: exposure,
  };
}
