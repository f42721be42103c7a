import { canBeKept } from './kept.ts';
import type { Plan, PlanNode } from './plan.ts';

/** What tells the parts of a node from others: two with the same number hold the same values, pixel by pixel. */
export interface NodeKeys {
  /** Of a run: its total before its first step, before its second …, and at its end. Of others, their picture alone. */
  readonly totals: readonly number[];
  /** Of a run: each step's picture, converted and adjusted; undefined for those that hang on more than their source. */
  readonly pictures: readonly (number | undefined)[];
}

/** So many texts are told apart before they are begun anew; numbers are never given twice. */
const mostTexts = 20_000;

/**
 * Numbers for contents: what a node is made of, down to its inputs, whose own keys name their files, frame, level and channels. Nothing here is
 * an address or a place in a list, and nothing is shortened: equal numbers mean equal contents. Tables are told apart by being the same object,
 * so that they need not be read.
 */
export class ContentKeys {
  private readonly numbers = new Map<string, number>();
  private readonly tables = new WeakMap<object, number>();
  private next = 1;

  /** The keys of a plan's nodes; `inputs` has one for each of its inputs. */
  of(plan: Plan, inputs: readonly string[]): NodeKeys[] {
    const nodes: NodeKeys[] = [];
    const own = plan.inputs.map((input, i) => this.number(`${JSON.stringify(input)} ${inputs[i]}`));
    const text = (value: unknown) => this.text(value, own, nodes);
    for (const node of plan.nodes) nodes.push(this.nodeKeys(node, nodes, text, plan));
    return nodes;
  }

  /** A number for a text, the same one each time. */
  number(text: string): number {
    const known = this.numbers.get(text);
    if (known !== undefined) return known;
    if (this.numbers.size >= mostTexts) this.numbers.clear();
    const made = this.next++;
    this.numbers.set(text, made);
    return made;
  }

  private nodeKeys(
    node: PlanNode,
    before: readonly NodeKeys[],
    text: (value: unknown) => string,
    plan: Plan,
  ): NodeKeys {
    if (node.kind === 'place') {
      return {
        totals: [this.number(`place ${text({ ...node, input: { kind: 'input', input: node.input } })}`)],
        pictures: [],
      };
    }
    const from = node.from === undefined ? 0 : before[node.from]!.totals.at(-1)!;
    if (node.kind === 'finish')
      return {
        totals: [this.number(`finish ${from} ${plan.luminance.join()} ${text({ ...node, from })}`)],
        pictures: [],
      };
    const totals = [this.number(`run ${from} ${plan.luminance.join()} ${text(node.startAlpha ?? null)}`)];
    const pictures = node.steps.map((step) => {
      totals.push(this.number(`${totals.at(-1)} then ${text(step)}`));
      return canBeKept(step) ? this.number(`picture ${text([step.picture, step.changes])}`) : undefined;
    });
    return { totals, pictures };
  }

  /** A value as text: inputs and nodes by what they hold, places in lists left out. */
  private text(value: unknown, inputs: readonly number[], nodes: readonly NodeKeys[]): string {
    return JSON.stringify(value, (key, each: unknown) => {
      if (key === 'entry') return undefined;
      if (typeof each !== 'object' || each === null)
        return typeof each === 'number' && !Number.isFinite(each) ? String(each) : each;
      if (ArrayBuffer.isView(each)) return `table ${this.tableNumber(each)}`;
      const { kind, input, node } = each as { kind?: unknown; input?: unknown; node?: unknown };
      if (kind === 'input' && typeof input === 'number') return `input ${inputs[input]}`;
      if (kind === 'node' && typeof node === 'number')
        return { ...each, kind: 'made', node: nodes[node]!.totals.at(-1) };
      return each;
    });
  }

  private tableNumber(table: object): number {
    const known = this.tables.get(table);
    if (known !== undefined) return known;
    const made = this.next++;
    this.tables.set(table, made);
    return made;
  }
}
