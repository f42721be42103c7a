import { compilePlan, evaluate, Heap, kernels, type Entry, type InputPlanes, type Pass } from '@june-haze/core';
import type { FramePlanes } from '../src/index.ts';

/** An edge's pixel, and the closest pixels near and far that lie in no edge themselves. */
export interface Edge {
  readonly at: number;
  readonly near: number;
  readonly far: number;
}

const pass = (name: string, role: Pass['role'], channels: readonly string[]): Pass => ({
  name,
  role,
  part: 0,
  channels: channels.map((c) => ({ name: c, component: c.split('.').at(-1)!, type: 'float' })),
});
const passes = [pass('beauty', 'beauty', ['R', 'G', 'B']), pass('depth', 'depth', ['depth.Z'])];

/** A traced frame's beauty through finishes, whose source is named s: red, green and blue, scene-linear. */
export function throughFinishes(
  planes: FramePlanes,
  width: number,
  height: number,
  finishes: readonly object[],
  mattes: object = {},
): readonly Float32Array[] {
  const common = { id: 'e', name: 'e', enabled: true, mix: 1 };
  const beauty = { ...common, kind: 'pass', sourceId: 's', pass: 'beauty', operation: 'plus', adjustments: [] };
  const plan = compilePlan(
    {
      version: 2,
      entries: [beauty, ...finishes.map((f) => ({ ...common, kind: 'finish', ...f }))] as Entry[],
      mattes: mattes as never,
      alphaFrom: null,
    },
    [{ id: 's', name: 's', space: 'ACEScg', passes }],
    'ACEScg',
    undefined,
    { frame: 1 },
  );
  const inputs = plan.inputs.map((i): InputPlanes => ({ colour: i.colour.map((c) => planes.get(c)!) as never }));
  const out = [0, 1, 2].map(() => new Float32Array(width * height));
  evaluate(plan, new Heap(kernels()), {
    width,
    rows: height,
    inputs,
    onBand: (row, rows, quad, heap) => out.forEach((p, c) => p.set(heap.floats(quad[c]!, rows * width), row * width)),
  });
  return out;
}

/**
 * The edges of a traced frame's depth, found here by themselves: of the pixels around that lie in no edge, the nearest as near, and as far, as
 * anything close by.
 */
export function edgesOf(depth: Float32Array, width: number, height: number): Edge[] {
  const around = (at: number, within: number): number[] => {
    const [x, y] = [at % width, Math.floor(at / width)];
    const found: { at: number; off: number }[] = [];
    for (let v = Math.max(0, y - within); v <= Math.min(height - 1, y + within); v++)
      for (let u = Math.max(0, x - within); u <= Math.min(width - 1, x + within); u++)
        found.push({ at: v * width + u, off: (u - x) ** 2 + (v - y) ** 2 });
    return found.sort((a, b) => a.off - b.off).map((f) => f.at);
  };
  const ends = Array.from({ length: width * height }, (_, at) => {
    const depths = around(at, 2).map((i) => depth[i]!);
    return [Math.min(...depths), Math.max(...depths)] as const;
  });
  const isEdge = ends.map(([low, high]) => high - low > 0.08 * low);
  return ends.flatMap(([low, high], at) => {
    if (!isEdge[at]) return [];
    const calm = around(at, 4).filter((i) => !isEdge[i]);
    const near = calm.find((i) => depth[i]! <= low * 1.15);
    const far = calm.find((i) => depth[i]! >= high * 0.85);
    return near === undefined || far === undefined || depth[far]! < 1.08 * depth[near]! ? [] : [{ at, near, far }];
  });
}
