import type { Matrix3, Vector3 } from '../../colour/matrix.ts';
import { adjustment } from '../adjustment.ts';
import { numbers } from '../parameters.ts';

const cells = ['R·R', 'R·G', 'R·B', 'G·R', 'G·G', 'G·B', 'B·R', 'B·G', 'B·B'];

export const matrix = adjustment({
  kind: 'matrix',
  title: 'Matrix',
  does: 'Each channel becomes a sum of the three by the factors of its row, and an offset.',
  published: 'a linear map with an offset',
  search: ['channel mixer', '3x3', 'swap'],
  parameters: {
    matrix: numbers('Matrix', cells, [1, 0, 0, 0, 1, 0, 0, 0, 1], [-1000, 1000]),
    offset: numbers('Offset', ['Red', 'Green', 'Blue'], [0, 0, 0], [-1000, 1000], 0.001),
  },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ matrix: cellsOf, offset }) => [
    {
      kind: 'matrix',
      matrix: cellsOf as unknown as Matrix3,
      ...(offset.some((x) => x !== 0) ? { offset: offset as unknown as Vector3 } : {}),
    },
  ],
});
