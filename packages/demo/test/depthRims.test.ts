import { beforeAll, describe, expect, test } from '@jest/globals';
import { compilePlan, evaluate, Heap, kernels, type Entry, type InputPlanes, type Pass } from '@june-haze/core';
import { renderFrame, type FramePlanes } from '../src/index.ts';

// What depth does to the soft edges of a render. Sides are found here by themselves: of the pixels around that lie in no edge, the nearest as
// near, and as far, as anything close by.
const [width, height] = [192, 108];
const n = width * height;
const frame = 1012;
let planes: FramePlanes;
let edges: readonly { readonly at: number; readonly near: number; readonly far: number }[];

const pass = (name: string, role: Pass['role'], channels: readonly string[]): Pass => ({
  name,
  role,
  part: 0,
  channels: channels.map((c) => ({ name: c, component: c.split('.').at(-1)!, type: 'float' })),
});
const passes = [pass('beauty', 'beauty', ['R', 'G', 'B']), pass('depth', 'depth', ['depth.Z'])];

function totalOf(entries: readonly object[], mattes: object = {}): Float32Array[] {
  const common = { id: 'e', name: 'e', enabled: true, mix: 1 };
  const beauty = { ...common, kind: 'pass', sourceId: 's', pass: 'beauty', operation: 'plus', adjustments: [] };
  const plan = compilePlan(
    {
      version: 2,
      entries: [beauty, ...entries.map((e) => ({ ...common, kind: 'finish', ...e }))] as Entry[],
      mattes: mattes as never,
      alphaFrom: null,
    },
    [{ id: 's', name: 's', space: 'ACEScg', passes }],
    'ACEScg',
    undefined,
    { frame },
  );
  const inputs = plan.inputs.map((i): InputPlanes => ({ colour: i.colour.map((c) => planes.get(c)!) as never }));
  const out = [0, 1, 2].map(() => new Float32Array(n));
  evaluate(plan, new Heap(kernels()), {
    width,
    rows: height,
    inputs,
    onBand: (row, rows, quad, heap) => out.forEach((p, c) => p.set(heap.floats(quad[c]!, rows * width), row * width)),
  });
  return out;
}

beforeAll(() => {
  planes = renderFrame({ width, height, progress: 0.5, seed: frame, side: 3 });
  const depth = planes.get('depth.Z')!;
  const around = (at: number, within: number) => {
    const [x, y] = [at % width, Math.floor(at / width)];
    const found: number[] = [];
    for (let v = Math.max(0, y - within); v <= Math.min(height - 1, y + within); v++)
      for (let u = Math.max(0, x - within); u <= Math.min(width - 1, x + within); u++) found.push(v * width + u);
    return found;
  };
  const ends = Array.from({ length: n }, (_, at) => {
    const depths = around(at, 2).map((i) => depth[i]!);
    return [Math.min(...depths), Math.max(...depths)] as const;
  });
  const isEdge = ends.map(([low, high]) => high - low > 0.08 * low);
  const off = (a: number, b: number) =>
    ((a % width) - (b % width)) ** 2 + (Math.floor(a / width) - Math.floor(b / width)) ** 2;
  edges = Array.from({ length: n }, (_, at) => at)
    .filter((at) => isEdge[at])
    .flatMap((at) => {
      const [low, high] = ends[at]!;
      const calm = around(at, 4)
        .filter((i) => !isEdge[i])
        .sort((a, b) => off(a, at) - off(b, at));
      const near = calm.find((i) => depth[i]! <= low * 1.15);
      const far = calm.find((i) => depth[i]! >= high * 0.85);
      return near === undefined || far === undefined || depth[far]! < 1.08 * depth[near]! ? [] : [{ at, near, far }];
    });
});

describe('soft edges of the landing', () => {
  test('there are many', () => expect(edges.length).toBeGreaterThan(500));

  test.each([0.01, 0.03, 0.2])(
    'hazed at %f, none is darker or brighter than both its sides by 2 % more than before',
    (density) => {
      const before = ['R', 'G', 'B'].map((c) => planes.get(c)!);
      const after = totalOf([{ finish: 'haze', source: 's', pass: 'depth', density }]);
      const rims = edges.filter(({ at, near, far }) =>
        before.some((b, c) => {
          const h = after[c]!;
          const [low, high] = [Math.min(b[near]!, b[far]!), Math.max(b[near]!, b[far]!)];
          const [least, most] = [Math.min(h[near]!, h[far]!), Math.max(h[near]!, h[far]!)];
          return (
            h[at]! < 0.98 * least * Math.min(1, b[at]! / low) || h[at]! > (most * Math.max(1, b[at]! / high)) / 0.98
          );
        }),
      );
      expect(rims).toEqual([]);
    },
  );

  test('graded through a matte of depth, mixtures of two sides come out as mixtures of the graded sides', () => {
    const [stops, start] = [-2, 9];
    const matte = { kind: 'depth', source: 's', pass: 'depth', near: start, far: 1e9 };
    const grade = { finish: 'grade', adjustments: [{ kind: 'exposure', enabled: true, stops }], matte: 'far' };
    const after = totalOf([grade], { far: matte });
    const before = ['R', 'G', 'B'].map((c) => planes.get(c)!);
    const depth = planes.get('depth.Z')!;
    // Beside it: what a matte gives that takes each pixel for as deep as it says.
    const plain = before.map((b) => b.map((v, i) => v * (depth[i]! >= start ? 2 ** stops : 1)));
    const far = (picture: readonly Float32Array[]) => {
      const offs = edges.flatMap(({ at, near, far }) => {
        const step = before.map((b) => b[near]! - b[far]!);
        const length = step.reduce((sum, s) => sum + s * s, 0);
        const share = before.reduce((sum, b, c) => sum + (b[at]! - b[far]!) * step[c]!, 0) / length;
        const off = before.reduce((sum, b, c) => sum + (b[at]! - b[far]! - share * step[c]!) ** 2, 0);
        if (!(length > 0.04 && share > 0.1 && share < 0.9 && off < 0.0025 * length)) return [];
        const most = Math.max(...after.flatMap((h) => [h[near]!, h[far]!]));
        return [Math.max(...picture.map((h) => Math.abs(h[at]! - share * h[near]! - (1 - share) * h[far]!))) / most];
      });
      return offs.reduce((sum, o) => sum + o, 0) / offs.length;
    };
    expect(far(after)).toBeLessThan(0.03);
    expect(far(plain)).toBeGreaterThan(3 * far(after));
  });
});
