import { beforeAll, describe, expect, test } from '@jest/globals';
import { idHash } from '@june-haze/core';
import { renderFrame, type FramePlanes } from '../src/index.ts';
import { cameraAt } from '../src/tern/scene.ts';

// Invented scene: these tests hold the promises that real renderers make of their passes.
const request = { width: 96, height: 54, progress: 0.5, seed: 1012, side: 4 };
const n = request.width * request.height;
let planes: FramePlanes;
beforeAll(() => {
  planes = renderFrame(request);
});
const plane = (name: string) => planes.get(name)!;
const components = ['diffuse_direct', 'diffuse_indirect', 'specular_direct', 'specular_indirect', 'emission', 'volume'];
const lights = ['light_sun', 'light_sky', 'light_lanterns'];

describe('the stand-in renderer', () => {
  test.each([
    ['components', components],
    ['light groups', lights],
  ])('%s sum to the beauty within float rounding', (_, names) => {
    for (const c of ['R', 'G', 'B']) {
      for (let i = 0; i < n; i++) {
        const sum = names.reduce((all, name) => all + plane(`${name}.${c}`)[i]!, 0);
        expect(Math.abs(sum - plane(c)[i]!)).toBeLessThanOrEqual(1e-6 * Math.max(1, sum));
      }
    }
  });

  test('the same request gives the same bits, whoever renders it', () => {
    const again = renderFrame(request);
    for (const [name, values] of planes)
      expect([name, again.get(name)!.every((v, i) => Object.is(v, values[i]))]).toEqual([name, true]);
  });

  test('depth is the distance along the camera’s axis of the position pass; normals have length 1', () => {
    const { at, forward } = cameraAt(request.progress);
    for (let i = 0; i < n; i++) {
      const depth = plane('depth.Z')[i]!;
      if (depth > 1e9) continue;
      const position = ['X', 'Y', 'Z'].map((c) => plane(`position.${c}`)[i]!);
      const along = position.reduce((sum, p, c) => sum + (p - at[c]!) * forward[c]!, 0);
      expect(Math.abs(along - depth)).toBeLessThan(1e-4 * Math.max(1, depth));
      expect(Math.hypot(...['X', 'Y', 'Z'].map((c) => plane(`normal.${c}`)[i]!))).toBeCloseTo(1, 5);
    }
  });

  test('IDs are hashes of names, coverage stays within alpha', () => {
    const kettle = idHash('kettle').float;
    expect(plane('crypto_object00.R').some((v) => v === kettle)).toBe(true);
    for (let i = 0; i < n; i++) {
      expect(plane('crypto_object00.G')[i]! + plane('crypto_object00.A')[i]!).toBeLessThanOrEqual(
        plane('A')[i]! + 1e-6,
      );
    }
  });
});
