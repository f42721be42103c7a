import { cannotTurn, stepKind, type Ends, type StepOf } from '../stepKind.ts';

const whole: Ends = [0, 1];
const lattices = new WeakMap<Float32Array, Float32Array>();

/** A cube's points as four floats each, so that one load brings a whole colour; made once, as blocks of a picture each place it. */
function latticeOf(values: Float32Array): Float32Array {
  const known = lattices.get(values);
  if (known) return known;
  const points = values.length / 3;
  const lattice = new Float32Array(points * 4);
  for (let i = 0; i < points; i++) for (let c = 0; c < 3; c++) lattice[i * 4 + c] = values[i * 3 + c]!;
  lattices.set(values, lattice);
  return lattice;
}

/** A cube of colours over 0 … 1, its ends held. */
export const cube = stepKind<StepOf<'cube'>>({
  kind: 'cube',
  prepare(step, heap) {
    const at = heap.placeFloats(latticeOf(step.values));
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
