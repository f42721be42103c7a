import { rec2020 } from './primaries.ts';

/**
 * The spectral locus in CIE 1931 x, y: pure colours from 380 to 700 nm. CIE 015:2018, table of chromaticity coordinates of the 2° observer,
 * to four digits, from memory.
 */
export const spectralLocus: readonly (readonly [number, number])[] = [
  [0.1741, 0.005],
  [0.1738, 0.0049],
  [0.1733, 0.0048],
  [0.1726, 0.0048],
  [0.1714, 0.0051],
  [0.1689, 0.0069],
  [0.1644, 0.0109],
  [0.1566, 0.0177],
  [0.144, 0.0297],
  [0.1241, 0.0578],
  [0.1096, 0.0868],
  [0.0913, 0.1327],
  [0.0687, 0.2007],
  [0.0454, 0.295],
  [0.0235, 0.4127],
  [0.0082, 0.5384],
  [0.0039, 0.6548],
  [0.0139, 0.7502],
  [0.0389, 0.812],
  [0.0743, 0.8338],
  [0.1142, 0.8262],
  [0.1547, 0.8059],
  [0.1929, 0.7816],
  [0.2296, 0.7543],
  [0.2658, 0.7243],
  [0.3016, 0.6923],
  [0.3373, 0.6589],
  [0.3731, 0.6245],
  [0.4087, 0.5896],
  [0.4441, 0.5547],
  [0.4788, 0.5202],
  [0.5125, 0.4866],
  [0.5448, 0.4544],
  [0.5752, 0.4242],
  [0.6029, 0.3965],
  [0.627, 0.3725],
  [0.6482, 0.3514],
  [0.6658, 0.334],
  [0.6915, 0.3083],
  [0.7079, 0.292],
  [0.719, 0.2809],
  [0.726, 0.274],
  [0.73, 0.27],
  [0.7334, 0.2666],
  [0.7347, 0.2653],
];

/** Whether an eye can see a chromaticity: inside the locus and the line that closes it, or within a hair of them. */
export function insideLocus(x: number, y: number, hair = 0.004): boolean {
  // Mixtures of three pure colours (the primaries of ITU-R BT.2020, table 3) lie inside, and most colours of a picture are such.
  if (insideTriangle(x, y)) return true;
  let inside = false;
  const points = spectralLocus;
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const [x1, y1] = points[i]!;
    const [x2, y2] = points[j]!;
    if (y1 > y !== y2 > y && x < ((x2 - x1) * (y - y1)) / (y2 - y1) + x1) inside = !inside;
  }
  if (inside) return true;
  return points.some(([x1, y1], i) => nearSegment(x, y, x1, y1, ...points[(i + 1) % points.length]!) <= hair);
}

const [pureRed, pureGreen, pureBlue] = [rec2020.red, rec2020.green, rec2020.blue];

function insideTriangle(x: number, y: number): boolean {
  return (
    sideOf(pureRed, pureGreen, x, y) >= 0 &&
    sideOf(pureGreen, pureBlue, x, y) >= 0 &&
    sideOf(pureBlue, pureRed, x, y) >= 0
  );
}

/** Above 0 where a point lies on the left of the way between two others. */
const sideOf = ([x1, y1]: readonly [number, number], [x2, y2]: readonly [number, number], x: number, y: number) =>
  (x2 - x1) * (y - y1) - (y2 - y1) * (x - x1);

function nearSegment(x: number, y: number, x1: number, y1: number, x2: number, y2: number): number {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const length = dx * dx + dy * dy;
  const t = length ? Math.min(1, Math.max(0, ((x - x1) * dx + (y - y1) * dy) / length)) : 0;
  const [ex, ey] = [x - x1 - t * dx, y - y1 - t * dy];
  return Math.sqrt(ex * ex + ey * ey);
}
