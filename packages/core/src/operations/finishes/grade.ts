import { finish } from '../finish.ts';

export const grade = finish({
  kind: 'grade',
  title: 'Grade',
  does: 'Adjustments of the total so far, in their order, where its matte and mix say: T + m · (adjusted T − T).',
  published: 'each adjustment has its own source',
  search: ['adjust', 'colour', 'curve', 'look', 'cdl', 'total', 'far', 'near'],
  parameters: {},
  adjusts: true,
  nothing: () => false,
  reach: () => 0,
  run({ heap, width, from, fromTop, to, top, end }) {
    from.forEach((p, c) => heap.kernels.copyPlane(to[c]!, p + (top - fromTop) * width * 4, (end - top) * width));
  },
});
