import { describe, expect, test } from '@jest/globals';
import { createTwinKernels } from '../../src/kernel/load.ts';
import { idHash } from '../../src/matte/idHash.ts';
import { blends } from '../../src/operations/registry.ts';
import { compile, entry, evaluated, finish, inputsOf, source } from './surroundings.ts';

// Blends and mattes by hand: Porter and Duff 1984, table 1, for what composes alpha; the formulas of each definition for the rest.

const one = { width: 1, height: 1 };
/** One pixel of a total: the beauty beneath, the haze laid on it. */
function pixel(
  operation: string,
  beneath: readonly number[],
  laid: readonly number[],
  more: object = {},
  ledger: object = {},
  below: object = { operation: 'replace' },
): number[] {
  const plan = compile([entry('beauty', below), entry('haze', { operation, ...more })], { alphaFrom: null, ...ledger });
  const of = (name: string) => (name.startsWith('beauty') ? beneath : laid)['RGBA'.indexOf(name.at(-1)!)]!;
  return evaluated(
    plan,
    inputsOf(plan, (name) => Float32Array.of(of(name))),
    one,
  ).map((p) => p[0]!);
}
const near = (got: readonly number[], want: readonly number[]) =>
  got.forEach((v, i) => expect(v).toBeCloseTo(want[i]!, 6));

const T = [0.2, 0.4, 0.8, 0.5];
const S = [0.1, 0.3, 0, 0.25];
const formulas: Record<string, (t: number, s: number, c: number) => number> = {
  plus: (t, s, c) => (c === 3 ? t : t + s),
  minus: (t, s, c) => (c === 3 ? t : t - s),
  multiply: (t, s, c) => (c === 3 ? t : t * s),
  divide: (t, s, c) => (c === 3 ? t : s === 0 ? 0 : t / s),
  screen: (t, s, c) => (c === 3 ? t : t + s - t * s),
  max: (t, s, c) => (c === 3 ? t : Math.max(t, s)),
  min: (t, s, c) => (c === 3 ? t : Math.min(t, s)),
  over: (t, s) => s + t * (1 - S[3]!),
  under: (t, s) => t + s * (1 - T[3]!),
  replace: (_, s) => s,
};

describe('blends', () => {
  test('there is a formula here for each', () => {
    expect(Object.keys(formulas).sort()).toEqual(blends.map((b) => b.kind).sort());
  });

  test.each(Object.keys(formulas))('%s, whole, mixed, and through a matte', (operation) => {
    const result = T.map((t, c) => formulas[operation]!(t, S[c]!, c));
    near(pixel(operation, T, S), result);
    const between = (m: number) => T.map((t, c) => t + m * (result[c]! - t));
    near(pixel(operation, T, S, { mix: 0.3 }), between(0.3));
    // The matte is of the adjusted entry: its straight luminance here is 0.63 of the way.
    const y = (0.2722287168 * 0.1 + 0.6740817658 * 0.3) / 0.25;
    const mattes = { m: { kind: 'brightness', low: 0, high: 2 } };
    near(pixel(operation, T, S, { mix: 0.5, matte: 'm' }, { mattes }), between((0.5 * y) / 2));
  });

  test.each(Object.keys(formulas))(
    '%s where its matte is black leaves the total, whatever the entry holds',
    (operation) => {
      const mattes = { m: { kind: 'brightness', low: 5, high: 9 } };
      expect(pixel(operation, T, [NaN, Infinity, -Infinity, 0.5], { matte: 'm' }, { mattes })).toEqual(
        T.map(Math.fround),
      );
    },
  );

  test('what is wholly covered is gone, infinities and NaN too; what is wholly there hides what is put under it', () => {
    expect(pixel('over', [Infinity, NaN, 1, 1], [0.5, 0.5, 0.5, 1])).toEqual([0.5, 0.5, 0.5, 1]);
    expect(pixel('under', [0.5, 0.5, 0.5, 1], [Infinity, NaN, 1, 1])).toEqual([0.5, 0.5, 0.5, 1]);
    expect(pixel('replace', [Infinity, NaN, 1, 1], [0.5, 0.5, 0.5, 0.5])).toEqual([0.5, 0.5, 0.5, 0.5]);
  });

  test('what has no alpha covers wholly, inside its data window; outside it is transparent', () => {
    const plan = compile([entry('beauty', { operation: 'replace' }), entry('light', { operation: 'over' })], {
      alphaFrom: null,
    });
    const inputs = inputsOf(plan, (name) =>
      Float32Array.of(...[0, 1, 2, 3].map((i) => (name.startsWith('light') && i > 1 ? 0 : 0.5))),
    );
    const light = plan.inputs.findIndex((i) => i.colour[0].startsWith('light'));
    const cropped = inputs.map((input, i) =>
      i === light ? { ...input, data: { x: 0, y: 0, width: 2, height: 1 } } : input,
    );
    const [r, , , a] = evaluated(plan, cropped, { width: 4, height: 1 });
    expect([[...r!], [...a!]]).toEqual([
      [0.5, 0.5, 0.5, 0.5],
      [1, 1, 0.5, 0.5],
    ]);
  });

  test('a data window smaller or larger than the picture is transparent outside and cropped at its edges', () => {
    const plan = compile([entry('beauty', { operation: 'over' })], { alphaFrom: null });
    const small = { x: 1, y: 1, width: 1, height: 1 };
    const [r, , , a] = evaluated(
      plan,
      inputsOf(plan, () => Float32Array.of(0.7), { window: small }),
      { width: 3, height: 3 },
    );
    expect([...r!].map((v) => v > 0)).toEqual([false, false, false, false, true, false, false, false, false]);
    expect(a![4]).toBe(Math.fround(0.7));
    const large = { x: -1, y: -1, width: 4, height: 4 };
    const samples = () => Float32Array.from({ length: 16 }, (_, i) => i);
    const [over] = evaluated(plan, inputsOf(plan, samples, { window: large }), { width: 2, height: 2 });
    expect([...over!]).toEqual([5, 6, 9, 10]);
  });

  test('a source without light of its own: a fill is straight, a subtotal has alpha when something in it brought one', () => {
    const fill = { ...entry('mist', { kind: 'fill', colour: [0.8, 0.4, 0.2], alpha: 0.5, operation: 'over' }) };
    const none = inputsOf(compile([fill], { alphaFrom: null }), () => new Float32Array(1));
    near(
      evaluated(compile([fill], { alphaFrom: null }), none, one).map((p) => p[0]!),
      [0.4, 0.2, 0.1, 0.5],
    );
    const inside = compile([entry('sub', { kind: 'subtotal', entries: [fill], operation: 'over' })], {
      alphaFrom: null,
    });
    near(
      evaluated(inside, [], one).map((p) => p[0]!),
      [0.4, 0.2, 0.1, 0.5],
    );
    // With a finish inside, it is a node of its own and gives the same.
    const soft = [fill, finish('blur', { size: 2 })];
    const node = compile([entry('sub', { kind: 'subtotal', entries: soft, operation: 'over' })], { alphaFrom: null });
    expect(node.nodes.length).toBeGreaterThan(1);
    near(
      evaluated(node, [], one).map((p) => p[0]!),
      [0.4, 0.2, 0.1, 0.5],
    );
  });
});

describe('mattes', () => {
  /** A matte's own values: white laid where it is, on black. */
  function matte(
    mattes: object,
    values: Record<string, number[]>,
    name = 'm',
    kernels?: ReturnType<typeof createTwinKernels>,
  ) {
    const fill = entry('white', { kind: 'fill', colour: [1, 1, 1], alpha: 1, operation: 'replace', matte: name });
    const plan = compile([fill], { alphaFrom: null, mattes: mattes as never });
    const n = Object.values(values)[0]!.length;
    const inputs = inputsOf(plan, (channel) => Float32Array.from(values[channel] ?? new Array<number>(n).fill(0)));
    return [...evaluated(plan, inputs, { width: n, height: 1, ...(kernels ? { kernels } : {}) })[0]!];
  }

  test('a channel, limited to 0 … 1, and what it leaves', () => {
    const values = { 'mask.Y': [-1, 0, 0.25, 1, 7, NaN] };
    const mattes = {
      m: { kind: 'channel', source: 's', pass: 'mask', channel: 'Y' },
      rest: { kind: 'invert', of: 'm' },
      again: { kind: 'invert', of: 'rest' },
    };
    expect(matte(mattes, values)).toEqual([0, 0, 0.25, 1, 1, 0]);
    expect(matte(mattes, values, 'rest')).toEqual([1, 1, 0.75, 0, 0, 1]);
    expect(matte(mattes, values, 'again')).toEqual(matte(mattes, values));
    expect(matte(mattes, values, 'rest', createTwinKernels())).toEqual(matte(mattes, values, 'rest'));
  });

  test('IDs: the coverages of the named things over all ranks', () => {
    const [kettle, crate] = [idHash('kettle').float, idHash('crate').float];
    const values = {
      'crypto00.R': [kettle, crate, crate],
      'crypto00.G': [0.5, 1, 0.6],
      'crypto00.B': [crate, 0, kettle],
      'crypto00.A': [0.3, 0, 0.25],
      'crypto01.R': [kettle, 0, 0],
      'crypto01.G': [0.125, 0, 0],
    };
    const m = (names: string[]) => matte({ m: { kind: 'ids', source: 's', pass: 'crypto', names } }, values);
    near(m(['kettle']), [0.625, 0, 0.25]);
    near(m(['kettle', 'crate']), [0.925, 1, 0.85]);
    expect(m([])).toEqual([0, 0, 0]);
  });

  test('brightness: 0 below, 1 from high, straight or smooth between, and a step where both are the same', () => {
    const grey = [0.1, 0.25, 0.5, 0.75, 2];
    const through = (soft: object) => {
      const plan = compile([entry('light', { operation: 'replace', matte: 'm', adjustments: [] })], {
        alphaFrom: null,
        mattes: { m: { kind: 'brightness', low: 0.25, high: 0.75, ...soft } },
      });
      const [r] = evaluated(
        plan,
        inputsOf(plan, () => Float32Array.from(grey)),
        { width: 5, height: 1 },
      );
      return [...r!].map((v, i) => v / grey[i]!);
    };
    near(through({}), [0, 0, 0.5, 1, 1]);
    near(through({ soft: 'smooth' }), [0, 0, 0.5, 1, 1]);
    near(through({ low: 0, high: 1, soft: 'smooth' }), [0.028, 0.15625, 0.5, 0.84375, 1]);
    near(through({ low: 0.45, high: 0.45 }), [0, 0, 1, 1, 1]);
  });

  test.each([
    [{ m: { kind: 'invert', of: 'm' } }, /the matte "m" depends on itself/],
    [{ m: { kind: 'invert', of: 'n' }, n: { kind: 'invert', of: 'm' } }, /depends on itself/],
    [{ m: { kind: 'invert', of: 'gone' } }, /there is no matte "gone"/],
    [{ m: { kind: 'channel', source: 's', pass: 'gone', channel: 'R' } }, /the matte "m": there is no pass "gone"/],
    [{ m: { kind: 'channel', source: 's', pass: 'mask', channel: 'Q' } }, /has no channel "Q"; it has Y/],
    [{ m: { kind: 'channel', source: 'x', pass: 'mask', channel: 'Y' } }, /source is no longer in the shot/],
    [{ m: { kind: 'ids', source: 's', pass: 'material', names: [] } }, /there are no ID passes "material00"/],
    [{ m: { kind: 'sparkle' } }, /does not know the kind "sparkle"/],
  ])('%j is refused, or left out with its entry named', (mattes, words) => {
    expect(() => matte(mattes, { a: [0] })).toThrow(words);
    const entries = [entry('light'), entry('haze', { matte: 'm' })];
    const plan = compile(entries, { mattes: mattes as never }, { leaveOutFaults: true });
    expect(plan.faults).toEqual([{ entry: entries[1]!.id, message: expect.stringMatching(words) }]);
    expect(plan.entryIds).toEqual([entries[0]!.id]);
  });
});

describe('faults', () => {
  test.each([
    [{ operation: 'weave' }, /does not know the operation "weave"/],
    [{ mix: 3 }, /mix goes from 0 to 1/],
    [{ pass: 'gone' }, /has no pass "gone"/],
    [{ sourceId: 'x' }, /source is no longer in the shot/],
    [{ pass: 'depth' }, /depth of landing holds depth data, which is no light/],
    [{ adjustments: [{ kind: 'sparkle', enabled: true }] }, /does not know the adjustment "sparkle"/],
    [{ adjustments: [{ kind: 'gain', enabled: true, red: -1 }] }, /gain: red goes from 0 to 1000/],
  ])('%j is named at its row, the rest goes on', (more, words) => {
    const bad = entry('haze', more);
    const plan = compile([entry('light'), bad], {}, { leaveOutFaults: true, sources: [source()] });
    expect(plan.faults).toEqual([{ entry: bad.id, message: expect.stringMatching(words) }]);
    expect(plan.entryIds).toHaveLength(1);
    expect(() => compile([entry('light'), bad])).toThrow(words);
    // Switched off, it is no fault.
    expect(compile([entry('light'), { ...bad, enabled: false }]).faults).toEqual([]);
  });

  test('a finish that is not known or out of range', () => {
    expect(() => compile([finish('sparkle')])).toThrow(/does not know the finish "sparkle"/);
    expect(() => compile([finish('blur', { size: -1 })])).toThrow(/size goes from 0 to 500/);
    expect(compile([finish('blur', { size: 0 })]).nodes).toHaveLength(1);
  });
});
