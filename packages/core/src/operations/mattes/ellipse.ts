import { number, numbers } from '../parameters.ts';
import { heldShape } from './inPicture.ts';
import { matte } from '../matte.ts';
import { eachPixel } from './eachPixel.ts';
import { ramp, soft } from './ramp.ts';

const degree = Math.PI / 180;

export const ellipse = matte({
  kind: 'ellipse',
  title: 'Ellipse',
  does: '1 inside an ellipse in the picture, falling off outside over a width; places and sizes in pixels of the full picture, right and down.',
  published: 'the ellipse: geometry, no source needed',
  search: ['shape', 'circle', 'round', 'roto'],
  parameters: {
    centre: numbers('Centre', ['X', 'Y'], [0, 0], [-1e6, 1e6], 1, 'place'),
    radius: numbers('Radius', ['X', 'Y'], [100, 100], [0, 1e6], 1),
    angle: number('Turned', 0, [-360, 360], { unit: '°', step: 1, scale: 'angle' }),
    falloff: number('Falloff', 40, [0, 1e5], { unit: 'px', soft: [0, 500], step: 1 }),
    soft,
  },
  ofPlace: true,
  inPicture: heldShape('radius', ([rx, ry], grown) =>
    Array.from({ length: 73 }, (_, i) => [
      (rx + grown) * Math.cos((i * Math.PI) / 36),
      (ry + grown) * Math.sin((i * Math.PI) / 36),
    ]),
  ),
  run(block) {
    const { centre, radius, angle, falloff, soft: between } = block.values;
    const [cx, cy] = centre as [number, number];
    const [rx, ry] = radius.map((r) => Math.max(r, 1e-3)) as [number, number];
    const [cos, sin] = [Math.cos(angle * degree), Math.sin(angle * degree)];
    eachPixel(block, (x, y) => {
      const [u, v] = [(x - cx) * cos + (y - cy) * sin, (y - cy) * cos - (x - cx) * sin];
      const away = Math.sqrt((u / rx) ** 2 + (v / ry) ** 2);
      if (away <= 1) return 1;
      // So many pixels outside, along the line from the centre.
      const off = Math.sqrt(u * u + v * v) * (1 - 1 / away);
      return falloff > 0 ? ramp(1 - off / falloff, between) : 0;
    });
  },
});
