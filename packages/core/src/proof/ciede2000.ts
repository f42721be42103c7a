import { lightOfCode } from '../colour/codes.ts';

/**
 * CIEDE2000 colour difference, k_L = k_C = k_H = 1.
 * Source: ISO/CIE 11664-6:2014; formulas and test pairs in Sharma, Wu, Dalal, Color Research and Application 30 (2005) 21-30.
 */
export type Lab = readonly [number, number, number];

const degree = Math.PI / 180;
const hueOf = (b: number, a: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / degree + 360) % 360);

export function ciede2000([l1, a1, b1]: Lab, [l2, a2, b2]: Lab): number {
  const meanChroma = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2;
  const c7 = meanChroma ** 7;
  const g = 0.5 * (1 - Math.sqrt(c7 / (c7 + 25 ** 7)));
  const [p1, p2] = [(1 + g) * a1, (1 + g) * a2];
  const [c1, c2] = [Math.hypot(p1, b1), Math.hypot(p2, b2)];
  const [h1, h2] = [hueOf(b1, p1), hueOf(b2, p2)];
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
  const turn = 30 * Math.exp(-(((meanH - 275) / 25) ** 2));
  const rc = 2 * Math.sqrt(meanC ** 7 / (meanC ** 7 + 25 ** 7));
  const sl = 1 + (0.015 * (meanL - 50) ** 2) / Math.sqrt(20 + (meanL - 50) ** 2);
  const sc = 1 + 0.045 * meanC;
  const sh = 1 + 0.015 * meanC * t;
  const rt = -Math.sin(2 * turn * degree) * rc;
  return Math.sqrt((dL / sl) ** 2 + (dC / sc) ** 2 + (dH / sh) ** 2 + rt * (dC / sc) * (dH / sh));
}

const tableOf = (encoding: 'srgb' | 'bt1886') =>
  Float64Array.from({ length: 256 }, (_, code) => lightOfCode(code / 255, encoding));
const lightOfCodes = { srgb: tableOf('srgb'), bt1886: tableOf('bt1886') };

/** 8-bit sRGB or gamma-2.4 codes shown on a Rec.709 display to CIELAB (white D65), for differences between pictures. */
export function labOfCodes(r: number, g: number, b: number, encoding: 'srgb' | 'bt1886'): Lab {
  const light = lightOfCodes[encoding];
  const [lr, lg, lb] = [light[r]!, light[g]!, light[b]!];
  // IEC 61966-2-1 matrix over the white point D65 (0.3127, 0.3290).
  const x = (0.4123908 * lr + 0.35758434 * lg + 0.18048079 * lb) / 0.95045593;
  const y = 0.21263901 * lr + 0.71516868 * lg + 0.07219232 * lb;
  const z = (0.01933082 * lr + 0.11919478 * lg + 0.95053215 * lb) / 1.08905775;
  const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : (24389 / 27) * (t / 116) + 16 / 116);
  const [fx, fy, fz] = [f(x), f(y), f(z)];
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}
