import { blend, eachColour } from '../blend.ts';

export const divide = blend({
  kind: 'divide',
  title: 'Divide',
  sign: '÷',
  verb: 'divides',
  does: 'T / S, and 0 where S is 0: the way back from multiply.',
  published: 'a quotient; 0 where there is nothing to divide by: common practice, no source',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.divideOrZero(t, s, n), total, entry),
});
