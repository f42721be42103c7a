/** A curve that is straight near 0 and a power above: linear light L to encoded V, and back. */
export interface StraightAndPower {
  /** V = slope · L up to this L. */
  readonly cutLinear: number;
  /** L = V / slope up to this V. */
  readonly cutEncoded: number;
  readonly slope: number;
  /** V = scale · L^(1/power) − offset above. */
  readonly scale: number;
  readonly power: number;
  readonly offset: number;
}

/** IEC 61966-2-1:1999, 5.2 (encoding 5.2.3, decoding 5.2.1 in the amended form). */
export const srgbCurve: StraightAndPower = {
  cutLinear: 0.0031308,
  cutEncoded: 0.04045,
  slope: 12.92,
  scale: 1.055,
  power: 2.4,
  offset: 0.055,
};

/** ITU-R BT.709-6, item 1.2: V = 1.099 L^0.45 − 0.099, V = 4.5 L below 0.018. */
export const rec709Curve: StraightAndPower = {
  cutLinear: 0.018,
  cutEncoded: 0.081,
  slope: 4.5,
  scale: 1.099,
  power: 1 / 0.45,
  offset: 0.099,
};

/** ITU-R BT.1886, annex 1: L = a · max(V + b, 0)^2.4; with black at 0 and white at 1, a = 1 and b = 0. */
export const bt1886Power = 2.4;

/** A curve that is logarithmic above a cut and straight below: V = a · log2(b · L + c) + d for L > cut, else V = e · L + f. */
export interface LogCurve {
  readonly cut: number;
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
}

const log10Of2 = Math.log10(2);

/** Academy S-2016-001 (ACEScct), 4.4. */
const acescct: LogCurve = {
  cut: 0.0078125,
  a: 1 / 17.52,
  b: 1,
  c: 0,
  d: 9.72 / 17.52,
  e: 10.5402377416545,
  f: 0.0729055341958355,
};

/** S-Log3, technical summary: 10-bit codes over 1023, 18 % grey at 420. */
const slog3: LogCurve = {
  cut: 0.01125,
  a: (261.5 / 1023) * log10Of2,
  b: 1 / 0.19,
  c: 0.01 / 0.19,
  d: 420 / 1023,
  e: (171.2102946929 - 95) / 0.01125 / 1023,
  f: 95 / 1023,
};

/** LogC3 at exposure index 800, usage paper of the curve (parameters for linear scene exposure factor). */
const logc3: LogCurve = {
  cut: 0.010591,
  a: 0.24719 * log10Of2,
  b: 5.555556,
  c: 0.052272,
  d: 0.385537,
  e: 5.367655,
  f: 0.092809,
};

/** LogC4 specification. */
const logc4 = ((): LogCurve => {
  const a = (2 ** 18 - 16) / 117.45;
  const b = (1023 - 95) / 1023;
  const c = 95 / 1023;
  const s = (7 * Math.LN2 * 2 ** (7 - (14 * c) / b)) / (a * b);
  const t = (2 ** (14 * (-c / b) + 6) - 64) / a;
  return { cut: t, a: b / 14, b: a, c: 64, d: c - (6 * b) / 14, e: 1 / s, f: -t / s };
})();

/** Log3G10, white paper on its gamut and curve: offset 0.01, slope 15.1927 below it. */
const log3g10: LogCurve = {
  cut: -0.01,
  a: 0.224282 * log10Of2,
  b: 155.975327,
  c: 155.975327 * 0.01 + 1,
  d: 0,
  e: 15.1927,
  f: 15.1927 * 0.01,
};

/** V-Log reference manual. */
const vlog: LogCurve = { cut: 0.01, a: 0.241514 * log10Of2, b: 1, c: 0.00873, d: 0.598206, e: 5.6, f: 0.125 };

export const logCurves = { acescct, slog3, logc3, logc4, log3g10, vlog } as const;
export type LogEncoding = keyof typeof logCurves;

/** A plain power: old computer displays' (common practice, no source), and 2.6 of cinema projection (SMPTE ST 428-1, 4.3). */
export const gammas = { g18: 1.8, g22: 2.2, g26: 2.6 } as const;
