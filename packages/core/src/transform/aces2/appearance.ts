import { apply3, diagonal3, invert3, multiply3, type Matrix3, type Vector3 } from '../../colour/matrix.ts';
import { toXyz, type Primaries } from '../../colour/primaries.ts';
import { arctangent2, powExact } from '../../kernel/exactPower.ts';

/**
 * The colour appearance model of the ACES 2 rendering: Hellwig and Fairchild's form of CAM16 ("Brightness, lightness, colorfulness, and
 * chroma in CIECAM02 and CAM16", Color Res. Appl. 2022), adapted fully to the white of the primaries, dim surround, in the form in which
 * the Academy publishes it (aces-core, Lib.Academy.OutputTransform.ctl). Numbers as in the reference library 2.5.1.
 * Light is relative: 1 is 100 cd/m².
 */
export interface AppearanceModel {
  /** Linear RGB of the primaries to adapted cone light, and back. */
  readonly toCones: Matrix3;
  readonly fromCones: Matrix3;
  /** Compressed cone responses to achromatic response A and the opponent pair a, b, and back. */
  readonly toOpponent: Matrix3;
  readonly fromOpponent: Matrix3;
  readonly lightAdaptation: number;
  readonly whiteResponse: number;
}

/** Luminance in cd/m² of light 1. */
export const referenceLuminance = 100;
const adaptingLuminance = 100;
const background = 20;
/** Dim surround: the factor c of the model and N_c, CIE 248:2022 table 1. */
const surroundC = 0.59;
const surroundN = 0.9;

/** Exponent of lightness over A: c · z. */
export const lightnessExponent = surroundC * (1.48 + Math.sqrt(background / referenceLuminance));

/** Primaries of the model's cone space, as xy. */
const conePrimaries: Primaries = {
  red: [0.8336, 0.1735],
  green: [2.3854, -1.4659],
  blue: [0.087, -0.125],
  white: [0.333, 0.333],
};

const coneExponent = 0.42;
const coneOffset = 0.2713 * referenceLuminance;
const coneScale = 4 * referenceLuminance;

const k = 1 / (5 * adaptingLuminance + 1);
const k4 = k * k * k * k;
const adaptationLevel =
  0.2 * k4 * (5 * adaptingLuminance) + 0.1 * (1 - k4) * (1 - k4) * powExact(5 * adaptingLuminance, 1 / 3);

/** Cone light to its compressed response, the sign kept. */
export function compressCone(v: number): number {
  const size = powExact(Math.abs(v), coneExponent);
  const response = size / (coneOffset + size);
  return v < 0 ? -response : response;
}

/** A compressed response back to cone light; held below 0.99. */
export function expandCone(response: number): number {
  const size = Math.min(Math.abs(response), 0.99);
  const v = powExact((coneOffset * size) / (1 - size), 1 / coneExponent);
  return response < 0 ? -v : v;
}

/** The model for light of a set of primaries, its white fully adapted to. */
export function appearanceModel(primaries: Primaries): AppearanceModel {
  const toModel = invert3(toXyz(conePrimaries));
  const rgbToXyz = toXyz(primaries);
  const r = referenceLuminance;
  const white = apply3(rgbToXyz, [r, r, r]);
  const coneWhite = apply3(toModel, white);
  const level = adaptationLevel / referenceLuminance;
  const adapt = coneWhite.map((w) => (level * white[1]) / w) as unknown as Vector3;
  const response = [0, 1, 2].map((c) => compressCone(adapt[c]! * coneWhite[c]!)) as unknown as Vector3;
  const base: Matrix3 = [2, 1, 1 / 20, 1, -12 / 11, 1 / 11, 1 / 9, 1 / 9, -2 / 9].map(
    (x) => x * coneScale,
  ) as unknown as Matrix3;
  const whiteA = base[0] * response[0] + base[1] * response[1] + base[2] * response[2];
  const chroma = 43 * surroundN;
  const toOpponent = base.map((x, i) => (i < 3 ? x / whiteA : x * chroma)) as unknown as Matrix3;
  const toCones = multiply3(diagonal3(...adapt), multiply3(multiply3(toModel, rgbToXyz), diagonal3(r, r, r)));
  return {
    toCones,
    fromCones: invert3(toCones),
    toOpponent,
    fromOpponent: invert3(toOpponent),
    lightAdaptation: level,
    whiteResponse: compressCone(adaptationLevel),
  };
}

/** Lightness, colourfulness, hue in degrees, and the hue's cosine and sine; achromatic response A beside them. */
export interface Appearance {
  lightness: number;
  colourfulness: number;
  hue: number;
  cosine: number;
  sine: number;
  achromatic: number;
}

export function newAppearance(): Appearance {
  return { lightness: 0, colourfulness: 0, hue: 0, cosine: 1, sine: 0, achromatic: 0 };
}

/** Linear RGB to its appearance. Black and what is darker has none: all 0. */
export function seeColour(m: AppearanceModel, r: number, g: number, b: number, out: Appearance): void {
  const c = m.toCones;
  const x = compressCone(c[0] * r + c[1] * g + c[2] * b);
  const y = compressCone(c[3] * r + c[4] * g + c[5] * b);
  const z = compressCone(c[6] * r + c[7] * g + c[8] * b);
  const o = m.toOpponent;
  const achromatic = o[0] * x + o[1] * y + o[2] * z;
  const first = o[3] * x + o[4] * y + o[5] * z;
  const second = o[6] * x + o[7] * y + o[8] * z;
  out.achromatic = achromatic;
  out.cosine = 1;
  out.sine = 0;
  if (!(achromatic > 0)) {
    out.lightness = out.colourfulness = out.hue = 0;
    return;
  }
  out.lightness = 100 * powExact(achromatic, lightnessExponent);
  out.colourfulness = Math.sqrt(first * first + second * second);
  if (out.colourfulness > 0) {
    out.cosine = first / out.colourfulness;
    out.sine = second / out.colourfulness;
  }
  const degrees = arctangent2(second, first) * (180 / Math.PI);
  out.hue = degrees < 0 ? degrees + 360 : degrees;
}

/** Lightness and colourfulness in the direction (cosine, sine) to linear RGB, written to `out`. */
export function makeColour(
  m: AppearanceModel,
  lightness: number,
  colourfulness: number,
  cosine: number,
  sine: number,
  out: [number, number, number],
): void {
  const achromatic = powExact(lightness / 100, 1 / lightnessExponent);
  const first = colourfulness * cosine;
  const second = colourfulness * sine;
  const o = m.fromOpponent;
  const x = expandCone(o[0] * achromatic + o[1] * first + o[2] * second);
  const y = expandCone(o[3] * achromatic + o[4] * first + o[5] * second);
  const z = expandCone(o[6] * achromatic + o[7] * first + o[8] * second);
  const c = m.fromCones;
  out[0] = c[0] * x + c[1] * y + c[2] * z;
  out[1] = c[3] * x + c[4] * y + c[5] * z;
  out[2] = c[6] * x + c[7] * y + c[8] * z;
}

/** Luminance (cd/m²) of a grey of achromatic response A >= 0. */
export function luminanceOf(achromatic: number, m: AppearanceModel): number {
  return expandCone(m.whiteResponse * achromatic) / m.lightAdaptation;
}

/** Lightness of a grey of a luminance in cd/m². */
export function lightnessOf(luminance: number, m: AppearanceModel): number {
  const response = compressCone(Math.abs(luminance) * m.lightAdaptation);
  const j = 100 * powExact(response / m.whiteResponse, lightnessExponent);
  return luminance < 0 ? -j : j;
}

/** Cosine and sine of an angle in degrees by exact operations only, within 1e-15: the same bits in every engine. */
export function direction(degrees: number): { cosine: number; sine: number } {
  const turns = Math.round(degrees / 90);
  const x = ((degrees - turns * 90) * Math.PI) / 180;
  const z = x * x;
  let c = 1;
  let s = 1;
  // Taylor series up to x^17; |x| <= π/4.
  for (let n = 16; n >= 2; n -= 2) {
    c = 1 - (z / (n * (n - 1))) * c;
    s = 1 - (z / (n * (n + 1))) * s;
  }
  s *= x;
  switch (((turns % 4) + 4) % 4) {
    case 1:
      return { cosine: -s, sine: c };
    case 2:
      return { cosine: -c, sine: -s };
    case 3:
      return { cosine: s, sine: -c };
    default:
      return { cosine: c, sine: s };
  }
}
