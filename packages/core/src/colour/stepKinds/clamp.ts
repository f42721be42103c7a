import { planeKind, type StepOf } from '../stepKind.ts';

/** Between two numbers. Turned round it stays: what it cut off is gone. */
export const clamp = planeKind<StepOf<'clamp'>>({
  kind: 'clamp',
  preparePlane:
    ({ low, high }, heap) =>
    (p, n) =>
      heap.kernels.clampPlane(p, n, low, high),
  invert: (step) => [step],
});
