import { number, numbers } from '../parameters.ts';
import { heldShape } from './inPicture.ts';
import { matte } from '../matte.ts';
import { eachPixel } from './eachPixel.ts';
import { ramp, soft } from './ramp.ts';

const degree = Math.PI / 180;

export const box = matte({
  kind: 'box',
  title: 'Box',
  does: '1 inside a rectangle in the picture, falling off outside over a width; places and sizes in pixels of the full picture, right and down.',
  published: 'the distance to a rectangle: geometry, no source needed',
  search: ['shape', 'rectangle', 'square', 'roto'],
  parameters: {
    centre: numbers('Centre', ['X', 'Y'], [0, 0], [-1e6, 1e6], 1, 'place'),
    size: numbers('Half size', ['X', 'Y'], [100, 100], [0, 1e6], 1),
    angle: number('Turned', 0, [-360, 360], { unit: '°', step: 1, scale: 'angle' }),
    falloff: number('Falloff', 40, [0, 1e5], { unit: 'px', soft: [0, 500], step: 1 }),
    soft,
  },
  ofPlace: true,
  inPicture: heldShape('size', ([sx, sy], grown) =>
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
      [-1, -1],
    ].map(([u, v]) => [u! * (sx + grown), v! * (sy + grown)]),
  ),
  run(block) {
    const { centre, size, angle, falloff, soft: between } = block.values;
    const [cx, cy] = centre as [number, number];
    const [sx, sy] = size as [number, number];
    const [cos, sin] = [Math.cos(angle * degree), Math.sin(angle * degree)];
    eachPixel(block, (x, y) => {
      const u = Math.abs((x - cx) * cos + (y - cy) * sin) - sx;
      const v = Math.abs((y - cy) * cos - (x - cx) * sin) - sy;
      const off = Math.sqrt(Math.max(u, 0) ** 2 + Math.max(v, 0) ** 2);
      if (off <= 0) return 1;
      return falloff > 0 ? ramp(1 - off / falloff, between) : 0;
    });
  },
});
