import { choice, name, number, numbers } from '../parameters.ts';
import { matte } from '../matte.ts';
import { dataPlanes } from './dataPass.ts';
import { soft } from './ramp.ts';

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
    const [xs, ys, zs] = planes[0]!;
    const { shape, centre, size, falloff } = values;
    const k = heap.kernels;
    const distance = { sphere: k.sphereDistance, box: k.boxDistance, plane: k.planeDistance }[shape];
    const mark = heap.mark();
    // A sphere's radius is its first half size; a plane has its inside in front of it.
    distance(to, xs, ys, zs, n, heap.placeFloats([...centre, ...(shape === 'plane' ? towardsOf(values) : size)]));
    heap.release(mark);
    k.falloffPlane(to, n, falloff, values.soft === 'smooth' ? 1 : 0);
  },
});

/** The direction that a plane faces, of length 1; without one it faces nowhere. */
function towardsOf({ towards }: { readonly towards: readonly number[] }): number[] {
  const [x, y, z] = towards as [number, number, number];
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  return [x / length, y / length, z / length];
}
