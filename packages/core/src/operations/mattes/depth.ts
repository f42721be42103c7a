import { choice, name, number } from '../parameters.ts';
import { matte } from '../matte.ts';
import { depthSides, edgeReach, mixedWithin, mixtureOf, type Light, type Sides } from '../depthSides.ts';
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
    const { heap, to, planes, width, top, end, fromTop, fromEnd } = block;
    const rows = fromEnd - fromTop;
    const depths = depthsOf(block);
    const mark = heap.mark();
    const value = valueOf(block.values);
    const around = rangeAround(heap, depths, width, rows, mixedWithin);
    const averaged = averagedDepth(around, depths, width);
    const [, beauty] = planes;
    const sidesOf = beauty && depthSides(around, depths, width, rows);
    const light = beauty?.map((p) => heap.floats(p, rows * width)) as unknown as Light | undefined;
    const plane = heap.floats(to, (end - top) * width);
    const sides = { near: 0, far: 0 };
    for (let y = top, i = 0; y < end; y++)
      for (let x = 0, at = (y - fromTop) * width; x < width; x++, i++, at++)
        plane[i] =
          (light && sidesOf?.(x, y - fromTop, sides) ? byLight(light, depths, at, sides, value) : undefined) ??
          averaged(x, y - fromTop, value);
    heap.release(mark);
  },
});

type Block = Parameters<typeof depth.run>[0];
type ValueOf = (depth: number) => number;

/** Where no depth is, the largest number there is: infinity has no distances. A sky at another depth stays there, since edges may be averages with it. */
const noDepth = 3.4028234663852886e38;

function depthsOf({ heap, planes, values: { none }, width, fromTop, fromEnd }: Block): Float32Array {
  const depths = heap.floats(planes[0]![0], (fromEnd - fromTop) * width).slice();
  for (let i = 0; i < depths.length; i++) {
    const d = depths[i]!;
    if (!(d < noDepth) || (none === 'zero' && d === 0)) depths[i] = noDepth;
  }
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
  { near, far }: Sides,
  value: ValueOf,
): number | undefined {
  const [nearValue, farValue] = [value(depths[near]!), value(depths[far]!)];
  if (nearValue === farValue) return nearValue;
  const ownIsNear = Math.abs(depths[at]! - depths[near]!) <= Math.abs(depths[at]! - depths[far]!);
  const { share, isMixed, isTold } = mixtureOf(light, at, near, far, true, ownIsNear);
  if (!isTold) return undefined;
  if (!isMixed) return share * nearValue + (1 - share) * farValue;
  const [nearLight, farLight] = [share * sumOf(light, near), (1 - share) * sumOf(light, far)];
  const whole = nearLight + farLight;
  const part = whole > 0 ? nearLight / whole : share;
  return part * nearValue + (1 - part) * farValue;
}

const sumOf = ([r, g, b]: Light, at: number): number => Math.max(0, r[at]!) + Math.max(0, g[at]!) + Math.max(0, b[at]!);

/** What a depth's value is where depth itself is averaged at an edge: the shares of both sides count, and not a depth between them. */
function averagedDepth(
  { low, high, stride }: RangeAround,
  depths: Float32Array,
  width: number,
): (x: number, y: number, value: ValueOf) => number {
  return (x, y, value) => {
    const d = depths[y * width + x]!;
    const [least, most] = [low[y * stride + x]!, high[y * stride + x]!];
    if (!(most > farApart * least && most < noDepth && d > least && d < most)) return value(d);
    return value(least) + ((d - least) / (most - least)) * (value(most) - value(least));
  };
}
