import { blend, eachColour } from '../blend.ts';

export const min = blend({
  kind: 'min',
  title: 'Min',
  sign: '⌊',
  verb: 'keeps the smaller',
  does: 'The smaller of T and S, by channel.',
  published: 'ISO 32000-1:2008, 11.3.5.2, Darken, without its clamp',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.minPlanes(t, s, n), total, entry),
});
