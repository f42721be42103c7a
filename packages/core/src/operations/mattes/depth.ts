import { choice, name, number } from '../parameters.ts';
import { matte } from '../matte.ts';
import { rangeAround } from '../rangeAround.ts';
import { dataPlanes, skyFrom } from './dataPass.ts';
import { rampBetween, soft } from './ramp.ts';

/** So far from an edge depth may be a mixture: renderers' filters are no wider (common practice, no source). */
const mixedWithin = 2;
/** Neighbours whose depths are so many times apart are two sides of an edge, not a slope. */
const farApart = 1.5;

export const depth = matte({
  kind: 'depth',
  title: 'Depth range',
  does: '1 from the near to the far end of a range of depth, falling off before and behind it. Where depth is averaged at an edge, the shares of both sides count and not a depth between them.',
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
  planes: (values, place) => dataPlanes(values, place, 1),
  reach: () => mixedWithin,
  run({ heap, to, planes, values, width, top, end, fromTop, fromEnd }) {
    const { near, far, before, behind, soft: between, none } = values;
    const rows = fromEnd - fromTop;
    const depths = heap.floats(planes[0]![0], rows * width).slice();
    for (let i = 0; i < depths.length; i++) {
      const d = depths[i]!;
      if (d !== d || (none === 'zero' && d === 0)) depths[i] = Infinity;
    }
    const mark = heap.mark();
    const { low, high, stride } = rangeAround(heap, depths, width, rows, mixedWithin);
    const plane = heap.floats(to, (end - top) * width);
    const value = (d: number) => {
      if (d >= skyFrom && none === 'outside') return 0;
      if (d >= near && d <= far) return 1;
      return rampBetween(d, near - before, near, between) * (1 - rampBetween(d, far, far + behind, between));
    };
    for (let y = top, i = 0; y < end; y++) {
      const [line, around] = [(y - fromTop) * width, (y - fromTop) * stride];
      for (let x = 0; x < width; x++, i++) {
        const d = depths[line + x]!;
        const least = low[around + x]!;
        const most = high[around + x]!;
        const jumps = most > farApart * least && most < Infinity && d > least && d < most;
        if (!jumps) plane[i] = value(d);
        else plane[i] = value(least) + ((d - least) / (most - least)) * (value(most) - value(least));
      }
    }
    heap.release(mark);
  },
});
