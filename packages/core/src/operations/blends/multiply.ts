import { blend, eachColour } from '../blend.ts';

export const multiply = blend({
  kind: 'multiply',
  title: 'Multiply',
  sign: '×',
  verb: 'multiplies',
  does: 'T · S.',
  published: 'a product: common practice, no source',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.multiplyMixed(t, s, n, 1), total, entry),
  applyMixed: (k, total, entry, n, mix) => eachColour((t, s) => k.multiplyMixed(t, s, n, mix), total, entry),
});
