import type { Heap } from '../../kernel/heap.ts';
import type { Quad } from '../blend.ts';
import { rangeAround, type RangeAround } from '../rangeAround.ts';

// A soft edge of a render is a mixture of what lies before it and behind it, and its depth is of one side, or of neither. What changes light by
// depth would draw a rim there. So both sides are looked up, changed each by its own depth, and mixed again as they were.

/** So far from where depth jumps light may be mixed still: renderers' filters are no wider (common practice, no source). */
const mixedWithin = 2;
/** Rows and columns around a pixel in which the two sides of an edge are looked for, and what tells whether they are mixed themselves. */
const sidesWithin = 4;
export const edgeReach = sidesWithin + mixedWithin;
/** Sides lie at least so far apart: a share of the nearer depth. What is nearer together is a slope. */
const leastJump = 0.08;

interface EdgeBlock {
  readonly heap: Heap;
  readonly width: number;
  readonly from: Quad;
  readonly hasAlpha: boolean;
  readonly fromTop: number;
  readonly fromEnd: number;
  readonly planes: readonly Quad[];
  readonly planesTop: number;
  readonly planesEnd: number;
  readonly to: Quad;
  readonly top: number;
  readonly end: number;
}

/** What depth does to a pixel's premultiplied light. */
export interface OfDepth {
  /** Depths as they are compared, the sky at one depth, in the rows of the planes; no view of the heap. */
  readonly depth: Float32Array;
  /** How much is done at each. */
  readonly amount: Float32Array;
  /** A channel (0 … 2) of the rows wanted, each pixel by its own depth's amount; `alpha` is undefined where all covers. */
  fill(
    out: Float32Array,
    light: Float32Array,
    alpha: Float32Array | undefined,
    amount: Float32Array,
    channel: number,
  ): void;
  /** A channel (0 … 2) of a pixel's light, with its alpha, as what it becomes by an amount where it goes in the rows wanted. */
  change(value: number, alpha: number, channel: number, amount: number, out: number): number;
}

/** Fills the rows wanted with light that is changed by depth, edges by both their sides. */
export function eachEdgePixel(block: EdgeBlock, of: OfDepth): void {
  const { heap, width, from, fromTop, fromEnd, planesTop, planesEnd, to, top, end } = block;
  const rows = planesEnd - planesTop;
  const { depth, amount } = of;
  const mark = heap.mark();
  const around = rangeAround(heap, depth, width, rows, mixedWithin);
  const light = from.map((p) => heap.floats(p, (fromEnd - fromTop) * width)) as unknown as Light;
  const out = to.map((p) => heap.floats(p, (end - top) * width));
  const calm = calmPixels(around, width, rows);
  const sides = { near: 0, far: 0 };
  const sidesAreNear = calmNearby(calm, width, rows);
  const shift = (planesTop - fromTop) * width;
  const wanted = (plane: Float32Array, from: number) => plane.subarray((top - from) * width, (end - from) * width);
  const alphas = wanted(light[3], fromTop);
  out[3]!.set(alphas);
  for (let c = 0; c < 3; c++)
    of.fill(out[c]!, wanted(light[c]!, fromTop), block.hasAlpha ? alphas : undefined, wanted(amount, planesTop), c);
  for (let y = top, o = 0; y < end; y++)
    for (let x = 0; x < width; x++, o++) {
      const at = (y - fromTop) * width + x;
      const own = at - shift;
      // Where no side is calm, depth runs steeply: a slope, every pixel of which is of its own depth.
      if (calm[own] || !sidesAreNear(x, y - planesTop)) continue;
      if (!findSides(depth, around, calm, width, rows, x, y - planesTop, sides)) continue;
      const near = { at: sides.near + shift, amount: amount[sides.near]! };
      const far = { at: sides.far + shift, amount: amount[sides.far]! };
      const ownIsNear = Math.abs(depth[own]! - depth[sides.near]!) <= Math.abs(depth[own]! - depth[sides.far]!);
      mixSides(light, at, near, far, of, block.hasAlpha, ownIsNear, out, o);
    }
  heap.release(mark);
}

type Light = readonly [Float32Array, Float32Array, Float32Array, Float32Array];

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
  into: { near: number; far: number },
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

/** A side of an edge: a pixel of it, and how much is done at its depth. */
interface Side {
  readonly at: number;
  readonly amount: number;
}

/** Sides whose alphas lie so far apart tell by alpha what is covered. */
const alphaTells = 0.5;
/** Colour that lies farther from the line between its sides, as a share of their distance, is no mixture of them. */
const mixtureWithin = 0.3;

/** What an edge's pixel is taken for: how much of it shows the near side, and whether its light is a mixture of both sides' at all. */
interface Mixture {
  share: number;
  isMixed: boolean;
}

/** How much of an edge's pixel shows its near side: by alpha where that tells, else by colour; what is no mixture is of its own depth. */
function mixtureOf(
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
  const share = byAlpha ?? (length > 1e-12 ? within(along / length) : Number(ownIsNear));
  const off = whole - 2 * share * along + share * share * length;
  const isMixed = off <= mixtureWithin * mixtureWithin * length;
  return { share: isMixed || byAlpha !== undefined ? share : Number(ownIsNear), isMixed };
}

const within = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : 0);

/** An edge's light as shares of its two sides, each changed by its own depth; what is left over (texture) stays as it is. */
function mixSides(
  light: Light,
  at: number,
  near: Side,
  far: Side,
  of: OfDepth,
  hasAlpha: boolean,
  ownIsNear: boolean,
  out: readonly Float32Array[],
  o: number,
): void {
  const [nearAlpha, farAlpha, ownAlpha] = hasAlpha ? [light[3][near.at]!, light[3][far.at]!, light[3][at]!] : [1, 1, 1];
  const { share, isMixed } = mixtureOf(light, at, near.at, far.at, hasAlpha, ownIsNear);
  for (let c = 0; c < 3; c++) {
    const [own, n, w] = [light[c]![at]!, light[c]![near.at]!, light[c]![far.at]!];
    if (!isMixed) {
      // A thing of its own, as deep as its sides by their shares.
      const [a, b] = [of.change(own, ownAlpha, c, near.amount, o), of.change(own, ownAlpha, c, far.amount, o)];
      out[c]![o] = share * a + (1 - share) * b;
      continue;
    }
    const a = of.change(n, nearAlpha, c, near.amount, o);
    const b = of.change(w, farAlpha, c, far.amount, o);
    const mixed = own + share * (a - n) + (1 - share) * (b - w);
    // An edge that lay between its sides lies between them still: no rim.
    const between = own >= Math.min(n, w) && own <= Math.max(n, w);
    out[c]![o] = between ? Math.min(Math.max(a, b), Math.max(Math.min(a, b), mixed)) : mixed;
  }
}
