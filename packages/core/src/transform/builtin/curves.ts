import type { PlaneStep } from '../../colour/steps.ts';
import { exp2Exact, log2Exact } from '../../kernel/exactPower.ts';
import { solveRising } from '../monotone.ts';
import type { BuiltinCurveName } from '../recipes.ts';

/** A curve and its inverse. */
export interface CurvePair {
  readonly decode: (v: number) => number;
  readonly encode: (x: number) => number;
}

const pair = (decode: CurvePair['decode'], encode: CurvePair['encode']): CurvePair => ({ decode, encode });
const perDecade = 3.321928094887362;
const pow10 = (x: number) => exp2Exact(x * perDecade);
const log10 = (x: number) => log2Exact(x) / perDecade;

const within = (x: number, low: number, high: number) => Math.min(Math.max(x, low), high);

/** Academy S-2014-003 (ACEScc), 4.4, over codes from -0.36 to 1.5 as the reference library has it. */
const acescc = ((): CurvePair => {
  const [a, b] = [17.52, 9.72];
  const low = 2 ** -15;
  const floor = 2 ** -16;
  return pair(
    (v) => {
      const code = within(v, -0.36, 1.5);
      return code < (b - 15) / a ? (exp2Exact(code * a - b) - floor) * 2 : exp2Exact(code * a - b);
    },
    (x) => within((log2Exact(x < low ? floor + x * 0.5 : x) + b) / a, -0.36, 1.5),
  );
})();

/** Canon Log 2, maker's white paper (values from memory, checked against the reference library); light relative to 0.9, codes 0 … 1. */
const canonLog2 = ((): CurvePair => {
  const [k, gain, base] = [87.09937546, 0.24136077, 0.092864125];
  return pair(
    (v) => {
      const code = within(v, 0, 1);
      return 0.9 * (code < base ? -(pow10((base - code) / gain) - 1) / k : (pow10((code - base) / gain) - 1) / k);
    },
    (x) => within(x < 0 ? -gain * log10(1 - (x / 0.9) * k) + base : gain * log10(1 + (x / 0.9) * k) + base, 0, 1),
  );
})();

/** Canon Log 3, as above: straight around 0. */
const canonLog3 = ((): CurvePair => {
  const [k, gain] = [14.98325, 0.36726845];
  const decode = (asked: number) => {
    const v = within(asked, 0, 1);
    if (v < 0.097465473) return (-(pow10((0.12783901 - v) / gain) - 1) / k) * 0.9;
    if (v <= 0.15277891) return ((v - 0.12512219) / 1.9754798) * 0.9;
    return ((pow10((v - 0.12240537) / gain) - 1) / k) * 0.9;
  };
  const encode = (light: number) => {
    const x = light / 0.9;
    if (x < -0.014) return -gain * log10(1 - x * k) + 0.12783901;
    if (x <= 0.014) return 1.9754798 * x + 0.12512219;
    return gain * log10(1 + x * k) + 0.12240537;
  };
  return pair(decode, (light) => within(encode(light), 0, 1));
})();

/** The phone log curve, maker's white paper (numbers as in the reference library 2.5.1): a square above -0.056, a logarithm from 0.01 on. */
const appleLog = ((): CurvePair => {
  const [start, join, c, beta, gamma, delta] = [-0.05641088, 0.01, 47.28711236, 0.00964052, 0.08550479, 0.69336945];
  const joinCode = c * (join - start) ** 2;
  return pair(
    (v) => (v >= joinCode ? exp2Exact((v - delta) / gamma) - beta : v >= 0 ? Math.sqrt(v / c) + start : start),
    (x) => (x >= join ? gamma * log2Exact(x + beta) + delta : x >= start ? c * (x - start) * (x - start) : 0),
  );
})();

/** ITU-R BT.2100-2, table 5: the HLG opto-electrical curve, E in 0 … 1. */
const hlg = ((): CurvePair => {
  const a = 0.17883277;
  const b = 1 - 4 * a;
  const c = 0.5 - a * Math.log(4 * a);
  const ln2 = Math.LN2;
  return pair(
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

/** Academy CTL, ACEScsc.Academy.ADX10_to_ACES.ctl: interim printing density to relative exposure, numbers from memory. */
const densities = [-0.19, 0.01, 0.028, 0.054, 0.095, 0.145, 0.22, 0.3, 0.4, 0.5, 0.6];
const exposures = [
  -6, -2.721718645, -2.521718645, -2.321718645, -2.121718645, -1.921718645, -1.721718645, -1.521718645, -1.321718645,
  -1.121718645, -0.926545676714876,
];
const slope = 100 / 55;
const reference = ((7120 - 1520) / 8000) * slope - Math.log10(0.18);

/** The darkest and brightest log10 of relative exposure that the reference library goes on to. */
const darkest = -10;
const brightest = 4.8162678;

/** Interim density to the log10 of relative exposure; below the table its first slope goes on, as in the reference library. */
function logExposure(density: number): number {
  if (density > 0.6) return slope * density - reference;
  let i = 0;
  while (i < densities.length - 2 && density > densities[i + 1]!) i++;
  const t = (density - densities[i]!) / (densities[i + 1]! - densities[i]!);
  return exposures[i]! + t * (exposures[i + 1]! - exposures[i]!);
}

const printingDensity: CurvePair = pair(
  (density) => exp2Exact(within(logExposure(density), darkest, brightest) * perDecade),
  (x) => solveRising(logExposure, within(log2Exact(x) / perDecade, darkest, brightest)),
);

/** Academy CTL, ACESlib.ODT_Common roll_white_fwd: above 1 − width a parabola up to the new white at 1, and level beyond. */
function rollWhite(newWhite: number, width = 0.5): CurvePair {
  const start = 1 - width;
  const a = start - newWhite + width;
  const b = 2 * (newWhite - start) - width;
  const encode = (x: number) => {
    const t = (1 - x) / width;
    if (t >= 1) return x;
    return t < 0 ? newWhite : newWhite - (b * t + a * t * t);
  };
  return pair((y) => (y >= newWhite ? 1 : y <= start ? y : solveRising(encode, y)), encode);
}

const curves: Readonly<Record<Exclude<BuiltinCurveName, 'rollWhite'>, CurvePair>> = {
  acescc,
  appleLog,
  canonLog2,
  canonLog3,
  printingDensity,
  hlg,
};

/** A builtin curve by name. */
export function builtinCurve(name: BuiltinCurveName, amount = 1): CurvePair {
  return name === 'rollWhite' ? rollWhite(amount) : curves[name];
}

/** Codes to light through a builtin curve, as a step. */
export function decode(name: BuiltinCurveName, amount?: number): PlaneStep {
  return {
    kind: 'plainPlane',
    recipe: { what: 'builtinCurve', name, inverse: false, ...(amount === undefined ? {} : { amount }) },
  };
}

/** Light to codes through a builtin curve, as a step. */
export function encode(name: BuiltinCurveName, amount?: number): PlaneStep {
  return {
    kind: 'plainPlane',
    recipe: { what: 'builtinCurve', name, inverse: true, ...(amount === undefined ? {} : { amount }) },
  };
}
