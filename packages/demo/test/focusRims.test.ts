import { beforeAll, describe, expect, test } from '@jest/globals';
import { renderFrame } from '../src/index.ts';
import { edgesOf, throughFinishes, type Edge } from './edges.ts';

// Blur by focus beside what a lens sees: the tracer sends rays through a thin lens of the same size (M. Potmesil and I. Chakravarty, "A Lens and
// Aperture Camera Model", SIGGRAPH 1981) and knows nothing of circles, layers or edges. What lies hidden in the sharp frame it sees, and
// reflections as deep as they are: such differences stay, so that sums over many edges are held, and not each pixel.
const [width, height] = [240, 135];
const [focus, size] = [6, 4];
let before: readonly Float32Array[] = [];
let lens: readonly Float32Array[] = [];
let blurred: readonly Float32Array[] = [];
let flat: readonly Float32Array[] = [];
let edges: readonly Edge[] = [];

const light = ([r, g, b]: readonly Float32Array[], at: number): number => (r![at]! + g![at]! + b![at]!) / 3;

/** Differences from the lens at edges, in ratio to its light. */
function offs(picture: readonly Float32Array[]): number[] {
  return edges.map(({ at }) => (light(picture, at) - light(lens, at)) / Math.max(light(lens, at), 0.02));
}
const spread = (values: readonly number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);

/** The share of edges darker, or brighter, than both their sides by 2 % and than the lens sees them by 8 %: its own noise is half of that. */
function rims(picture: readonly Float32Array[]): { dark: number; bright: number } {
  const sides = edges.map(({ at, near, far }) => ({
    own: light(picture, at),
    seen: light(lens, at),
    ends: [light(picture, near), light(picture, far)],
  }));
  const dark = sides.filter(({ own, seen, ends }) => own < 0.98 * Math.min(...ends) && own < 0.92 * seen);
  const bright = sides.filter(({ own, seen, ends }) => own > 1.02 * Math.max(...ends) && own > 1.08 * seen);
  return { dark: dark.length / edges.length, bright: bright.length / edges.length };
}

beforeAll(() => {
  const colours = ['R', 'G', 'B'];
  const sharp = renderFrame({ width, height, progress: 0.5, seed: 1012, side: 4 });
  const seen = renderFrame({ width, height, progress: 0.5, seed: 1013, side: 9, lens: { focus, size } });
  before = colours.map((c) => sharp.get(c)!);
  lens = colours.map((c) => seen.get(c)!);
  const defocus = { finish: 'defocus', source: 's', pass: 'depth', focus, size, most: 40 };
  blurred = throughFinishes(sharp, width, height, [defocus]);
  flat = throughFinishes(sharp, width, height, [{ finish: 'blur', size: size / 4 }]);
  edges = edgesOf(sharp.get('depth.Z')!, width, height);
});

describe('blur by focus beside a lens', () => {
  test('there are many edges', () => expect(edges.length).toBeGreaterThan(500));

  test('edges are as light as the lens sees them', () => {
    const all = offs(blurred);
    expect(Math.abs(all.reduce((sum, v) => sum + v, 0) / all.length)).toBeLessThan(0.015);
    expect(spread(all)).toBeLessThan(0.7 * spread(offs(before)));
    // A blur that knows nothing of depth is farther off than none.
    expect(spread(offs(flat))).toBeGreaterThan(spread(offs(before)));
  });

  test('no rim, dark or bright, runs along them', () => {
    const found = rims(blurred);
    // Caps of lanterns and the like: things of their own between two sides.
    expect(found.dark).toBeLessThan(0.015);
    expect(found.bright).toBeLessThan(0.006);
    // The sharp frame beside the lens has many: what the measure can see.
    expect(rims(before).dark).toBeGreaterThan(0.04);
  });
});
