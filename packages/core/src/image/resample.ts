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

/** A side of a picture under a placement: sample i of the result lies at `start + i / scale` of the source, both at pixel centres. */
export interface Side {
  readonly scale: number;
  readonly start: number;
}

/**
 * What samples of a result are made of: sample i of the samples from `first[i]` on, with the weights from `at[i]` to before `at[i + 1]`, which
 * sum to 1.
 */
export interface Taps {
  readonly first: Int32Array;
  readonly at: Int32Array;
  readonly weights: Float32Array;
}

let lastTaps: { readonly key: string; readonly taps: Taps } | undefined;

/**
 * Taps of the samples `from` to before `to`. Filtered: made smaller, the filter is widened, so that nothing is left out. Else the sample next
 * to it, alone: for numbers that must not be mixed, and pixel on pixel.
 */
export function tapsOf(side: Side, from: number, to: number, filtered: boolean): Taps {
  // The blocks of a picture have their columns alike.
  const key = `${side.scale} ${side.start} ${from} ${to} ${filtered}`;
  if (lastTaps?.key === key) return lastTaps.taps;
  const taps = filtered ? filterTaps(side, from, to) : nearestTaps(side, from, to);
  lastTaps = { key, taps };
  return taps;
}

function filterTaps({ scale, start }: Side, from: number, to: number): Taps {
  const widen = Math.max(1, 1 / scale);
  const n = to - from;
  const [first, at] = [new Int32Array(n), new Int32Array(n + 1)];
  const weights = new Float32Array(n * (2 * Math.ceil(radius * widen) + 1));
  const own = new Float64Array(2 * Math.ceil(radius * widen) + 1);
  for (let i = 0; i < n; i++) {
    const middle = start + (from + i) / scale;
    first[i] = Math.ceil(middle - radius * widen);
    const count = Math.floor(middle + radius * widen) - first[i]! + 1;
    let sum = 0;
    for (let j = 0; j < count; j++) sum += own[j] = mitchell((first[i]! + j - middle) / widen);
    for (let j = 0; j < count; j++) weights[at[i]! + j] = own[j]! / sum;
    at[i + 1] = at[i]! + count;
  }
  return { first, at, weights };
}

function nearestTaps({ scale, start }: Side, from: number, to: number): Taps {
  const n = to - from;
  return {
    first: Int32Array.from({ length: n }, (_, i) => Math.floor(start + (from + i) / scale + 0.5)),
    at: Int32Array.from({ length: n + 1 }, (_, i) => i),
    weights: new Float32Array(n).fill(1),
  };
}

/** Which samples of a source some samples of a result are made of, before the source's own ends. */
export function neededSamples(side: Side, top: number, end: number): [number, number] {
  const widen = Math.max(1, 1 / side.scale);
  const at = (i: number) => side.start + i / side.scale;
  return [Math.floor(at(top) - radius * widen), Math.ceil(at(end - 1) + radius * widen) + 1];
}
