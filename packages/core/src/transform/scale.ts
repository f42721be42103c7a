import { diagonal3, type Vector3 } from '../colour/matrix.ts';
import type { ColourStep, PlaneStep } from '../colour/steps.ts';

/** The same plane step for every channel, or one each. */
export function eachChannel(make: (channel: 0 | 1 | 2) => PlaneStep): ColourStep {
  return { kind: 'channels', each: [make(0), make(1), make(2)] };
}

/** A scale and an offset per channel. */
export function scaleAndOffset(scale: Vector3, offset: Vector3): ColourStep {
  const matrix = diagonal3(scale[0], scale[1], scale[2]);
  return offset.every((x) => x === 0) ? { kind: 'matrix', matrix } : { kind: 'matrix', matrix, offset };
}

/** x -> (x - low) / (high - low), the same for each channel. */
export function fit(low: number, high: number): ColourStep {
  const k = 1 / (high - low);
  return scaleAndOffset([k, k, k], [-low * k, -low * k, -low * k]);
}

/** Weights of the saturation control, ASC CDL 1.2: those of Rec.709, whatever the working space. */
export const cdlWeights: Vector3 = [0.2126, 0.7152, 0.0722];

/** Saturation about weights: luma + s (x − luma). */
export function saturationStep(s: number, [wr, wg, wb]: Vector3 = cdlWeights): ColourStep {
  const k = 1 - s;
  return {
    kind: 'matrix',
    matrix: [k * wr + s, k * wg, k * wb, k * wr, k * wg + s, k * wb, k * wr, k * wg, k * wb + s],
  };
}

/** a / b, or a / 1e-6 where b is 0: an inverse of a control at 0 stays finite. */
export function apart(a: number, b: number): number {
  return b === 0 ? a * 1e6 : a / b;
}
