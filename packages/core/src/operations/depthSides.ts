import type { RangeAround } from './rangeAround.ts';

/** So far from where depth jumps light may be mixed still: renderers' filters are no wider (common practice, no source). */
export const mixedWithin = 2;
/** Rows and columns around a pixel in which the two sides of an edge are looked for, and what tells whether they are mixed themselves. */
const sidesWithin = 4;
/** Rows of depth, and of light, around those wanted that edges are told by. */
export const edgeReach = sidesWithin + mixedWithin;
/** Sides lie at least so far apart: a share of the nearer depth. What is nearer together is a slope. */
const leastJump = 0.08;

/** Red, green, blue and alpha: premultiplied. */
export type Light = readonly [Float32Array, Float32Array, Float32Array, Float32Array];

/** Two pixels that show what lies on either side of an edge. */
export interface Sides {
  near: number;
  far: number;
}

/**
 * What finds the two sides of the edge that runs through a pixel: false where none does, and where no side is calm, since depth runs steeply
 * there: a slope, every pixel of which is of its own depth. `depth` holds whole rows without NaN, the sky at one finite depth; `around` is what
 * lies within `mixedWithin` of them.
 */
export function depthSides(
  around: RangeAround,
  depth: Float32Array,
  width: number,
  rows: number,
): (x: number, y: number, into: Sides) => boolean {
  const calm = calmPixels(around, width, rows);
  const sidesAreNear = calmNearby(calm, width, rows);
  return (x, y, into) =>
    !calm[y * width + x] && sidesAreNear(x, y) && findSides(depth, around, calm, width, rows, x, y, into);
}

/** 1 where all that lies around is at nearly the same depth: no edge runs through such a pixel. */
function calmPixels({ low, high, stride }: RangeAround, width: number, rows: number): Uint8Array {
  const calm = new Uint8Array(width * rows);
  for (let y = 0, i = 0; y < rows; y++)
    for (let at = y * stride, end = at + width; at < end; at++, i++)
      calm[i] = high[at]! - low[at]! <= leastJump * Math.abs(low[at]!) ? 1 : 0;
  return calm;
}

/** Whether a calm pixel lies within reach of a pixel's sides, by sums over all that lies above and to the left. */
function calmNearby(calm: Uint8Array, width: number, rows: number): (x: number, y: number) => boolean {
  const wide = width + 1;
  const sums = new Int32Array(wide * (rows + 1));
  for (let y = 0, i = 0; y < rows; y++)
    for (let x = 0, sum = 0, at = (y + 1) * wide + 1; x < width; x++, i++, at++) {
      sum += calm[i]!;
      sums[at] = sums[at - wide]! + sum;
    }
  return (x, y) => {
    const [left, right] = [Math.max(0, x - sidesWithin), Math.min(width, x + sidesWithin + 1)];
    const [above, below] = [Math.max(0, y - sidesWithin) * wide, Math.min(rows, y + sidesWithin + 1) * wide];
    return sums[below + right]! - sums[below + left]! - sums[above + right]! + sums[above + left]! > 0;
  };
}

/**
 * The pixels around an edge that show its two sides: of those that lie as near, and as far, as anything close by, the closest that no edge runs
 * through; what is too thin to have such shows itself. False where it has not two sides.
 */
function findSides(
  depth: Float32Array,
  around: RangeAround,
  calm: Uint8Array,
  width: number,
  rows: number,
  x: number,
  y: number,
  into: Sides,
): boolean {
  const [low, high] = [around.low[y * around.stride + x]!, around.high[y * around.stride + x]!];
  if (!(high - low > leastJump * Math.abs(low))) return false;
  let [near, far] = [-1, -1];
  let [nearOff, farOff] = [Infinity, Infinity];
  for (let v = Math.max(0, y - sidesWithin); v <= Math.min(rows - 1, y + sidesWithin); v++)
    for (let u = Math.max(0, x - sidesWithin); u <= Math.min(width - 1, x + sidesWithin); u++) {
      const at = v * width + u;
      const d = depth[at]!;
      const off = (u - x) * (u - x) + (v - y) * (v - y) + (calm[at] ? 0 : notCalm);
      if (d <= low * (1 + sameSide) && off < nearOff) [near, nearOff] = [at, off];
      if (d >= high * (1 - sameSide) && off < farOff) [far, farOff] = [at, off];
    }
  into.near = near;
  into.far = far;
  return near >= 0 && far >= 0 && near !== far && calm[near]! + calm[far]! > 0;
}

/** Depths so near to a side's are of that side: a share of it. */
const sameSide = 0.15;
/** More than any squared distance: any calm pixel comes before those that are not. */
const notCalm = 1e6;

/** Sides whose alphas lie so far apart tell by alpha what is covered. */
const alphaTells = 0.5;
/** Colour that lies farther from the line between its sides, as a share of their distance, is no mixture of them. */
const mixtureWithin = 0.3;

/** What an edge's pixel is taken for. */
export interface Mixture {
  /** How much of it shows the near side. */
  readonly share: number;
  /** Its light is a mixture of both sides'. */
  readonly isMixed: boolean;
  /** Light or alpha told the share; else it is all of the side whose depth is nearer. */
  readonly isTold: boolean;
}

/** How much of an edge's pixel shows its near side: by alpha where that tells, else by colour; what is no mixture is of its own depth. */
export function mixtureOf(
  light: Light,
  at: number,
  near: number,
  far: number,
  hasAlpha: boolean,
  ownIsNear: boolean,
): Mixture {
  const [a, b] = [light[3][near]!, light[3][far]!];
  const byAlpha = hasAlpha && Math.abs(a - b) > alphaTells ? within((light[3][at]! - b) / (a - b)) : undefined;
  let [along, length, whole] = [0, 0, 0];
  for (let c = 0; c < 3; c++) {
    const step = light[c]![near]! - light[c]![far]!;
    const own = light[c]![at]! - light[c]![far]!;
    along += step * own;
    length += step * step;
    whole += own * own;
  }
  const differs = length > 1e-12;
  const share = byAlpha ?? (differs ? within(along / length) : Number(ownIsNear));
  const off = whole - 2 * share * along + share * share * length;
  const isMixed = off <= mixtureWithin * mixtureWithin * length;
  const isTold = byAlpha !== undefined || (isMixed && differs);
  return { share: isTold ? share : Number(ownIsNear), isMixed, isTold };
}

/** To 0 … 1; what is no number is 0. */
export const within = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : 0);
