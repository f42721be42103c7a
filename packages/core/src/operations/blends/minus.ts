import { blend, eachColour } from '../blend.ts';

export const minus = blend({
  kind: 'minus',
  title: 'Minus',
  sign: '−',
  verb: 'takes away',
  does: 'T − S: light is taken away.',
  published: 'a subtraction: common practice, no source',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.addScaled(t, s, n, -1), total, entry),
  applyMixed: (k, total, entry, n, mix) => eachColour((t, s) => k.addScaled(t, s, n, -mix), total, entry),
});
