import type { Heap } from '../../kernel/heap.ts';
import type { Quad } from '../blend.ts';
import { jumpsOfDepth, mixedWithin, tellMixture, within, type Light, type Mixture } from '../depthSides.ts';
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
  /** Depths as they are compared, the sky at one depth, in the rows of the planes: a plane in the heap. */
  readonly depth: number;
  /** How much is done at each: another. */
  readonly amount: number;
  /** The `n` samples wanted, planes in the heap, each by its own depth's amount; `alpha` is undefined where all covers. */
  fill(to: Quad, light: Quad, alpha: number | undefined, amount: number, n: number): void;
  /** A channel (0 … 2) of a pixel's light, with its alpha, as what it becomes by an amount where it goes in the rows wanted. */
  change(value: number, alpha: number, channel: number, amount: number, out: number): number;
}

/** Fills the rows wanted with light that is changed by depth, edges by both their sides. */
export function eachEdgePixel(block: EdgeBlock, of: OfDepth): void {
  const { heap, width, from, fromTop, fromEnd, planesTop, planesEnd, to, top, end } = block;
  const rows = planesEnd - planesTop;
  const mark = heap.mark();
  const n = (end - top) * width;
  const wanted = from.map((p) => p + (top - fromTop) * width * 4) as unknown as Quad;
  const shift = (planesTop - fromTop) * width;
  heap.kernels.copyPlane(to[3], wanted[3], n);
  of.fill(to, wanted, block.hasAlpha ? wanted[3] : undefined, of.amount + (top - planesTop) * width * 4, n);
  const around = rangeAround(heap, of.depth, width, rows, mixedWithin);
  const region = { width, rows, first: top - planesTop, last: end - planesTop };
  const jumps = jumpsOfDepth(heap, around, of.depth, region);
  const [depth, amount] = [heap.floats(of.depth, rows * width), heap.floats(of.amount, rows * width)];
  const light = from.map((p) => heap.floats(p, (fromEnd - fromTop) * width)) as unknown as Light;
  const out = to.map((p) => heap.floats(p, n));
  const edge: EdgePixel = { own: 0, near: 0, far: 0, hasAlpha: block.hasAlpha, ownIsNear: true, out: 0 };
  for (let k = 0; k < jumps.list.length; k++) {
    if (jumps.sides[2 * k]! < 0) continue;
    const at = jumps.list[k]!;
    edge.own = at;
    edge.near = jumps.sides[2 * k]!;
    edge.far = jumps.sides[2 * k + 1]!;
    edge.out = at - region.first * width;
    edge.ownIsNear = Math.abs(depth[at]! - depth[edge.near]!) <= Math.abs(depth[at]! - depth[edge.far]!);
    mixSides(light, shift, amount, edge, of, out);
  }
  heap.release(mark);
}

/** A pixel of an edge and its sides, as places in the rows of depth; one record is written over for each. */
interface EdgePixel {
  own: number;
  near: number;
  far: number;
  readonly hasAlpha: boolean;
  ownIsNear: boolean;
  /** Its place in the rows wanted. */
  out: number;
}

const mixture: Mixture = { share: 0, isMixed: false, isTold: false };

/**
 * An edge's light as shares of its two sides, each changed by its own depth; what is left over (texture) stays as it is. Light lies `shift`
 * samples beyond depth.
 */
function mixSides(
  light: Light,
  shift: number,
  amount: Float32Array,
  edge: EdgePixel,
  of: OfDepth,
  out: readonly Float32Array[],
): void {
  const { hasAlpha, out: o } = edge;
  const own = edge.own + shift;
  const near = edge.near + shift;
  const far = edge.far + shift;
  tellMixture(light, own, near, far, hasAlpha, edge.ownIsNear, mixture);
  const { share, isMixed } = mixture;
  const ownAlpha = hasAlpha ? light[3][own]! : 1;
  const nearAlpha = hasAlpha ? light[3][near]! : 1;
  const farAlpha = hasAlpha ? light[3][far]! : 1;
  const nearAmount = amount[edge.near]!;
  const farAmount = amount[edge.far]!;
  for (let c = 0; c < 3; c++) {
    const v = light[c]![own]!;
    const n = light[c]![near]!;
    const w = light[c]![far]!;
    const a = of.change(n, nearAlpha, c, nearAmount, o);
    const b = of.change(w, farAlpha, c, farAmount, o);
    // What is no mixture is a thing of its own, as deep as its sides by their shares.
    const mixed = isMixed
      ? v + share * (a - n) + (1 - share) * (b - w)
      : share * of.change(v, ownAlpha, c, nearAmount, o) + (1 - share) * of.change(v, ownAlpha, c, farAmount, o);
    const after = v < Math.min(n, w) || v > Math.max(n, w) ? of.change(v, ownAlpha, c, amount[edge.own]!, o) : v;
    out[c]![o] = noRim(mixed, v, after, n, a, w, b);
  }
}

/** What is darker than both sides, or brighter, by such a part is a thing of its own and not their mixture. */
const ofItsOwn = 0.25;

/**
 * An edge's changed light, held between its changed sides where it lay between them before. Where it was darker than both, or brighter, it is
 * so by no larger a part afterwards; the more it is a thing of its own, the more its own depth decides: `ownAfter` is what it becomes by that.
 */
function noRim(
  changed: number,
  own: number,
  ownAfter: number,
  near: number,
  nearAfter: number,
  far: number,
  farAfter: number,
): number {
  const low = Math.min(near, far);
  const high = Math.max(near, far);
  let floor = Math.min(nearAfter, farAfter);
  let ceiling = Math.max(nearAfter, farAfter);
  if (own < low) {
    if (own > 0 && floor > 0) floor *= own / low;
    floor += within((low - own) / (ofItsOwn * Math.abs(low))) * Math.min(0, ownAfter - floor);
  } else if (own > high) {
    if (high > 0 && ceiling > 0) ceiling *= own / high;
    ceiling += within((own - high) / (ofItsOwn * Math.abs(high))) * Math.max(0, ownAfter - ceiling);
  }
  return Math.min(ceiling, Math.max(floor, changed));
}
