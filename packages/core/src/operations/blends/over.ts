import type { Kernels } from '../../kernel/kernels.ts';
import { blend, eachColour, type Quad } from '../blend.ts';

export const over = blend({
  kind: 'over',
  title: 'Over',
  sign: '◩',
  verb: 'covers',
  does: 'S + T · (1 − aS): the entry covers by its alpha; what is wholly covered is gone, infinities too.',
  published: 'T. Porter and T. Duff, "Compositing Digital Images" (1984), table 1',
  alpha: 'composes',
  apply: (k, total, entry, n) => cover(k, total, entry, n, 1),
  applyMixed: (k, total, entry, n, mix) => cover(k, total, entry, n, mix),
});

function cover(k: Kernels, total: Quad, entry: Quad, n: number, mix: number): void {
  eachColour((t, s) => k.coverPremultiplied(t, s, entry[3], n, mix), total, entry);
  k.coverPremultiplied(total[3], entry[3], entry[3], n, mix);
}
