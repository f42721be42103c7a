import { apply3, diagonal3, identity3, invert3, multiply3, type Matrix3, type Vector3 } from './matrix.ts';

/** CIE 1931 xy chromaticities of a set of primaries and its white point. */
export interface Primaries {
  readonly red: readonly [number, number];
  readonly green: readonly [number, number];
  readonly blue: readonly [number, number];
  readonly white: readonly [number, number];
  /** How its maker adapts to another white; Bradford when left out. */
  readonly adaptation?: 'cat02';
}

const d65 = [0.3127, 0.329] as const;
/** The white point of ACES, SMPTE ST 2065-1:2012 4.1 (close to D60). */
const acesWhite = [0.32168, 0.33767] as const;

/** SMPTE ST 2065-1:2012, table 1. */
export const ap0: Primaries = { red: [0.7347, 0.2653], green: [0, 1], blue: [0.0001, -0.077], white: acesWhite };
/** Academy S-2014-004 (ACEScg), section 4.1. */
export const ap1: Primaries = { red: [0.713, 0.293], green: [0.165, 0.83], blue: [0.128, 0.044], white: acesWhite };
/** ITU-R BT.709-6, item 1.3; also IEC 61966-2-1. */
export const rec709: Primaries = { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: d65 };
/** ITU-R BT.2020-2, table 3. */
export const rec2020: Primaries = { red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046], white: d65 };
/** SMPTE EG 432-1 with the white point D65. */
export const p3d65: Primaries = { red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: d65 };

/** Camera gamuts as their makers publish them (white papers of the log curves, values from memory, checked against the reference library). */
export const sGamut3: Primaries = {
  red: [0.73, 0.28],
  green: [0.14, 0.855],
  blue: [0.1, -0.05],
  white: d65,
  adaptation: 'cat02',
};
export const sGamut3Cine: Primaries = {
  red: [0.766, 0.275],
  green: [0.225, 0.8],
  blue: [0.089, -0.087],
  white: d65,
  adaptation: 'cat02',
};
export const wideGamut3: Primaries = {
  red: [0.684, 0.313],
  green: [0.221, 0.848],
  blue: [0.0861, -0.102],
  white: d65,
  adaptation: 'cat02',
};
export const wideGamut4: Primaries = {
  red: [0.7347, 0.2653],
  green: [0.1424, 0.8576],
  blue: [0.0991, -0.0308],
  white: d65,
  adaptation: 'cat02',
};
export const wideGamutRgb: Primaries = {
  red: [0.780308, 0.304253],
  green: [0.121595, 1.493994],
  blue: [0.095612, -0.084589],
  white: d65,
};
export const vGamut: Primaries = { red: [0.73, 0.28], green: [0.165, 0.84], blue: [0.1, -0.03], white: d65 };

/** The two gamuts of a later camera of the same maker (published with its ACES transforms; values from memory, checked against the reference library). */
export const sGamut3Venice: Primaries = {
  red: [0.740464264304292, 0.27936437475066],
  green: [0.089241145423286, 0.893809528608105],
  blue: [0.110488236673827, -0.052579333080476],
  white: d65,
  adaptation: 'cat02',
};
export const sGamut3CineVenice: Primaries = {
  red: [0.775901871567345, 0.274502392854799],
  green: [0.188682902773355, 0.828684937020288],
  blue: [0.101337382499301, -0.089187517306263],
  white: d65,
  adaptation: 'cat02',
};
export const canonGamut: Primaries = {
  red: [0.74, 0.27],
  green: [0.17, 1.14],
  blue: [0.08, -0.1],
  white: d65,
  adaptation: 'cat02',
};
/** SMPTE RP 431-2: the projector's own white. */
export const p3dci: Primaries = { ...p3d65, white: [0.314, 0.351] };
export const p3d60: Primaries = { ...p3d65, white: acesWhite };

function whiteXyz([x, y]: readonly [number, number]): Vector3 {
  return [x / y, 1, (1 - x - y) / y];
}

/** Linear RGB of these primaries to CIE XYZ with Y = 1 at white. SMPTE RP 177-1993, section 3.3. */
export function toXyz(p: Primaries): Matrix3 {
  const columns: Matrix3 = [
    p.red[0],
    p.green[0],
    p.blue[0],
    p.red[1],
    p.green[1],
    p.blue[1],
    1 - p.red[0] - p.red[1],
    1 - p.green[0] - p.green[1],
    1 - p.blue[0] - p.blue[1],
  ];
  const scale = apply3(invert3(columns), whiteXyz(p.white));
  return multiply3(columns, diagonal3(scale[0], scale[1], scale[2]));
}

/** Bradford cone responses: Lam 1985, as in ICC.1:2022 annex E. */
const bradford: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

/** CIE 159:2004, CAT02. */
const cat02: Matrix3 = [0.7328, 0.4296, -0.1624, -0.7036, 1.6975, 0.0061, 0.003, 0.0136, 0.9834];

/** Chromatic adaptation of XYZ between white points: von Kries scaling of cone responses, Bradford's (ICC.1:2022 E.2) or CAT02's. */
export function adaptation(
  from: readonly [number, number],
  to: readonly [number, number],
  method: 'bradford' | 'cat02' = 'bradford',
): Matrix3 {
  if (from[0] === to[0] && from[1] === to[1]) return identity3;
  const cone = method === 'cat02' ? cat02 : bradford;
  const a = apply3(cone, whiteXyz(from));
  const b = apply3(cone, whiteXyz(to));
  const scale = diagonal3(b[0] / a[0], b[1] / a[1], b[2] / a[2]);
  return multiply3(invert3(cone), multiply3(scale, cone));
}

/**
 * Linear RGB to linear RGB between two sets of primaries; whites adapted by Bradford. A camera gamut whose maker adapts otherwise
 * goes by way of ACES2065-1, as makers publish their matrices and configs chain them.
 */
export function primariesMatrix(from: Primaries, to: Primaries): Matrix3 {
  if (from === to) return identity3;
  if (from.adaptation !== to.adaptation && from !== ap0 && to !== ap0)
    return multiply3(primariesMatrix(ap0, to), primariesMatrix(from, ap0));
  const method = from.adaptation ?? to.adaptation ?? 'bradford';
  return multiply3(invert3(toXyz(to)), multiply3(adaptation(from.white, to.white, method), toXyz(from)));
}

/** Weights of linear R, G and B in luminance Y. */
export function luminanceWeights(p: Primaries): Vector3 {
  const m = toXyz(p);
  return [m[3], m[4], m[5]];
}

/** Whether two sets of primaries agree within `tolerance` in every x and y (headers round to float32 or to 4 digits). */
export function samePrimaries(a: Primaries, b: Primaries, tolerance = 1e-3): boolean {
  return (['red', 'green', 'blue', 'white'] as const).every(
    (key) => Math.abs(a[key][0] - b[key][0]) <= tolerance && Math.abs(a[key][1] - b[key][1]) <= tolerance,
  );
}
