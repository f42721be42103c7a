import type { Entry, LedgerDocument } from '../ledger/document.ts';
import type { Plan, PlanNode } from '../ledger/plan.ts';
import { dataRoles, type Pass } from '../sequence/passes.ts';
import { passRow, type Render } from './rebuild.ts';

/** Passes that may be part of a beauty, alone or as a factor: all that hold light, but no beauty. */
export const partsOf = ({ passes }: Pick<Render, 'passes'>): Pass[] =>
  passes.filter((p) => !dataRoles.has(p.role) && p.role !== 'beauty' && p.role !== 'alpha');

/** What `partsDocument` calls its first two rows; the others are called as their passes. */
export const totalRow = 'the total';
export const beautyRow = 'the beauty';

/**
 * A ledger whose rows are what a balance is made of, to be evaluated one by one: the rebuilt total as a subtotal, the beauty, and each part
 * of the render. `rebuilt` is a ledger as `asCame` gives it.
 */
export function partsDocument(rebuilt: LedgerDocument, render: Render): LedgerDocument {
  const against = rebuilt.balanceAgainst!;
  const total: Entry = {
    id: totalRow,
    name: totalRow,
    kind: 'subtotal',
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [],
    entries: rebuilt.entries,
  };
  const beauty = { ...passRow(beautyRow, against.sourceId, { name: against.pass, role: 'beauty' }) };
  const parts = partsOf(render).map((p) => passRow(`part ${p.name}`, render.id, p));
  return { version: 2, alphaFrom: null, entries: [...(total.entries.length ? [total] : []), beauty, ...parts] };
}

/** The plans that evaluate each row of a compiled `partsDocument` alone, by the row's id; all read the same inputs. */
export function rowsAlone(plan: Plan): Map<string, Plan> {
  const last = plan.nodes.length - 1;
  const run = plan.nodes[last]!;
  if (run.kind !== 'run') return new Map();
  return new Map(
    run.steps.map((step) => {
      const nodes = plan.nodes.map((n, i): PlanNode => (i === last ? { ...run, steps: [step] } : n));
      return [plan.entryIds[step.entry]!, { ...plan, nodes, balance: undefined }];
    }),
  );
}

/** How often each pass stands in a rebuilt ledger: rows that add it less rows that take it away; other ways of combining count as nothing. */
export function countsOf(entries: readonly Entry[], sign = 1, counts = new Map<string, number>()): Map<string, number> {
  for (const e of entries) {
    const signed = e.kind === 'finish' ? 0 : e.operation === 'plus' ? sign : e.operation === 'minus' ? -sign : 0;
    if (!e.enabled || signed === 0) continue;
    if (e.kind === 'subtotal') countsOf(e.entries, signed, counts);
    if (e.kind === 'pass') counts.set(e.pass, (counts.get(e.pass) ?? 0) + signed);
  }
  return counts;
}
