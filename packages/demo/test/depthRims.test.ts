import { beforeAll, describe, expect, test } from '@jest/globals';
import { renderFrame, type FramePlanes } from '../src/index.ts';
import { edgesOf, throughFinishes, type Edge } from './edges.ts';

// What depth does to the soft edges of a render.
const [width, height] = [192, 108];
let planes: FramePlanes;
let edges: readonly Edge[] = [];

const totalOf = (finishes: readonly object[], mattes: object = {}) =>
  throughFinishes(planes, width, height, finishes, mattes);

beforeAll(() => {
  planes = renderFrame({ width, height, progress: 0.5, seed: 1012, side: 3 });
  edges = edgesOf(planes.get('depth.Z')!, width, height);
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
