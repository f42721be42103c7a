import { cannotTurn, stepKind, type Ends, type StepOf } from '../stepKind.ts';

const whole: Ends = [0, 1];

/** A cube of colours over 0 … 1, its ends held. */
export const cube = stepKind<StepOf<'cube'>>({
  kind: 'cube',
  /** Lattice points lie in the heap as four floats each, so that one load brings a whole colour. */
  prepare(step, heap) {
    const points = step.size ** 3;
    const at = heap.allocate(points * 16);
    const lattice = heap.floats(at, points * 4);
    for (let i = 0; i < points; i++) {
      lattice[i * 4] = step.values[i * 3]!;
      lattice[i * 4 + 1] = step.values[i * 3 + 1]!;
      lattice[i * 4 + 2] = step.values[i * 3 + 2]!;
      lattice[i * 4 + 3] = 0;
    }
    const k = heap.kernels;
    return step.interpolation === 'tetrahedral'
      ? (r, g, b, n) => k.cubeTetrahedral(r, g, b, n, at, step.size)
      : (r, g, b, n) => k.cubeTrilinear(r, g, b, n, at, step.size);
  },
  invert() {
    throw cannotTurn('cube');
  },
  cutsOff: () => [whole, whole, whole],
});
