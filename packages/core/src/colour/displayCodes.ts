import { bt1886Power, gammas, srgbCurve } from './curves.ts';
import { multiply3, invert3, type Matrix3 } from './matrix.ts';
import { decodeSteps, encodeSteps } from './conversion.ts';
import { requireSpace } from './spaces.ts';
import type { ColourStep } from './steps.ts';
import { p3d65, rec2020, rec709, toXyz, type Primaries } from './primaries.ts';

/** The codes of displays that files can say: what a picture's or a movie's numbers are. */
export type CodeEncoding = 'srgb' | 'bt1886' | 'displayP3' | 'p3Cinema' | 'pq' | 'hlg';

/** What a kind of display's codes is, and how files say so. */
export interface DisplayCodes {
  readonly name: string;
  /** Spaces of the built-in config that are numbers of it: what its files are read as. */
  readonly spaces: readonly string[];
  readonly primaries: Primaries;
  /**
   * One code 0 … 1 as light, 1 at the display's white (HDR: at its reference white), in float64: for proofs and tables; pictures go through the kernels.
   * Of a grey where channels are `bound`.
   */
  light(code: number): number;
  /** The way back. */
  code(light: number): number;
  /** Where a colour's channels hang on its luminance too: the way from lights of `light` to its own, in place, and back. */
  readonly bound?: { forth(rgb: Float64Array): void; back(rgb: Float64Array): void };
  /** ColourPrimaries, TransferCharacteristics and MatrixCoefficients of Y'CbCr (ITU-T H.273, tables 2, 3 and 4); undefined where no transfer is this one. */
  readonly codePoints: readonly [primaries: number, transfer: number, matrix: number] | undefined;
  /** The exponent from light to code as PNG's gAMA has it (third edition, 11.3.2.1), nearest for curves that are no power; undefined for what none is near. */
  readonly gamma: number | undefined;
  /** The tone curve of an ICC profile (ICC.1:2022, 10.18): its kind and parameters; undefined where a matrix and curves cannot say it. */
  readonly iccCurve: { readonly kind: 0 | 3; readonly parameters: readonly number[] } | undefined;
}

const { cutLinear, cutEncoded, slope, scale, power, offset } = srgbCurve;
const srgbWays = {
  light: (v: number) => (v <= cutEncoded ? v / slope : ((v + offset) / scale) ** power),
  code: (l: number) => (l <= cutLinear ? l * slope : scale * l ** (1 / power) - offset),
  iccCurve: { kind: 3, parameters: [power, 1 / scale, offset / scale, 1 / slope, cutEncoded] },
  gamma: 1 / 2.2,
} as const;

const powerWays = (exponent: number) =>
  ({
    light: (v: number) => v ** exponent,
    code: (l: number) => l ** (1 / exponent),
    iccCurve: { kind: 0, parameters: [exponent] },
    gamma: 1 / exponent,
  }) as const;

/** SMPTE ST 2084:2014, 5.2 (and ITU-R BT.2100-2, table 4): PQ's constants, and the light of code 1 in cd/m². */
const [m1, m2, c1, c2, c3, peak] = [2610 / 16384, (2523 / 4096) * 128, 3424 / 4096, 2413 / 128, 2392 / 128, 10_000];
/** HDR reference white, cd/m² (ITU-R BT.2408-7, 2.1): where white paper lies. */
const referenceWhite = 203;

const pqWays = {
  light: (v: number) => {
    const e = v ** (1 / m2);
    return ((Math.max(e - c1, 0) / (c2 - c3 * e)) ** (1 / m1) * peak) / referenceWhite;
  },
  code: (l: number) => {
    const y = ((Math.max(0, l) * referenceWhite) / peak) ** m1;
    return ((c1 + c2 * y) / (1 + c3 * y)) ** m2;
  },
};

/** ITU-R BT.2100-2, table 5: HLG's curve, and the surround of a display whose peak is 1000 cd/m². */
const [hlgA, hlgPeak, surround] = [0.17883277, 1000, 1.2];
const [hlgB, hlgC] = [1 - 4 * hlgA, 0.5 - hlgA * Math.log(4 * hlgA)];
const hlgTop = hlgPeak / referenceWhite;
/** Luminance of BT.2020 primaries (ITU-R BT.2020-2, table 4). */
const luminance = ([r, g, b]: Float64Array) => 0.2627 * r! + 0.678 * g! + 0.0593 * b!;

const hlgWays = {
  light: (v: number) => hlgTop * (v <= 0.5 ? (v * v) / 3 : (Math.exp((v - hlgC) / hlgA) + hlgB) / 12) ** surround,
  code: (l: number) => {
    const e = (Math.max(0, l) / hlgTop) ** (1 / surround);
    return e <= 1 / 12 ? Math.sqrt(3 * e) : hlgA * Math.log(12 * e - hlgB) + hlgC;
  },
  bound: {
    // Scene light E, then E · Y^(surround − 1).
    forth(rgb: Float64Array) {
      for (let c = 0; c < 3; c++) rgb[c] = (Math.max(0, rgb[c]!) / hlgTop) ** (1 / surround);
      const gain = hlgTop * luminance(rgb) ** (surround - 1);
      for (let c = 0; c < 3; c++) rgb[c]! *= gain;
    },
    back(rgb: Float64Array) {
      const y = (Math.max(0, luminance(rgb)) / hlgTop) ** (1 / surround);
      const gain = y > 0 ? 1 / (hlgTop * y ** (surround - 1)) : 0;
      for (let c = 0; c < 3; c++) rgb[c] = hlgTop * Math.max(0, rgb[c]! * gain) ** surround;
    },
  },
};

/** Codes of displays that show more than SDR's white: light in cd/m², not beside white. */
export const isHdr = (encoding: CodeEncoding | undefined): boolean => encoding === 'pq' || encoding === 'hlg';

/** Every kind of codes there is. BT.1886 has no transfer of its own in H.273: 1 (BT.709) is what it gives for such displays. */
export const displayCodes: Readonly<Record<CodeEncoding, DisplayCodes>> = {
  srgb: { name: 'sRGB', spaces: ['sRGB'], primaries: rec709, codePoints: [1, 13, 1], ...srgbWays },
  bt1886: {
    name: 'Rec.709, gamma 2.4',
    spaces: ['BT.1886', 'Rec.709'],
    primaries: rec709,
    codePoints: [1, 1, 1],
    ...powerWays(bt1886Power),
  },
  displayP3: { name: 'Display P3', spaces: ['Display P3'], primaries: p3d65, codePoints: [12, 13, 1], ...srgbWays },
  p3Cinema: {
    name: 'P3-D65, gamma 2.6',
    spaces: ['P3 gamma 2.6'],
    primaries: p3d65,
    codePoints: undefined,
    ...powerWays(gammas.g26),
  },
  pq: {
    name: 'Rec.2100 PQ',
    spaces: ['PQ'],
    primaries: rec2020,
    codePoints: [9, 16, 9],
    ...pqWays,
    gamma: undefined,
    iccCurve: undefined,
  },
  hlg: {
    name: 'Rec.2100 HLG',
    spaces: ['HLG'],
    primaries: rec2020,
    codePoints: [9, 18, 9],
    ...hlgWays,
    gamma: undefined,
    iccCurve: undefined,
  },
};

/** The codes that a space of the built-in config is; undefined for others. */
export const encodingOfSpace = (space: string): CodeEncoding | undefined =>
  (Object.keys(displayCodes) as CodeEncoding[]).find((e) => displayCodes[e].spaces.includes(space));

/** One code of a display as light, 1 at its white; of a grey. */
export const lightOfCode = (code: number, encoding: CodeEncoding): number => displayCodes[encoding].light(code);

/** Light as a code, the way back. */
export const codeOfLight = (light: number, encoding: CodeEncoding): number => displayCodes[encoding].code(light);

/** Light of one kind of codes' primaries to that of another's; whites are the same. */
export function betweenCodes(from: CodeEncoding, to: CodeEncoding): Matrix3 {
  return multiply3(invert3(toXyz(displayCodes[to].primaries)), toXyz(displayCodes[from].primaries));
}

/**
 * Steps from codes of one kind to the codes of another that show the same light, as far as that display shows it. Between those of SDR, or between
 * those of HDR, only: these say how bright light is, those how bright it is beside white.
 */
export function recodeSteps(from: CodeEncoding, to: CodeEncoding): ColourStep[] {
  if (from === to) return [];
  const [a, b] = [displayCodes[from], displayCodes[to]].map(({ spaces }) => requireSpace(spaces[0]!));
  return [
    ...decodeSteps(a!),
    { kind: 'matrix', matrix: betweenCodes(from, to) },
    ...(isHdr(to) ? [] : [{ kind: 'clamp' as const, low: 0, high: 1 }]),
    ...encodeSteps(b!),
  ];
}

/** Why codes of HDR cannot be those of SDR, nor the other way about. */
export const hdrIsApart =
  'Codes of HDR say how bright light is, those of SDR how bright it is beside white: neither can be reckoned from the other.';

/** Whether codes of one kind can be reckoned from another's: both of SDR, or both of HDR. */
export const canRecode = (from: CodeEncoding, to: CodeEncoding): boolean => isHdr(from) === isHdr(to);

/** RGBA8 codes of one kind as the codes of another that show the same light, as far as that display shows it; alpha stays. */
export function recodePicture(rgba: Uint8Array, from: CodeEncoding, to: CodeEncoding): Uint8Array {
  if (from === to) return rgba;
  const [a, b] = [displayCodes[from], displayCodes[to]];
  const light = Float64Array.from({ length: 256 }, (_, i) => a.light(i / 255));
  const code = (l: number) => Math.round(255 * Math.min(1, Math.max(0, b.code(Math.max(0, l)))));
  const out = Uint8Array.from(rgba);
  if (a.primaries === b.primaries && !a.bound && !b.bound) {
    const table = Uint8Array.from(light, code);
    for (let i = 0; i < out.length; i++) if (i % 4 < 3) out[i] = table[rgba[i]!]!;
    return out;
  }
  const m = betweenCodes(from, to);
  const [seen, wanted] = [new Float64Array(3), new Float64Array(3)];
  for (let i = 0; i < out.length; i += 4) {
    for (let c = 0; c < 3; c++) seen[c] = light[rgba[i + c]!]!;
    a.bound?.forth(seen);
    for (let c = 0; c < 3; c++) wanted[c] = m[3 * c]! * seen[0]! + m[3 * c + 1]! * seen[1]! + m[3 * c + 2]! * seen[2]!;
    b.bound?.back(wanted);
    for (let c = 0; c < 3; c++) out[i + c] = code(wanted[c]!);
  }
  return out;
}
