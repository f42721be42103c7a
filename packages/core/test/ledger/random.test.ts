import { expect, test } from '@jest/globals';
import { createTwinKernels } from '../../src/kernel/load.ts';
import { neededRows } from '../../src/ledger/needs.ts';
import type { Entry } from '../../src/ledger/document.ts';
import { blends } from '../../src/operations/registry.ts';
import { compile, entry, evaluated, finish, inputsOf, randomFrom, source } from '../operations/surroundings.ts';

// Ledgers thrown together from a seed: whatever they are made of, no split into strips, blocks or workers may change a bit.

const [width, height] = [53, 41];

function ledger(seed: number): { entries: Entry[]; mattes: object } {
  const random = randomFrom(seed);
  const any = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const adjustment = () => ({
    enabled: true,
    ...any([
      { kind: 'exposure', stops: random() * 2 - 1 },
      { kind: 'saturation', amount: random() * 2, space: any([null, 'Linear Rec.709']) },
      { kind: 'contrast', amount: 0.7 + random(), space: any([null, 'ACEScct']) },
      { kind: 'offset', master: random() * 0.1 },
      { kind: 'hue', degrees: random() * 360 },
      { kind: 'clamp', low: 0, high: 1 + random() },
    ]),
    ...(random() < 0.3 ? { matte: any(['bright', 'mask', 'rest', 'things']) } : {}),
  });
  const one = (depth: number): Entry => {
    const more = {
      id: `${seed} ${random()}`,
      operation: any(blends).kind,
      mix: any([
        1,
        1,
        0.4,
        {
          keys: [
            [0, 0.2],
            [10, 0.9],
          ],
        },
      ]),
      adjustments: Array.from({ length: Math.floor(random() * 3) }, adjustment),
      ...(random() < 0.3 ? { matte: any(['bright', 'mask', 'rest', 'things']) } : {}),
    };
    const kind = random();
    if (kind < 0.15)
      return finish(
        any(['blur', 'sharpen', 'glow', 'grade', 'haze', 'defocus', 'grain', 'median', 'fringe', 'vignette']),
        {
          size: 0.5 + random() * 4,
          most: 0.8,
          source: 's',
          pass: 'depth',
          adjustments: more.adjustments,
          mix: more.mix,
          ...('matte' in more ? { matte: more.matte } : {}),
        },
      );
    if (kind < 0.3 && depth < 2)
      return entry('sub', {
        ...more,
        kind: 'subtotal',
        entries: Array.from({ length: 1 + Math.floor(random() * 3) }, () => one(depth + 1)),
      });
    if (kind < 0.4)
      return entry('mist', { ...more, kind: 'fill', colour: [random(), random(), random()], alpha: random() });
    return entry(any(['beauty', 'light', 'haze']), { ...more, sourceId: any(['s', 's', 'small']) });
  };
  return {
    entries: Array.from({ length: 3 + Math.floor(random() * 5) }, () => one(0)),
    mattes: {
      bright: { kind: 'brightness', low: 0.2, high: 1.5, soft: any(['linear', 'smooth']) },
      mask: { kind: 'channel', source: any(['s', 'small']), pass: 'mask', channel: 'Y' },
      rest: { kind: 'invert', of: any(['bright', 'mask']) },
      things: {
        kind: 'combine',
        of: 'soft',
        and: any(['deep', 'round', 'mask']),
        how: any(['both', 'either', 'without']),
      },
      soft: { kind: 'edge', of: any(['deep', 'round']), grow: any([-1, 0, 2]), blur: any([0, 1.2]) },
      deep: { kind: 'depth', source: 's', pass: 'depth', near: 0.2, far: 1.5 },
      round: { kind: any(['ellipse', 'box']), centre: [25, 20], radius: [9, 12], size: [9, 12], angle: 20, falloff: 8 },
      named: { kind: 'ids', source: 's', pass: 'crypto', names: ['kettle'] },
    },
  };
}

test.each(Array.from({ length: 40 }, (_, i) => i + 1))(
  'ledger %i: the same bits whole, in strips, in blocks, by twins',
  (seed) => {
    const { entries, mattes } = ledger(seed);
    const small = source({ id: 'small', size: { width: 31, height: 44 }, placement: { scale: 1.3, shift: [2.5, -3] } });
    const plan = compile(
      entries,
      { mattes: mattes as never },
      {
        frame: 4,
        sources: [source({ size: { width, height } }), small],
        size: { width, height },
      },
    );
    const planes = new Map<string, Float32Array>();
    const sizeOf = (id: string) => (id === 'small' ? { width: 31, height: 44 } : { width, height });
    const inputs = plan.inputs.map((input) => {
      const size = sizeOf(input.sourceId);
      const plane = (name: string) => {
        const key = `${input.sourceId} ${name}`;
        const random = randomFrom(key.length * 31 + key.charCodeAt(key.length - 1));
        const known = planes.get(key) ?? Float32Array.from({ length: size.width * size.height }, () => random() * 1.5);
        planes.set(key, known);
        return known;
      };
      const [own] = inputsOf({ ...plan, inputs: [input] }, plane, { window: { x: 0, y: 0, ...size } });
      return own!;
    });
    const whole = evaluated(plan, inputs, { width, height });
    expect(whole[0]!.some((v) => v !== 0)).toBe(true);
    const others = {
      strips: evaluated(plan, inputs, { width, height, cuts: [0, 2, 3, 17, 30] }),
      blocks: evaluated(plan, inputs, { width, height, bandRows: 1 }),
      kept: evaluated(plan, inputs, { width, height, cuts: [0, 7], keep: true }),
      totals: evaluated(plan, inputs, { width, height, cuts: [0, 11], keepTotals: true }),
      both: evaluated(plan, inputs, { width, height, keep: true, keepTotals: true }),
      twins: evaluated(plan, inputs, { width, height, kernels: createTwinKernels() }),
    };
    for (const [name, other] of Object.entries(others))
      whole.forEach((p, c) => {
        const at = p.findIndex((v, i) => !Object.is(v, other[c]![i]));
        expect({ name, c, at, whole: p[at], other: other[c]![at] }).toEqual({ name, c, at: -1 });
      });
    // Each strip from no more rows than it says that it needs: the others hold no number.
    const [top, end] = [13, 19];
    const needed = neededRows(plan, { top, end, height, level: 0 });
    const spoilt = inputs.map((input, i) => {
      const rows = needed[i] ?? [0, 0];
      const stride = input.window!.width;
      const cut = (p: (typeof input.colour)[0]) =>
        (p as Float32Array).map((v, k) =>
          Math.floor(k / stride) >= rows[0] && Math.floor(k / stride) < rows[1] ? v : NaN,
        );
      return {
        ...input,
        colour: input.colour.map(cut) as unknown as typeof input.colour,
        ...(input.alpha ? { alpha: cut(input.alpha) } : {}),
      };
    });
    if (entries.some((e) => JSON.stringify(e).includes('"glow"'))) return;
    const part = evaluated(plan, spoilt, { width, height, cuts: [0, top, end] });
    whole.forEach((p, c) => {
      for (let i = top * width; i < end * width; i++)
        if (!Object.is(p[i], part[c]![i])) throw new Error(`plane ${c}, sample ${i}: ${p[i]} and ${part[c]![i]}`);
    });
  },
);
