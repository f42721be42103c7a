import { choice, name, number } from '../parameters.ts';
import { matte } from '../matte.ts';
import {
  edgeReach,
  jumpsOfDepth,
  mixedWithin,
  tellMixture,
  type Jumps,
  type Light,
  type Mixture,
} from '../depthSides.ts';
import { rangeAround, type RangeAround } from '../rangeAround.ts';
import { dataPlanes, skyFrom } from './dataPass.ts';
import { rampBetween, soft } from './ramp.ts';

/** Neighbours whose depths are so many times apart are two sides of an edge, not a slope. */
const farApart = 1.5;

export const depth = matte({
  kind: 'depth',
  title: 'Depth range',
  does: '1 from the near to the far end of a range of depth, falling off before and behind it. At the soft edges of a render it is what both sides have, by how much of the light is of each, told by the render’s beauty; without one, averaged depth alone tells the shares.',
  published: 'a ramp over depth; at edges the coverage that an averaged depth implies (common practice, no source)',
  search: ['distance', 'z', 'near', 'far', 'fog'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Pass', ['depth']),
    near: number('Near end', 0, [0, 1e9], { soft: [0, 100], step: 0.1, pick: 'data' }),
    far: number('Far end', 10, [0, 1e9], { soft: [0, 100], step: 0.1, pick: 'data' }),
    before: number('Softness before', 1, [0, 1e9], { soft: [0, 50], step: 0.1 }),
    behind: number('Softness behind', 1, [0, 1e9], { soft: [0, 50], step: 0.1 }),
    soft,
    none: choice(
      'Sky is',
      [
        ['far', 'behind all'],
        ['outside', 'outside'],
        ['zero', 'behind all, stored as 0'],
      ],
      'far',
    ),
  },
  measure: {
    of: 'pass',
    scale: 'stops',
    ends: ['near', 'far'],
    shape: ({ near, far, before, behind }) => [
      [near - before, 0],
      [near, 1],
      [far, 1],
      [far + behind, 0],
    ],
  },
  planes: (values, place) => {
    const beauty = place.passes(values.source).find((p) => p.role === 'beauty');
    return [...dataPlanes(values, place, 1), ...(beauty ? [{ source: values.source, light: beauty }] : [])];
  },
  reach: () => edgeReach,
  run(block) {
    const { heap, to, width, top, end, fromTop, fromEnd } = block;
    const [rows, first] = [fromEnd - fromTop, top - fromTop];
    const mark = heap.mark();
    const depthsAt = depthsOf(block);
    const { near, far, before, behind, soft: between, none } = block.values;
    const n = (end - top) * width;
    const smooth = between === 'smooth' ? 1 : 0;
    const outside = none === 'outside' ? skyFrom : Infinity;
    heap.kernels.rangePlane(to, depthsAt + first * width * 4, n, near, far, before, behind, smooth, outside);
    const around = rangeAround(heap, depthsAt, width, rows, mixedWithin);
    const jumps = jumpsOfDepth(heap, around, depthsAt, { width, rows, first, last: end - fromTop });
    setJumps(block, { jumps, around, depths: heap.floats(depthsAt, rows * width) });
    heap.release(mark);
  },
});

type Block = Parameters<typeof depth.run>[0];
type ValueOf = (depth: number) => number;

/** Where no depth is, the largest number there is: infinity has no distances. A sky at another depth stays there, since edges may be averages with it. */
const noDepth = 3.4028234663852886e38;

interface AtJumps {
  readonly jumps: Jumps;
  readonly around: RangeAround;
  readonly depths: Float32Array;
}

/** The values of pixels near which depth jumps: by light where that tells their sides apart, else as averaged depth says. */
function setJumps(block: Block, { jumps, around: { low, high, stride }, depths }: AtJumps): void {
  const { heap, to, planes, width, top, end, fromTop, fromEnd } = block;
  const size = (fromEnd - fromTop) * stride;
  const [lowest, highest] = [heap.floats(low, size), heap.floats(high, size)];
  const light = planes[1]?.map((p) => heap.floats(p, depths.length)) as unknown as Light | undefined;
  const plane = heap.floats(to, (end - top) * width);
  const value = valueOf(block.values);
  for (let k = 0; k < jumps.list.length; k++) {
    const at = jumps.list[k]!;
    const y = Math.floor(at / width);
    const a = y * stride + at - y * width;
    plane[at - (top - fromTop) * width] =
      (light && jumps.sides[2 * k]! >= 0
        ? byLight(light, depths, at, jumps.sides[2 * k]!, jumps.sides[2 * k + 1]!, value)
        : undefined) ?? averagedValue(depths[at]!, lowest[a]!, highest[a]!, value);
  }
}

/** Depths in the heap. */
function depthsOf({ heap, planes, values: { none }, width, fromTop, fromEnd }: Block): number {
  const n = (fromEnd - fromTop) * width;
  const depths = heap.allocatePlane(n);
  heap.kernels.surfaceDepths(depths, planes[0]![0], n, noDepth, none === 'zero' ? 1 : 0, -Infinity);
  return depths;
}

function valueOf({ near, far, before, behind, soft: between, none }: Block['values']): ValueOf {
  return (d) => {
    if (d >= skyFrom && none === 'outside') return 0;
    if (d >= near && d <= far) return 1;
    return rampBetween(d, near - before, near, between) * (1 - rampBetween(d, far, far + behind, between));
  };
}

/**
 * The value of an edge's pixel: of both sides by their shares of its light, so that what acts by it acts on each side's light alone. Undefined
 * where light does not tell them apart.
 */
function byLight(
  light: Light,
  depths: Float32Array,
  at: number,
  near: number,
  far: number,
  value: ValueOf,
): number | undefined {
  const nearValue = value(depths[near]!);
  const farValue = value(depths[far]!);
  if (nearValue === farValue) return nearValue;
  const ownIsNear = Math.abs(depths[at]! - depths[near]!) <= Math.abs(depths[at]! - depths[far]!);
  tellMixture(light, at, near, far, true, ownIsNear, mixture);
  const { share, isMixed, isTold } = mixture;
  if (!isTold) return undefined;
  if (!isMixed) return share * nearValue + (1 - share) * farValue;
  const nearLight = share * sumOf(light, near);
  const farLight = (1 - share) * sumOf(light, far);
  const whole = nearLight + farLight;
  const part = whole > 0 ? nearLight / whole : share;
  return part * nearValue + (1 - part) * farValue;
}

const mixture: Mixture = { share: 0, isMixed: false, isTold: false };

const sumOf = ([r, g, b]: Light, at: number): number => Math.max(0, r[at]!) + Math.max(0, g[at]!) + Math.max(0, b[at]!);

/** What a depth's value is where depth itself is averaged at an edge: the shares of both sides count, and not a depth between them. */
function averagedValue(d: number, least: number, most: number, value: ValueOf): number {
  if (!(most > farApart * least && most < noDepth && d > least && d < most)) return value(d);
  return value(least) + ((d - least) / (most - least)) * (value(most) - value(least));
}
