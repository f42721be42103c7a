import { choice, name, number, numbers } from '../parameters.ts';
import { matte } from '../matte.ts';
import { dataPlanes } from './dataPass.ts';
import { ramp, soft } from './ramp.ts';

const f = Math.fround;

export const position = matte({
  kind: 'position',
  title: 'Place in the world',
  does: '1 inside a sphere, a box or behind a plane in world space, falling off outside; it stays at its place while the camera moves. Position (0, 0, 0) is the sky and outside.',
  published: 'signed distances of a sphere, a box and a plane: geometry, no source needed',
  search: ['world', 'sphere', 'box', 'plane', 'volume'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Pass', ['position']),
    shape: choice(
      'Shape',
      [
        ['sphere', 'Sphere'],
        ['box', 'Box'],
        ['plane', 'Plane'],
      ],
      'sphere',
    ),
    centre: numbers('Centre', ['X', 'Y', 'Z'], [0, 0, 0], [-1e9, 1e9], 0.05, 'data'),
    size: numbers('Half size', ['X', 'Y', 'Z'], [1, 1, 1], [0, 1e9], 0.05),
    towards: numbers('Plane faces', ['X', 'Y', 'Z'], [0, 1, 0], [-1, 1], 0.05),
    falloff: number('Falloff', 0.5, [0, 1e9], { soft: [0, 10], step: 0.05 }),
    soft,
  },
  planes: (values, place) => dataPlanes(values, place, 3),
  run({ heap, n, to, planes, values }) {
    const [xs, ys, zs] = planes[0]!.map((p) => heap.floats(p, n)) as [Float32Array, Float32Array, Float32Array];
    const plane = heap.floats(to, n);
    const distance = distanceOf(values);
    const { falloff, soft: between } = values;
    for (let i = 0; i < n; i++) {
      const [x, y, z] = [xs[i]!, ys[i]!, zs[i]!];
      const nowhere = x === 0 && y === 0 && z === 0;
      const off = nowhere ? Infinity : distance(x, y, z);
      plane[i] = f(off <= 0 ? 1 : falloff > 0 ? ramp(1 - off / falloff, between) : 0);
    }
  },
});

interface Shape {
  readonly shape: 'sphere' | 'box' | 'plane';
  readonly centre: readonly number[];
  readonly size: readonly number[];
  readonly towards: readonly number[];
}

/** How far a place lies outside a shape; 0 and below is inside. A sphere's radius is its first half size; a plane has its inside in front of it. */
function distanceOf({ shape, centre, size, towards }: Shape): (x: number, y: number, z: number) => number {
  const [cx, cy, cz] = centre as [number, number, number];
  const [sx, sy, sz] = size as [number, number, number];
  if (shape === 'sphere')
    return (x, y, z) => Math.sqrt((x - cx) * (x - cx) + (y - cy) * (y - cy) + (z - cz) * (z - cz)) - sx;
  if (shape === 'plane') {
    const [tx, ty, tz] = towards as [number, number, number];
    const length = Math.sqrt(tx * tx + ty * ty + tz * tz) || 1;
    return (x, y, z) => -((x - cx) * tx + (y - cy) * ty + (z - cz) * tz) / length;
  }
  return (x, y, z) => {
    const [a, b, c] = [Math.abs(x - cx) - sx, Math.abs(y - cy) - sy, Math.abs(z - cz) - sz];
    const [u, v, w] = [Math.max(a, 0), Math.max(b, 0), Math.max(c, 0)];
    const outside = Math.sqrt(u * u + v * v + w * w);
    return outside > 0 ? outside : Math.max(a, b, c);
  };
}
