import { apply3, invert3, isIdentity3, multiply3, type Vector3 } from '../matrix.ts';
import { stepKind, type PreparedProcessor, type StepOf } from '../stepKind.ts';

type MatrixStep = StepOf<'matrix'>;

/** A matrix with an offset after it. Neighbours become one, in float64. */
export const matrix = stepKind<MatrixStep>({
  kind: 'matrix',
  prepare({ matrix: m, offset }, heap) {
    const k = heap.kernels;
    const diagonal = [1, 2, 3, 5, 6, 7].every((i) => m[i] === 0);
    const at = heap.placeFloats(m);
    const turn: PreparedProcessor = diagonal
      ? (r, g, b, n) => k.scale3(r, g, b, n, m[0], m[4], m[8])
      : (r, g, b, n) => k.matrix3(r, g, b, n, at);
    if (!offset) return turn;
    return (r, g, b, n) => {
      turn(r, g, b, n);
      k.offsetPlane(r, n, offset[0]);
      k.offsetPlane(g, n, offset[1]);
      k.offsetPlane(b, n, offset[2]);
    };
  },
  invert(step) {
    const turned = invert3(step.matrix);
    if (!step.offset) return [{ kind: 'matrix', matrix: turned }];
    const [x, y, z] = apply3(turned, step.offset);
    return [{ kind: 'matrix', matrix: turned, offset: [-x, -y, -z] }];
  },
  merge: (before, step) => (before.kind === 'matrix' ? [multiplySteps(step, before)] : undefined),
  nothing: (step) => isIdentity3(step.matrix) && !step.offset?.some((x) => x !== 0),
});

function multiplySteps(second: MatrixStep, first: MatrixStep): MatrixStep {
  const product = multiply3(second.matrix, first.matrix);
  if (!second.offset && !first.offset) return { kind: 'matrix', matrix: product };
  const carried = apply3(second.matrix, first.offset ?? [0, 0, 0]);
  const own = second.offset ?? [0, 0, 0];
  const offset: Vector3 = [carried[0] + own[0], carried[1] + own[1], carried[2] + own[2]];
  return offset.every((x) => Math.abs(x) < 1e-12)
    ? { kind: 'matrix', matrix: product }
    : { kind: 'matrix', matrix: product, offset };
}
