import type { Heap } from '../kernel/heap.ts';
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

/** The pixels near which depth jumps: edges, and slopes where it runs steeply. Views of the heap. */
export interface Jumps {
  /** Their places in the rows of depth. */
  readonly list: Int32Array;
  /** Two places for each: of its near side and of its far one; -1 where no edge with two sides runs through it. */
  readonly sides: Int32Array;
}

/** The places in which sides are looked for, as columns and rows beside a pixel, the closest first. */
const places = Array.from({ length: (2 * sidesWithin + 1) ** 2 }, (_, i) => [
  (i % (2 * sidesWithin + 1)) - sidesWithin,
  Math.floor(i / (2 * sidesWithin + 1)) - sidesWithin,
])
  .sort(([a, b], [c, d]) => a! * a! + b! * b! - c! * c! - d! * d!)
  .flat();

/**
 * The pixels of the rows `first` to before `last` of a picture's depth near which it jumps, in order. The sides of an edge are the closest pixels that
 * lie as near, and as far, as anything close by and through which none runs; what is too thin to have such shows itself. Where no side is
 * calm, since depth runs steeply there, is a slope, every pixel of which is of its own depth: it has no sides. `depth` points at `rows` whole rows
 * without NaN, the sky at one finite depth; `around` is what lies within `mixedWithin` of them. The answer lies in the heap until the
 * caller's mark is released, and is good until the next allocation.
 */
export function jumpsOfDepth(
  heap: Heap,
  around: RangeAround,
  depth: number,
  {
    width,
    rows,
    first,
    last,
  }: { readonly width: number; readonly rows: number; readonly first: number; readonly last: number },
): Jumps {
  const k = heap.kernels;
  const { low, high, stride } = around;
  const calm = heap.allocate(rows * width);
  for (let y = 0; y < rows; y++)
    k.calmBytes(calm + y * width, low + y * stride * 4, high + y * stride * 4, width, leastJump);
  const nearby = calmNearby(heap, calm, width, rows);
  const tries = heap.allocate(places.length * 4);
  new Int32Array(k.memory.buffer, tries, places.length).set(places);
  const list = heap.allocate((last - first) * width * 4);
  const count = k.listZeros(list, calm + first * width, (last - first) * width, first * width);
  const sides = heap.allocate(count * 8);
  k.findSides(
    sides,
    list,
    count,
    depth,
    calm,
    nearby.at,
    nearby.stride,
    low,
    high,
    stride,
    width,
    rows,
    tries,
    places.length / 2,
    sameSide,
  );
  return {
    list: new Int32Array(k.memory.buffer, list, count),
    sides: new Int32Array(k.memory.buffer, sides, 2 * count),
  };
}

/** Bytes of 1 where a calm pixel lies within reach of a pixel's sides, else 0. */
function calmNearby(heap: Heap, calm: number, width: number, rows: number): { at: number; stride: number } {
  const stride = Math.ceil((width + 2 * sidesWithin) / 16) * 16;
  const n = (rows + 2 * sidesWithin) * stride;
  const near = heap.allocate(n + 2 * sidesWithin * (stride + 1));
  const bytes = heap.bytes(near, n + 2 * sidesWithin * (stride + 1)).fill(0);
  const from = heap.bytes(calm, rows * width);
  for (let y = 0; y < rows; y++)
    bytes.set(from.subarray(y * width, (y + 1) * width), (y + sidesWithin) * stride + sidesWithin);
  const wanted = 2 * sidesWithin + 1;
  for (const step of [1, stride])
    for (let joined = 1; joined < wanted;) {
      const by = Math.min(joined, wanted - joined);
      heap.kernels.joinBytes(near, n, by * step);
      joined += by;
    }
  return { at: near, stride };
}

/** Depths so near to a side's are of that side: a share of it. */
const sameSide = 0.15;

/** Sides whose alphas lie so far apart tell by alpha what is covered. */
const alphaTells = 0.5;
/** Colour that lies farther from the line between its sides, as a share of their distance, is no mixture of them. */
const mixtureWithin = 0.3;

/** What an edge's pixel is taken for. One record is written over for each: edges are many. */
export interface Mixture {
  /** How much of it shows the near side. */
  share: number;
  /** Its light is a mixture of both sides'. */
  isMixed: boolean;
  /** Light or alpha told the share; else it is all of the side whose depth is nearer. */
  isTold: boolean;
}

/** How much of an edge's pixel shows its near side: by alpha where that tells, else by colour; what is no mixture is of its own depth. */
export function tellMixture(
  light: Light,
  at: number,
  near: number,
  far: number,
  hasAlpha: boolean,
  ownIsNear: boolean,
  into: Mixture,
): void {
  const a = light[3][near]!;
  const b = light[3][far]!;
  const alphaTold = hasAlpha && Math.abs(a - b) > alphaTells;
  let along = 0;
  let length = 0;
  let whole = 0;
  for (let c = 0; c < 3; c++) {
    const plane = light[c]!;
    const step = plane[near]! - plane[far]!;
    const own = plane[at]! - plane[far]!;
    along += step * own;
    length += step * step;
    whole += own * own;
  }
  const differs = length > 1e-12;
  const byDepth = ownIsNear ? 1 : 0;
  const share = alphaTold ? within((light[3][at]! - b) / (a - b)) : differs ? within(along / length) : byDepth;
  const off = whole - 2 * share * along + share * share * length;
  into.isMixed = off <= mixtureWithin * mixtureWithin * length;
  into.isTold = alphaTold || (into.isMixed && differs);
  into.share = into.isTold ? share : byDepth;
}

/** To 0 … 1; what is no number is 0. */
export const within = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : 0);
