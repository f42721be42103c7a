import { displayCodes, type CodeEncoding, type DisplayCodes } from '../colour/displayCodes.ts';
import type { Matrix3 } from '../colour/matrix.ts';
import { rec709, toXyz } from '../colour/primaries.ts';

/**
 * CIEDE2000 colour difference, k_L = k_C = k_H = 1.
 * Source: ISO/CIE 11664-6:2014; formulas and test pairs in Sharma, Wu, Dalal, Color Research and Application 30 (2005) 21-30.
 */
export type Lab = readonly [number, number, number];

const degree = Math.PI / 180;
const hueOf = (b: number, a: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / degree + 360) % 360);

export const ciede2000 = ([l1, a1, b1]: Lab, [l2, a2, b2]: Lab): number => deltaE(l1, a1, b1, l2, a2, b2);

function seventh(x: number): number {
  const cube = x * x * x;
  return cube * cube * x;
}
const seventhOf25 = seventh(25);

/** The same of numbers by themselves: pictures are compared by millions of pixels. */
function deltaE(l1: number, a1: number, b1: number, l2: number, a2: number, b2: number): number {
  const c7 = seventh((Math.sqrt(a1 * a1 + b1 * b1) + Math.sqrt(a2 * a2 + b2 * b2)) / 2);
  const g = 0.5 * (1 - Math.sqrt(c7 / (c7 + seventhOf25)));
  const p1 = (1 + g) * a1;
  const p2 = (1 + g) * a2;
  const c1 = Math.sqrt(p1 * p1 + b1 * b1);
  const c2 = Math.sqrt(p2 * p2 + b2 * b2);
  const h1 = hueOf(b1, p1);
  const h2 = hueOf(b2, p2);
  const grey = c1 * c2 === 0;
  let dh = h2 - h1;
  if (grey) dh = 0;
  else if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dL = l2 - l1;
  const dC = c2 - c1;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * degree);
  const meanL = (l1 + l2) / 2;
  const meanC = (c1 + c2) / 2;
  let meanH = h1 + h2;
  if (!grey) {
    if (Math.abs(h1 - h2) > 180) meanH += meanH < 360 ? 360 : -360;
    meanH /= 2;
  }
  const t =
    1 -
    0.17 * Math.cos((meanH - 30) * degree) +
    0.24 * Math.cos(2 * meanH * degree) +
    0.32 * Math.cos((3 * meanH + 6) * degree) -
    0.2 * Math.cos((4 * meanH - 63) * degree);
  const off = (meanH - 275) / 25;
  const turn = 30 * Math.exp(-off * off);
  const m7 = seventh(meanC);
  const rc = 2 * Math.sqrt(m7 / (m7 + seventhOf25));
  const apart = (meanL - 50) * (meanL - 50);
  const sl = dL / (1 + (0.015 * apart) / Math.sqrt(20 + apart));
  const sc = dC / (1 + 0.045 * meanC);
  const sh = dH / (1 + 0.015 * meanC * t);
  return Math.sqrt(sl * sl + sc * sc + sh * sh - Math.sin(2 * turn * degree) * rc * sc * sh);
}

/** What turns codes of a display into XYZ over its white: the light of each code, and a matrix. */
interface ToXyz {
  readonly bound: DisplayCodes['bound'];
  readonly light: Float64Array;
  readonly matrix: Matrix3;
}

/** IEC 61966-2-1's matrix over the white point D65 (0.3127, 0.3290), as it is published. */
const publishedRec709: Matrix3 = [
  0.4123908, 0.35758434, 0.18048079, 0.21263901, 0.71516868, 0.07219232, 0.01933082, 0.11919478, 0.95053215,
];
const white = [0.95045593, 1, 1.08905775] as const;

function toXyzOf(encoding: CodeEncoding): ToXyz {
  const { primaries, light, bound } = displayCodes[encoding];
  return {
    bound,
    light: Float64Array.from({ length: 256 }, (_, code) => light(code / 255)),
    matrix: primaries === rec709 ? publishedRec709 : toXyz(primaries),
  };
}

const ways = Object.fromEntries(
  (Object.keys(displayCodes) as CodeEncoding[]).map((encoding) => [encoding, toXyzOf(encoding)]),
) as Readonly<Record<CodeEncoding, ToXyz>>;

/** 8-bit codes of a display to CIELAB (white D65; for PQ and HLG the reference white of HDR is L* 100), for differences between pictures. */
export function labOfCodes(r: number, g: number, b: number, encoding: CodeEncoding): Lab {
  const [x, y, z] = [axis(r, g, b, 0, encoding), axis(r, g, b, 1, encoding), axis(r, g, b, 2, encoding)];
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

const boundPixel = new Float64Array(3);

/** X, Y or Z of codes over white, as CIELAB bends it. */
function axis(r: number, g: number, b: number, which: 0 | 1 | 2, encoding: CodeEncoding): number {
  const { light, matrix, bound } = ways[encoding];
  const i = 3 * which;
  let [x, y, z] = [light[r]!, light[g]!, light[b]!];
  if (bound) {
    boundPixel.set([x, y, z]);
    bound.forth(boundPixel);
    [x, y, z] = boundPixel as unknown as [number, number, number];
  }
  const t = (matrix[i]! * x + matrix[i + 1]! * y + matrix[i + 2]! * z) / white[which];
  return t > 216 / 24389 ? Math.cbrt(t) : (24389 / 27) * (t / 116) + 16 / 116;
}

type Codes = Uint8Array | Uint8ClampedArray;

/** CIEDE2000 between the pixels that begin at sample `i` of two RGBA8 pictures. */
export function deltaEOfCodes(a: Codes, b: Codes, i: number, encoding: CodeEncoding): number {
  const x1 = axis(a[i]!, a[i + 1]!, a[i + 2]!, 0, encoding);
  const y1 = axis(a[i]!, a[i + 1]!, a[i + 2]!, 1, encoding);
  const z1 = axis(a[i]!, a[i + 1]!, a[i + 2]!, 2, encoding);
  const x2 = axis(b[i]!, b[i + 1]!, b[i + 2]!, 0, encoding);
  const y2 = axis(b[i]!, b[i + 1]!, b[i + 2]!, 1, encoding);
  const z2 = axis(b[i]!, b[i + 1]!, b[i + 2]!, 2, encoding);
  return deltaE(116 * y1 - 16, 500 * (x1 - y1), 200 * (y1 - z1), 116 * y2 - 16, 500 * (x2 - y2), 200 * (y2 - z2));
}
