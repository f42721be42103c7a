import { describe, expect, test } from '@jest/globals';
import { ContentKeys } from '../../src/ledger/contentKeys.ts';
import type { Plan, PlanStep, RunNode } from '../../src/ledger/plan.ts';
import { compile, entry } from '../operations/surroundings.ts';

const passes = ['beauty', 'light', 'haze'];
const stops = (...each: number[]) =>
  passes.map((pass, i) =>
    entry(pass, { id: pass, adjustments: [{ kind: 'exposure', enabled: true, stops: each[i]! }] }),
  );
const keysOf = (keys: ContentKeys, plan: Plan, stamp = 'one') =>
  keys.of(
    plan,
    plan.inputs.map((input) => `${stamp} ${input.colour.join()}`),
  );

describe('what a plan is made of, as numbers', () => {
  test('equal contents have equal numbers, though their plans are other objects', () => {
    const keys = new ContentKeys();
    expect(keysOf(keys, compile(stops(0.5, 1, 2)))).toEqual(keysOf(keys, compile(stops(0.5, 1, 2))));
  });

  test('a changed row leaves the totals above it and the pictures of all others what they are', () => {
    const keys = new ContentKeys();
    const [before] = keysOf(keys, compile(stops(0.5, 1, 2)));
    const [after] = keysOf(keys, compile(stops(0.5, 1.5, 2)));
    expect(after!.totals.map((t, i) => t === before!.totals[i])).toEqual([true, true, false, false]);
    expect(after!.pictures.map((p, i) => p === before!.pictures[i])).toEqual([true, false, true]);
    // A row's mix changes what it adds and not its picture.
    const mixed = compile(stops(0.5, 1, 2).map((e) => (e.id === 'light' ? { ...e, mix: 0.5 } : e)));
    const [changed] = keysOf(keys, mixed);
    expect(changed!.pictures).toEqual(before!.pictures);
    expect(changed!.totals.map((t, i) => t === before!.totals[i])).toEqual([true, true, false, false]);
  });

  test('files that are others now are other contents, down to finishes of them', () => {
    const keys = new ContentKeys();
    const entries = [...stops(0, 0, 0), entry('soft', { kind: 'finish', finish: 'blur', size: 3 })];
    const [before, after] = ['one', 'two'].map((stamp) => keysOf(keys, compile(entries), stamp));
    const all = (nodes: typeof before) => nodes!.flatMap((n) => [...n.totals.slice(1), ...n.pictures]);
    expect(all(before).some((k) => k !== undefined && all(after).includes(k))).toBe(false);
  });

  test('the same rows behind another start are another total', () => {
    const keys = new ContentKeys();
    const plan = compile(stops(0, 0, 0));
    const run = plan.nodes[0] as RunNode;
    const starts = [undefined, ...[0, 1].map((input) => ({ kind: 'input', input }) as const)];
    const totals = starts.map((startAlpha) => {
      const node = { kind: 'run', steps: run.steps, ...(startAlpha ? { startAlpha } : {}) } as const;
      return keysOf(keys, { ...plan, nodes: [node] })[0]!.totals;
    });
    expect(new Set(totals.flat()).size).toBe(3 * totals[0]!.length);
  });

  test('tables are told apart as objects, not read; what hangs on a matte is nobody’s picture', () => {
    const keys = new ContentKeys();
    const plan = compile(stops(0, 0, 0));
    const run = plan.nodes[0] as RunNode;
    const withTable = (table: Float32Array): Plan => {
      const change = { steps: [{ kind: 'table', table } as never], alpha: 'straight' } as const;
      return { ...plan, nodes: [{ ...run, steps: run.steps.map((s): PlanStep => ({ ...s, changes: [change] })) }] };
    };
    const [one, other] = [new Float32Array(8), new Float32Array(8)];
    expect(keysOf(keys, withTable(one))).toEqual(keysOf(keys, withTable(one)));
    expect(keysOf(keys, withTable(one))[0]!.pictures[0]).not.toBe(keysOf(keys, withTable(other))[0]!.pictures[0]);
    const mattes = { bright: { kind: 'brightness', low: 0, high: 1, soft: 'linear' } } as never;
    const limited = compile(
      [entry('beauty', { adjustments: [{ kind: 'exposure', enabled: true, stops: 1, matte: 'bright' }] })],
      { mattes },
    );
    expect(keysOf(keys, limited)[0]!.pictures).toEqual([undefined]);
  });

  test('numbers are never given twice, also when texts are begun anew', () => {
    const keys = new ContentKeys();
    const first = keys.number('a');
    for (let i = 0; i < 20_001; i++) keys.number(`text ${i}`);
    expect(keys.number('a')).toBeGreaterThan(first);
    expect(keys.number('b')).not.toBe(keys.number('a'));
  });
});
