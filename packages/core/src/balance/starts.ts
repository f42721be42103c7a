import { walkEntries, type LedgerDocument } from '../ledger/document.ts';
import type { Balance } from '../ledger/statistics.ts';
import type { BalanceFault } from './faults.ts';
import type { RebuildWay } from './rebuild.ts';

const titles = {
  components: 'Light components summed',
  lights: 'Light groups summed',
  beauty: 'The beauty alone',
  over: 'Renders over each other',
} as const;

/** A share of light in words, with digits enough to see that it is not nothing. */
export const shareWords = (share: number): string => `${(share * 100).toFixed(share !== 0 && share < 0.001 ? 4 : 1)} %`;

/** A way to begin in words: what it adds up and how that balances; `mended`: what was changed of what the passes' roles say. */
export function startWords(
  way: RebuildWay | 'over',
  document: LedgerDocument,
  figures: Balance | undefined,
  mended: readonly BalanceFault[],
): { title: string; words: string } {
  const title = titles[way];
  const passes = [...walkEntries(document.entries)].flatMap((e) => (e.kind === 'pass' ? [e.pass] : []));
  if (way === 'beauty') return { title, words: 'As it came: its light cannot be changed part by part.' };
  if (way === 'over')
    return { title, words: `${document.entries.map((e) => e.name).join(', then over it ')}, each by its alpha.` };
  const balances = !figures
    ? 'cannot be balanced: the render has no beauty'
    : figures.balanced
      ? 'balances to half rounding'
      : `is off by ${shareWords(figures.share)}`;
  const twice = mended.filter((f) => f.kind === 'twice').map((f) => f.pass);
  const added = mended.filter((f) => f.kind === 'missing').map((f) => (f.by ? `${f.pass} by ${f.by}` : f.pass));
  const notes = [
    ...(twice.length ? [`with ${twice.join(' and ')} it would count twice`] : []),
    ...(added.length ? [`${added.join(' and ')} was found to belong to it`] : []),
  ];
  return { title, words: `${[`${passes.join(' + ')} ${balances}`, ...notes].join('; ')}.` };
}
