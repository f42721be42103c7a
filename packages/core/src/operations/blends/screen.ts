import { blend, eachColour } from '../blend.ts';

export const screen = blend({
  kind: 'screen',
  title: 'Screen',
  sign: '⊕',
  verb: 'screens',
  does: 'T + S − T · S: two lights on one print; meant for values up to 1.',
  published: 'ISO 32000-1:2008, 11.3.5.2, Screen',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.screenPlanes(t, s, n), total, entry),
});
