import type { LogCurve } from '../../colour/curves.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { exp2Exact, log2Exact } from '../../kernel/exactPower.ts';

/** A curve and its inverse as steps without kernels. */
export interface CurvePair {
  readonly decode: ColourStep;
  readonly encode: ColourStep;
}

export function curvePair(name: string, decode: (v: number) => number, encode: (x: number) => number): CurvePair {
  const step = (f: (x: number) => number, way: string): ColourStep => ({
    kind: 'plainPlane',
    name: `${name}, ${way}`,
    run: (plane) => {
      for (let i = 0; i < plane.length; i++) plane[i] = f(plane[i]!);
    },
  });
  return { decode: step(decode, 'decoded'), encode: step(encode, 'encoded') };
}

const perDecade = 3.321928094887362;
const pow10 = (x: number) => exp2Exact(x * perDecade);
const log10 = (x: number) => log2Exact(x) / perDecade;

const within = (x: number, low: number, high: number) => Math.min(Math.max(x, low), high);

/** Academy S-2014-003 (ACEScc), 4.4, over codes from -0.36 to 1.5 as the reference library has it. */
export const acescc = ((): CurvePair => {
  const [a, b] = [17.52, 9.72];
  const low = 2 ** -15;
  const floor = 2 ** -16;
  return curvePair(
    'ACEScc',
    (v) => {
      const code = within(v, -0.36, 1.5);
      return code < (b - 15) / a ? (exp2Exact(code * a - b) - floor) * 2 : exp2Exact(code * a - b);
    },
    (x) => within((log2Exact(x < low ? floor + x * 0.5 : x) + b) / a, -0.36, 1.5),
  );
})();

/** Canon Log 2, maker's white paper (values from memory, checked against the reference library); light relative to 0.9, codes 0 … 1. */
export const canonLog2 = ((): CurvePair => {
  const [k, gain, base] = [87.09937546, 0.24136077, 0.092864125];
  return curvePair(
    'log 2',
    (v) => {
      const code = within(v, 0, 1);
      return 0.9 * (code < base ? -(pow10((base - code) / gain) - 1) / k : (pow10((code - base) / gain) - 1) / k);
    },
    (x) => within(x < 0 ? -gain * log10(1 - (x / 0.9) * k) + base : gain * log10(1 + (x / 0.9) * k) + base, 0, 1),
  );
})();

/** Canon Log 3, as above: straight around 0. */
export const canonLog3 = ((): CurvePair => {
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
  return curvePair('log 3', decode, (light) => within(encode(light), 0, 1));
})();

const perStop = Math.log10(2);

/** A film scan's log: 0.002 density a 10-bit code, negative gamma 0.6, white at 685, black at 95 (practice of film scanning since the 1990s). */
export const filmLog = ((): LogCurve => {
  const range = (0.002 * 1023) / 0.6;
  const offset = 10 ** (((95 - 685) * 0.002) / 0.6);
  const scale = 1 - offset;
  return { cut: -Infinity, a: perStop / range, b: scale, c: offset, d: 685 / 1023, e: 1, f: 0 };
})();

/** Academy S-2013-001 (ACESproxy), 10-bit integer form: 50 codes a stop, 425 at 2^-2.5, over 1023. */
export const acesProxy10: LogCurve = {
  cut: -Infinity,
  a: 50 / 1023,
  b: 1,
  c: 0,
  d: (425 + 2.5 * 50) / 1023,
  e: 1,
  f: 0,
};
