import { blend, eachColour } from '../blend.ts';

export const plus = blend({
  kind: 'plus',
  title: 'Plus',
  sign: '+',
  verb: 'adds',
  does: 'T + S: light is added.',
  published:
    'T. Porter and T. Duff, "Compositing Digital Images" (1984), plus; that alpha stays: light adds, coverage does not',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.addScaled(t, s, n, 1), total, entry),
  applyMixed: (k, total, entry, n, mix) => eachColour((t, s) => k.addScaled(t, s, n, mix), total, entry),
});
