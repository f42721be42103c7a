import type { Matrix3, Vector3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { number } from '../parameters.ts';

/** Y + (v − Y) · amount as a matrix, Y by some weights. */
export function saturationMatrix(amount: number, [wr, wg, wb]: Vector3): Matrix3 {
  const rest = 1 - amount;
  const row = (own: 0 | 1 | 2) => [wr, wg, wb].map((w, c) => rest * w + (c === own ? amount : 0));
  return [...row(0), ...row(1), ...row(2)] as unknown as Matrix3;
}

export const saturation = adjustment({
  kind: 'saturation',
  title: 'Saturation',
  does: 'Y + (v − Y) · amount, Y by the weights of the primaries that it works in.',
  published: 'ASC CDL 1.2, saturation, with the weights of the space at hand (SMPTE RP 177 for weights from primaries)',
  search: ['grey', 'vivid', 'desaturate'],
  parameters: { amount: number('Amount', 1, [0, 10], { soft: [0, 2] }) },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ amount }, { luminance }) => [{ kind: 'matrix', matrix: saturationMatrix(amount, luminance) }],
});
