import { kernels, runSteps, type ColourStep } from '@june-haze/core';

/** What a curve's axis counts. */
export type Axis = 'stops' | 'codes';

export interface Curve {
  /** Along the axis: stops from 18 % grey, or codes 0 … 1. */
  readonly at: readonly number[];
  readonly values: readonly [Float32Array, Float32Array, Float32Array];
}

const count = 241;

/** A grey ramp through steps: in stops from 18 % grey for light, from 0 to 1 for codes. */
export function curveOf(steps: readonly ColourStep[], axis: Axis): Curve {
  const [low, high] = axis === 'stops' ? [-10, 8] : [-0.05, 1.05];
  const at = Array.from({ length: count }, (_, i) => low + ((high - low) * i) / (count - 1));
  const ramp = axis === 'stops' ? at.map((s) => 0.18 * 2 ** s) : at;
  return { at, values: runSteps(steps, [ramp, ramp, ramp], kernels()) };
}

/** The largest difference of two curves over the same axis, and where. */
export function largestDifference(a: Curve, b: Curve): { by: number; at: number } {
  let best = { by: 0, at: a.at[0]! };
  a.values.forEach((plane, c) =>
    plane.forEach((x, i) => {
      const by = Math.abs(x - b.values[c]![i]!);
      if (by > best.by) best = { by, at: a.at[i]! };
    }),
  );
  return best;
}
