import type { Heap } from '../../kernel/heap.ts';
import type { Quad } from '../blend.ts';
import { depthSides, mixedWithin, mixtureOf, within, type Light } from '../depthSides.ts';
import { rangeAround } from '../rangeAround.ts';

// A soft edge of a render is a mixture of what lies before it and behind it, and its depth is of one side, or of neither. What changes light by
// depth would draw a rim there. So both sides are looked up, changed each by its own depth, and mixed again as they were.

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
  /** A channel (0 … 2) of the `n` samples wanted, planes in the heap, each by its own depth's amount; `alpha` is undefined where all covers. */
  fill(to: number, light: number, alpha: number | undefined, amount: Float32Array, channel: number, n: number): void;
  /** A channel (0 … 2) of a pixel's light, with its alpha, as what it becomes by an amount where it goes in the rows wanted. */
  change(value: number, alpha: number, channel: number, amount: number, out: number): number;
}

/** Fills the rows wanted with light that is changed by depth, edges by both their sides. */
export function eachEdgePixel(block: EdgeBlock, of: OfDepth): void {
  const { heap, width, from, fromTop, fromEnd, planesTop, planesEnd, to, top, end } = block;
  const rows = planesEnd - planesTop;
  const { depth, amount } = of;
  const mark = heap.mark();
  const n = (end - top) * width;
  const [alphaAt, shift] = [from[3] + (top - fromTop) * width * 4, (planesTop - fromTop) * width];
  const own = amount.subarray((top - planesTop) * width, (end - planesTop) * width);
  heap.kernels.copyPlane(to[3], alphaAt, n);
  for (let c = 0; c < 3; c++)
    of.fill(to[c]!, from[c]! + (top - fromTop) * width * 4, block.hasAlpha ? alphaAt : undefined, own, c, n);
  const sidesOf = depthSides(rangeAround(heap, depth, width, rows, mixedWithin), depth, width, rows);
  const light = from.map((p) => heap.floats(p, (fromEnd - fromTop) * width)) as unknown as Light;
  const out = to.map((p) => heap.floats(p, n));
  const sides = { near: 0, far: 0 };
  for (let y = top, o = 0; y < end; y++)
    for (let x = 0; x < width; x++, o++) {
      const at = (y - fromTop) * width + x;
      const own = at - shift;
      if (!sidesOf(x, y - planesTop, sides)) continue;
      const itself = { at, amount: amount[own]! };
      const near = { at: sides.near + shift, amount: amount[sides.near]! };
      const far = { at: sides.far + shift, amount: amount[sides.far]! };
      const ownIsNear = Math.abs(depth[own]! - depth[sides.near]!) <= Math.abs(depth[own]! - depth[sides.far]!);
      mixSides(light, itself, near, far, of, block.hasAlpha, ownIsNear, out, o);
    }
  heap.release(mark);
}

/** A pixel of an edge, or of one of its sides, and how much is done at its depth. */
interface AtDepth {
  readonly at: number;
  readonly amount: number;
}

/** An edge's light as shares of its two sides, each changed by its own depth; what is left over (texture) stays as it is. */
function mixSides(
  light: Light,
  own: AtDepth,
  near: AtDepth,
  far: AtDepth,
  of: OfDepth,
  hasAlpha: boolean,
  ownIsNear: boolean,
  out: readonly Float32Array[],
  o: number,
): void {
  const alphaAt = (at: number) => (hasAlpha ? light[3][at]! : 1);
  const changed = (from: AtDepth, c: number, amount = from.amount) =>
    of.change(light[c]![from.at]!, alphaAt(from.at), c, amount, o);
  const { share, isMixed } = mixtureOf(light, own.at, near.at, far.at, hasAlpha, ownIsNear);
  for (let c = 0; c < 3; c++) {
    const [v, n, w] = [light[c]![own.at]!, light[c]![near.at]!, light[c]![far.at]!];
    const [a, b] = [changed(near, c), changed(far, c)];
    // What is no mixture is a thing of its own, as deep as its sides by their shares.
    const mixed = isMixed
      ? v + share * (a - n) + (1 - share) * (b - w)
      : share * changed(own, c, near.amount) + (1 - share) * changed(own, c, far.amount);
    out[c]![o] = noRim(mixed, [v, changed(own, c)], [n, a], [w, b]);
  }
}

/** Light before and after. */
type Change = readonly [before: number, after: number];

/** What is darker than both sides, or brighter, by such a part is a thing of its own and not their mixture. */
const ofItsOwn = 0.25;

/**
 * An edge's changed light, held between its changed sides where it lay between them before. Where it was darker than both, or brighter, it is
 * so by no larger a part afterwards; the more it is a thing of its own, the more its own depth decides.
 */
function noRim(changed: number, [own, ownAfter]: Change, near: Change, far: Change): number {
  const [low, high] = [Math.min(near[0], far[0]), Math.max(near[0], far[0])];
  let [floor, ceiling] = [Math.min(near[1], far[1]), Math.max(near[1], far[1])];
  if (own < low) {
    if (own > 0 && floor > 0) floor *= own / low;
    floor += within((low - own) / (ofItsOwn * Math.abs(low))) * Math.min(0, ownAfter - floor);
  } else if (own > high) {
    if (high > 0 && ceiling > 0) ceiling *= own / high;
    ceiling += within((own - high) / (ofItsOwn * Math.abs(high))) * Math.max(0, ownAfter - ceiling);
  }
  return Math.min(ceiling, Math.max(floor, changed));
}
