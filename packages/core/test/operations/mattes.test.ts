import { describe, expect, test } from '@jest/globals';
import { createTwinKernels } from '../../src/kernel/load.ts';
import { isPointwise } from '../../src/ledger/plan.ts';
import { mattes } from '../../src/operations/registry.ts';
import { compile, entry, evaluated, finish, inputsOf, pass, randomFrom, source } from './surroundings.ts';

const [width, height] = [40, 30];
const n = width * height;
type Channel = (name: string, x: number, y: number) => number;

const passes = [...source().passes, pass('position', 'position', 'XYZ'), pass('normal', 'normal', 'XYZ')];
const sources = [source({ passes: passes as never })];

/** A matte's values: what a fill of white is where the matte lets it be, on black. */
function planOf(list: Readonly<Record<string, object>>, matte = 'm') {
  const light = entry('light', { operation: 'replace', matte });
  return compile([light], { alphaFrom: null, mattes: list as never }, { sources });
}
function valuesOf(list: Readonly<Record<string, object>>, channel: Channel, more: object = {}): Float32Array {
  const plan = planOf(list);
  const samples = (name: string) =>
    Float32Array.from({ length: n }, (_, i) =>
      name.startsWith('light') && !('light' in more) ? 1 : channel(name, i % width, Math.floor(i / width)),
    );
  return evaluated(plan, inputsOf(plan, samples), { width, height, ...more })[1]!;
}
const at = (plane: Float32Array, x: number, y: number) => plane[y * width + x]!;
const none: Channel = () => 0;

describe('mattes of places', () => {
  test('a depth range is 1 between its ends and falls off before and behind', () => {
    const m = { kind: 'depth', source: 's', pass: 'depth', near: 10, far: 20, before: 4, behind: 5 };
    const plane = valuesOf({ m }, (_, x) => Math.max(2, x));
    for (const [x, wanted] of [
      [4, 0],
      [8, 0.5],
      [10, 1],
      [20, 1],
      [22, 0.6],
      [30, 0],
    ] as const)
      expect(at(plane, x, 9)).toBeCloseTo(wanted, 5);
  });

  test('where depth is averaged at an edge against the sky, the matte is what each side covers', () => {
    const m = { kind: 'depth', source: 's', pass: 'depth', near: 0, far: 20, before: 0, behind: 1 };
    const cover = [1, 1, 1, 0.75, 0.25, 0, 0];
    const plane = valuesOf({ m }, (name, x) => {
      const c = cover[Math.min(6, Math.max(0, x - 10))]!;
      return name.startsWith('depth') ? c * 5 + (1 - c) * 1e10 : 0.4;
    });
    cover.forEach((c, i) => expect(at(plane, 10 + i, 4)).toBeCloseTo(c, 2));
    const outside = valuesOf({ m: { ...m, far: 1e9, none: 'outside' } }, (_, x) => (x < 20 ? 5 : 1e10));
    expect([at(outside, 10, 4), at(outside, 30, 4)]).toEqual([1, 0]);
  });

  // A thing before a far ground, its soft edge two pixels wide; depth is of one side only, as most renderers give it.
  test.each([
    [1.2, 0.05],
    [0.05, 1.2],
  ])('light of %f in front and %f behind, graded by depth: both sides keep their own, and no rim is left', (a, b) => {
    const cover = (x: number, y: number) => Math.min(1, Math.max(0, (20 + 0.2 * y - x) / 2 + 0.5));
    const light: Channel = (_, x, y) => cover(x, y) * a + (1 - cover(x, y)) * b;
    const m = { kind: 'depth', source: 's', pass: 'depth', near: 30, far: 1e9, none: 'far' };
    for (const limit of [0.02, 0.5, 0.98]) {
      const channel: Channel = (name, x, y) =>
        name.startsWith('depth') ? (cover(x, y) > limit ? 4 : 200) : name === 'A' ? 1 : light(name, x, y);
      const grade = { adjustments: [{ kind: 'exposure', enabled: true, stops: -2 }], matte: 'm' };
      const plan = compile(
        [entry('beauty'), finish('grade', grade)],
        { alphaFrom: null, mattes: { m } as never },
        { sources },
      );
      const samples = (name: string) =>
        Float32Array.from({ length: n }, (_, i) => channel(name, i % width, Math.floor(i / width)));
      const [red] = evaluated(plan, inputsOf(plan, samples), { width, height });
      const wrong: object[] = [];
      for (let y = 6; y < height - 6; y++)
        for (let x = 8; x < 36; x++) {
          const wanted = cover(x, y) * a + ((1 - cover(x, y)) * b) / 4;
          const off = Math.abs(red![y * width + x]! - wanted);
          if (!(off < 1e-5)) wrong.push({ x, y, limit, off });
        }
      expect(wrong).toEqual([]);
    }
  });

  test('a sphere, a box and a plane in the world', () => {
    const world: Channel = (name, x, y) => (name.endsWith('X') ? x - 20 : name.endsWith('Y') ? y - 15 : 0.5);
    const common = { kind: 'position', source: 's', pass: 'position', centre: [0, 0, 0.5], falloff: 2 };
    const sphere = valuesOf({ m: { ...common, shape: 'sphere', size: [5, 0, 0] } }, world);
    expect([at(sphere, 24, 15), at(sphere, 26, 15), at(sphere, 28, 15)].map((v) => Number(v.toFixed(4)))).toEqual([
      1, 0.5, 0,
    ]);
    const box = valuesOf({ m: { ...common, shape: 'box', size: [5, 2, 1] } }, world);
    expect([at(box, 24, 16), at(box, 26, 15), at(box, 20, 19)].map((v) => Number(v.toFixed(4)))).toEqual([1, 0.5, 0]);
    const plane = valuesOf({ m: { ...common, shape: 'plane', towards: [0, 1, 0] } }, world);
    expect([at(plane, 3, 20), at(plane, 3, 14), at(plane, 3, 10)].map((v) => Number(v.toFixed(4)))).toEqual([
      1, 0.5, 0,
    ]);
    expect(valuesOf({ m: { ...common, centre: [0, 0, 0], shape: 'sphere' } }, none).every((v) => v === 0)).toBe(true);
  });

  test('normals that face a direction, whatever their length', () => {
    const m = { kind: 'facing', source: 's', pass: 'normal', towards: [0, 1, 0], angle: 30, falloff: 30 };
    const turned = (degrees: number) => [0, Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const plane = valuesOf({ m }, (name, x) => 3 * turned(5 * x)['XYZ'.indexOf(name.at(-1)!)]!);
    for (const [x, wanted] of [
      [0, 1],
      [6, 1],
      [9, 0.5],
      [12, 0],
      [30, 0],
    ] as const)
      expect(at(plane, x, 3)).toBeCloseTo(wanted, 2);
  });
});

describe('mattes of colour', () => {
  test('a range of hues and saturations of what it is applied to', () => {
    const m = { kind: 'hue', middle: 120, width: 60, falloff: 30, low: 0.5, softness: 0.25 };
    const colours = [
      [0, 1, 0],
      [0.5, 1, 0],
      [1, 0, 0],
      [0.9, 1, 0.9],
      [0.625, 1, 0.625],
    ];
    const plane = valuesOf({ m }, (name, x) => colours[Math.min(x, 4)]!['RGB'.indexOf(name.at(-1)!)]!, { light: true });
    // The second lies at 90 degrees, the width's end; what is laid there is its own green.
    expect([0, 1, 2, 3].map((x) => at(plane, x, 2))).toEqual([1, 1, 0, 0]);
    expect(at(plane, 4, 2)).toBeCloseTo(0.5, 5);
  });
});

describe('shapes in the picture', () => {
  test('an ellipse, a box, a gradient and a polygon, in pixels of the full picture at every level', () => {
    const shapes = {
      ellipse: { kind: 'ellipse', centre: [20, 15], radius: [10, 5], falloff: 4 },
      box: { kind: 'box', centre: [20, 15], size: [10, 5], falloff: 4 },
      gradient: { kind: 'gradient', start: [0, 0], stop: [40, 0] },
      polygon: {
        kind: 'polygon',
        corners: [
          [10, 10],
          [30, 10],
          [30, 20],
          [10, 20],
        ],
        falloff: 4,
      },
    };
    for (const m of Object.values(shapes)) {
      const full = valuesOf({ m }, none);
      const plan = planOf({ m });
      const small = evaluated(
        plan,
        inputsOf(plan, () => new Float32Array(n / 4).fill(1)),
        {
          width: width / 2,
          height: height / 2,
          level: 1,
        },
      )[1]!;
      for (const [x, y] of [
        [10, 7],
        [5, 7],
        [14, 10],
        [2, 2],
      ] as const) {
        const mean =
          [0, 1].flatMap((v) => [0, 1].map((u) => at(full, 2 * x + u, 2 * y + v))).reduce((a, b) => a + b) / 4;
        expect({ m, x, y, near: Math.abs(small[y * 20 + x]! - mean) < 0.06 }).toMatchObject({ near: true });
      }
    }
    const ellipse = valuesOf({ m: shapes.ellipse }, none);
    expect([at(ellipse, 20, 14), at(ellipse, 31, 14), at(ellipse, 38, 14)].map((v) => v > 0)).toEqual([
      true,
      true,
      false,
    ]);
    expect(at(valuesOf({ m: shapes.gradient }, none), 19, 3)).toBeCloseTo(19.5 / 40, 6);
    const polygon = valuesOf({ m: shapes.polygon }, none);
    expect([at(polygon, 20, 15), at(polygon, 31, 15)]).toEqual([1, Math.fround(1 - 1.5 / 4)]);
  });

  test('a shape moves with keys, from frame to frame', () => {
    const m = {
      kind: 'ellipse',
      centre: [
        {
          keys: [
            [1, 0],
            [11, 20],
          ],
        },
        15,
      ],
      radius: [4, 4],
      falloff: 0,
    };
    const list = { alphaFrom: null, mattes: { m: m as never } };
    const plan = compile([entry('light', { operation: 'replace', matte: 'm' })], list, { sources, frame: 6 });
    const plane = evaluated(
      plan,
      inputsOf(plan, () => new Float32Array(n).fill(1)),
      { width, height },
    )[0]!;
    expect([at(plane, 10, 15), at(plane, 20, 15)]).toEqual([1, 0]);
  });
});

describe('mattes of mattes', () => {
  const half = { kind: 'gradient', start: [0, 0], stop: [40, 0] };
  const down = { kind: 'gradient', start: [0, 0], stop: [0, 30] };
  test('both, either, and one without the other', () => {
    const together = (how: string) =>
      at(valuesOf({ m: { kind: 'combine', of: 'a', and: 'b', how }, a: half, b: down }, none), 9, 20);
    const [a, b] = [9.5 / 40, 20.5 / 30];
    expect(together('both')).toBeCloseTo(a * b, 6);
    expect(together('either')).toBeCloseTo(a + b - a * b, 6);
    expect(together('without')).toBeCloseTo(a * (1 - b), 6);
  });

  test('grown and shrunk by a disc, blurred, and stretched', () => {
    const box = { kind: 'box', centre: [20, 15], size: [6, 6], falloff: 0 };
    const edge = (more: object) => valuesOf({ m: { kind: 'edge', of: 'a', ...more }, a: box }, none);
    const rowOf = (plane: Float32Array) => plane.slice(15 * width, 16 * width).reduce((a, b) => a + b, 0);
    expect([rowOf(edge({})), rowOf(edge({ grow: 3 })), rowOf(edge({ grow: -3 }))]).toEqual([12, 18, 6]);
    const blurred = edge({ blur: 2 });
    expect(blurred.reduce((a, b) => a + b, 0)).toBeCloseTo(144, 1);
    expect(at(blurred, 14, 15)).toBeCloseTo(0.6, 1);
    expect(at(edge({ blur: 2, low: 0.4, high: 0.7 }), 14, 15)).toBeCloseTo((at(blurred, 14, 15) - 0.4) / 0.3, 5);
  });

  test('what looks at neighbours cannot be made of what it is applied to, and says so; what depends on itself too', () => {
    const ofSubject = { m: { kind: 'edge', of: 'a', blur: 2 }, a: { kind: 'brightness' } };
    expect(() => planOf(ofSubject)).toThrow(/the matte "m": it looks at neighbours/);
    const circle = { m: { kind: 'combine', of: 'm', and: 'a' }, a: half };
    expect(() => planOf(circle)).toThrow(/depends on itself/);
  });
});

describe('every matte', () => {
  const given: Record<string, object> = {
    ids: { source: 's', pass: 'crypto', names: ['kettle'] },
    depth: { source: 's', pass: 'depth', near: 1, far: 2 },
    position: { source: 's', pass: 'position', size: [2, 1, 1] },
    brightness: { low: 0.5, high: 2 },
    facing: { source: 's', pass: 'normal' },
    channel: { source: 's', pass: 'mask', channel: 'Y' },
    ellipse: { centre: [18, 12], radius: [9, 7] },
    box: { centre: [18, 12], size: [9, 7], angle: 30 },
    polygon: {
      corners: [
        [5, 5],
        [30, 8],
        [12, 26],
      ],
    },
    gradient: { start: [3, 4], stop: [30, 20] },
    edge: { of: 'a', grow: 2, blur: 1.5 },
    combine: { of: 'a', and: 'b' },
    invert: { of: 'a' },
  };
  const others = { a: { kind: 'depth', ...given.depth }, b: { kind: 'ellipse', ...given.ellipse } };
  const random = randomFrom(4);
  const planes = new Map<string, Float32Array>();
  const samples = (name: string) => {
    const known = planes.get(name) ?? Float32Array.from({ length: n }, () => 4 * random() - 0.5);
    planes.set(name, known);
    return known;
  };
  test.each(mattes.map((m) => m.kind))('%s: the same bits by twins, in any strips and blocks', (kind) => {
    const plan = planOf({ m: { kind, ...given[kind] }, ...others });
    const inputs = inputsOf(plan, samples);
    const one = evaluated(plan, inputs, { width, height });
    for (const more of [{ kernels: createTwinKernels() }, { cuts: [0, 1, 9, 10, 23], bandRows: 2 }, { bandRows: 1 }])
      expect(evaluated(plan, inputs, { width, height, ...more })).toEqual(one);
  });

  test('what hangs on its place or its neighbours is never evaluated as a part of a picture', () => {
    const pointwise = mattes
      .map((m) => m.kind)
      .filter((kind) => isPointwise(planOf({ m: { kind, ...given[kind] }, ...others })));
    expect(pointwise.sort()).toEqual(['brightness', 'channel', 'facing', 'hue', 'ids', 'position']);
  });
});
