import { numbers } from '../parameters.ts';
import { heldLine } from './inPicture.ts';
import { matte } from '../matte.ts';
import { eachPixel } from './eachPixel.ts';
import { ramp, soft } from './ramp.ts';

export const gradient = matte({
  kind: 'gradient',
  title: 'Gradient',
  does: '0 before one place of the picture, 1 behind another, rising between them; in pixels of the full picture, right and down.',
  published: 'a projection onto a line: geometry, no source needed',
  search: ['shape', 'linear', 'horizon', 'graduated'],
  parameters: {
    start: numbers('From', ['X', 'Y'], [0, 0], [-1e6, 1e6], 1, 'place'),
    stop: numbers('To', ['X', 'Y'], [0, 100], [-1e6, 1e6], 1, 'place'),
    soft,
  },
  ofPlace: true,
  inPicture: heldLine('start', 'stop'),
  run(block) {
    const { start, stop, soft: between } = block.values;
    const [ax, ay] = start as [number, number];
    const [dx, dy] = [stop[0]! - ax, stop[1]! - ay];
    const length = dx * dx + dy * dy;
    eachPixel(block, (x, y) => (length > 0 ? ramp(((x - ax) * dx + (y - ay) * dy) / length, between) : 0));
  },
});
