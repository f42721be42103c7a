import { blend } from '../blend.ts';

export const replace = blend({
  kind: 'replace',
  title: 'Replace',
  sign: '=',
  verb: 'replaces',
  does: 'S: what lay beneath is gone, its alpha too.',
  published: 'T. Porter and T. Duff, "Compositing Digital Images" (1984), table 1: the entry alone',
  alpha: 'composes',
  apply: (k, total, entry, n) => {
    for (let c = 0; c < 4; c++) k.copyPlane(total[c]!, entry[c]!, n);
  },
});
