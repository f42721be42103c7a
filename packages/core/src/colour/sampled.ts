import { Heap } from '../kernel/heap.ts';
import type { Kernels } from '../kernel/kernels.ts';
import type { ShotColour } from '../config/shotColour.ts';
import { prepareSteps } from './prepare.ts';
import { ap0, toXyz, type Primaries } from './primaries.ts';
import { apply3, type Vector3 } from './matrix.ts';
import type { ColourStep } from './steps.ts';

/** Colours through steps: three planes in, three new planes out. For charts and single values. */
export function runSteps(
  steps: readonly ColourStep[],
  planes: readonly [ArrayLike<number>, ArrayLike<number>, ArrayLike<number>],
  kernels: Kernels,
): [Float32Array, Float32Array, Float32Array] {
  const heap = new Heap(kernels);
  const n = planes[0].length;
  const at = planes.map((plane) => {
    const pointer = heap.allocatePlane(n);
    heap.floats(pointer, n).set(plane);
    return pointer;
  }) as [number, number, number];
  prepareSteps(steps, heap)(...at, n);
  return at.map((p) => heap.floats(p, n).slice()) as [Float32Array, Float32Array, Float32Array];
}

/**
 * Primaries and white of a linear space: the published ones where it is a space that is known, else as it reaches ACES2065-1 (whose white its own is
 * then adapted to); undefined when there is no linear way.
 */
export function primariesOf(colour: ShotColour, space: string, kernels: Kernels): Primaries | undefined {
  const facts = colour.spaces().find((s) => s.name === space);
  if (!facts?.linear) return undefined;
  const twin = colour.linearTwin(space);
  if (twin) return twin.primaries;
  const steps = colour.conversion(space, 'ACES2065-1');
  const [r, g, b] = runSteps(
    steps,
    [
      [1, 0, 0, 1],
      [0, 1, 0, 1],
      [0, 0, 1, 1],
    ],
    kernels,
  );
  const toXy = (i: number): [number, number] => {
    const xyz: Vector3 = apply3(toXyz(ap0), [r[i]!, g[i]!, b[i]!]);
    const sum = xyz[0] + xyz[1] + xyz[2];
    return [xyz[0] / sum, xyz[1] / sum];
  };
  return { red: toXy(0), green: toXy(1), blue: toXy(2), white: toXy(3) };
}
