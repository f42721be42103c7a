import type { Plan } from '@june-haze/core';

/** The plan with the beauty taken off at the end: what is left is the difference. The plan itself where it has no beauty. */
export function differencePlan(plan: Plan): Plan {
  if (!plan.balance) return plan;
  const { picture, changes } = plan.balance;
  const from = plan.nodes.length - 1;
  const steps = [{ entry: 0, picture, changes, operation: 'minus', mix: 1 } as const];
  return { ...plan, nodes: [...plan.nodes, { kind: 'run', from, steps }] };
}
