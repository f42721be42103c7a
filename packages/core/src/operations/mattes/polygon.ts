import { number } from '../parameters.ts';
import { heldCorners } from './inPicture.ts';
import { matte } from '../matte.ts';
import { eachPixel } from './eachPixel.ts';
import { ramp, soft } from './ramp.ts';

export const polygon = matte({
  kind: 'polygon',
  title: 'Polygon',
  does: '1 inside the corners in the picture, joined in their order (even-odd), falling off outside over a width; in pixels of the full picture, right and down.',
  published: 'the even-odd rule and the distance to a segment: geometry, no source needed',
  search: ['shape', 'garbage', 'roto', 'corners'],
  parameters: {
    corners: { type: 'corners', title: 'Corners', default: [], pick: 'place' },
    falloff: number('Falloff', 20, [0, 1e5], { unit: 'px', soft: [0, 500], step: 1 }),
    soft,
  },
  ofPlace: true,
  inPicture: heldCorners,
  run(block) {
    const { corners, falloff, soft: between } = block.values;
    eachPixel(block, (x, y) => {
      if (corners.length < 3) return 0;
      const { inside, away } = against(corners, x, y);
      if (inside) return 1;
      return falloff > 0 ? ramp(1 - away / falloff, between) : 0;
    });
  },
});

/** Whether a place lies inside a polygon, and how far it lies from its outline. */
function against(corners: readonly (readonly [number, number])[], x: number, y: number) {
  let inside = false;
  let nearest = Infinity;
  for (let i = 0, j = corners.length - 1; i < corners.length; j = i++) {
    const [[ax, ay], [bx, by]] = [corners[j]!, corners[i]!];
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
    const [dx, dy] = [bx - ax, by - ay];
    const along = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    nearest = Math.min(nearest, (x - ax - along * dx) ** 2 + (y - ay - along * dy) ** 2);
  }
  return { inside, away: Math.sqrt(nearest) };
}
