import { mergeSteps } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { ShotColour } from '../config/shotColour.ts';
import { adjustmentChange, conversionChange, mergeChanges } from './changes.ts';
import { adjustmentsOf, type Entry } from './document.ts';
import type { Plan, PlanStep } from './plan.ts';

/** For showing what an order does: steps that every row goes through before it is summed, so that codes are added in place of light. */
export function beforeSum(plan: Plan, steps: readonly ColourStep[]): Plan {
  const changed = (step: PlanStep): PlanStep => ({
    ...step,
    changes: mergeChanges([...step.changes, ...conversionChange(steps)], true),
  });
  const last = plan.nodes.length - 1;
  return {
    ...plan,
    balance: undefined,
    nodes: plan.nodes.map((node, i) =>
      node.kind === 'run' && reaches(plan, i, last) ? { ...node, steps: node.steps.map(changed) } : node,
    ),
  };
}

/** Whether a node's total runs on into the last one's, rather than being laid down as a picture. */
function reaches({ nodes }: Plan, node: number, last: number): boolean {
  let at: number | undefined = last;
  while (at !== undefined && at !== node) {
    const found: Plan['nodes'][number] = nodes[at]!;
    at = found.kind === 'place' ? undefined : found.from;
  }
  return at === node;
}

/** An entry's adjustments as steps over the whole picture, without their mattes: for what they would do somewhere else in the order. */
export function adjustmentSteps(entry: Entry, colour: ShotColour, working: string, frame: number): ColourStep[] {
  const place = {
    colour,
    working,
    frame,
    matte: () => ({ kind: '', values: {}, planes: [] }),
  };
  return mergeSteps(adjustmentsOf(entry).flatMap((a) => adjustmentChange(a, place)?.steps ?? []));
}
