import { blend, eachColour } from '../blend.ts';

export const max = blend({
  kind: 'max',
  title: 'Max',
  sign: '⌈',
  verb: 'keeps the larger',
  does: 'The larger of T and S, by channel.',
  published: 'ISO 32000-1:2008, 11.3.5.2, Lighten, without its clamp',
  alpha: 'leaves',
  apply: (k, total, entry, n) => eachColour((t, s) => k.maxPlanes(t, s, n), total, entry),
});
