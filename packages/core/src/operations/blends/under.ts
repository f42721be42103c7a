import { blend } from '../blend.ts';

export const under = blend({
  kind: 'under',
  title: 'Under',
  sign: '◪',
  verb: 'fills behind',
  does: 'T + S · (1 − aT): the entry fills what the total does not cover.',
  published: 'T. Porter and T. Duff, "Compositing Digital Images" (1984), table 1: over with its sides exchanged',
  alpha: 'composes',
  // Colour before alpha: all three need the total's alpha as it was.
  apply: (k, total, entry, n) => {
    for (let c = 0; c < 4; c++) k.fillUncovered(total[c]!, entry[c]!, total[3], n);
  },
});
