import type { Matrix3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

/** A turn about the grey axis by degrees; 120° takes red to green. Rodrigues' rotation about (1, 1, 1)/√3. */
export function hueMatrix(degrees: number): Matrix3 {
  const turn = ((degrees % 360) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn) / Math.sqrt(3)];
  const third = (1 - c) / 3;
  const [same, ahead, behind] = [c + third, third + s, third - s];
  return [same, behind, ahead, ahead, same, behind, behind, ahead, same];
}

export const hue = adjustment({
  kind: 'hue',
  title: 'Hue',
  does: 'A turn about the grey axis; +120° takes red to green. Greys stay.',
  published: 'rotation about an axis (O. Rodrigues, 1840), the axis being that of equal red, green and blue',
  search: ['rotate', 'turn'],
  parameters: {
    degrees: number('Turn', 0, [-3600, 3600], { unit: '°', soft: [-180, 180], step: 0.5, scale: 'angle' }),
  },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ degrees }) => (degrees % 360 === 0 ? [] : [{ kind: 'matrix', matrix: hueMatrix(degrees) }]),
});
