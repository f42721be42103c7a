/**
 * The cubic of D. P. Mitchell and A. N. Netravali, "Reconstruction Filters in Computer Graphics", SIGGRAPH 1988, with B = C = 1/3: sharp
 * enough, with hardly any ringing. |x| in samples of the wider grid; 0 from 2 on.
 */
export function mitchell(x: number): number {
  const t = x < 0 ? -x : x;
  if (t >= 2) return 0;
  if (t >= 1) return (((-7 / 18) * t + 2) * t - 10 / 3) * t + 16 / 9;
  return ((7 / 6) * t - 2) * t * t + 8 / 9;
}

/** How far the filter reaches on each side. */
const radius = 2;

/** Which samples a sample of the result is made of, and how much of each; they sum to 1. */
export interface Taps {
  readonly first: number;
  readonly weights: Float32Array;
}

/** A side of a picture under a placement: sample i of the result lies at `start + i / scale` of the source, both at pixel centres. */
export interface Side {
  readonly scale: number;
  readonly start: number;
}

/** Taps of a filtered sample. Made smaller, the filter is widened, so that nothing is left out. */
export function filterTaps({ scale, start }: Side, i: number): Taps {
  const at = start + i / scale;
  const widen = Math.max(1, 1 / scale);
  const first = Math.ceil(at - radius * widen);
  const last = Math.floor(at + radius * widen);
  const weights = Float64Array.from({ length: last - first + 1 }, (_, j) => mitchell((first + j - at) / widen));
  const sum = weights.reduce((a, b) => a + b, 0);
  return { first, weights: Float32Array.from(weights, (w) => w / sum) };
}

/** The sample next to it, alone: for numbers that must not be mixed. */
export function nearestTaps({ scale, start }: Side, i: number): Taps {
  return { first: Math.floor(start + i / scale + 0.5), weights: Float32Array.of(1) };
}

/** Which samples of a source some samples of a result are made of, before the source's own ends. */
export function neededSamples(side: Side, top: number, end: number): [number, number] {
  const widen = Math.max(1, 1 / side.scale);
  const at = (i: number) => side.start + i / side.scale;
  return [Math.floor(at(top) - radius * widen), Math.ceil(at(end - 1) + radius * widen) + 1];
}
