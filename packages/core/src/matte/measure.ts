import type { Vector3 } from '../colour/matrix.ts';
import type { MatteMeasure } from '../operations/matte.ts';
import { skyFrom } from '../operations/mattes/dataPass.ts';
import { hueOf } from '../operations/mattes/hue.ts';

/** Brightness below this counts as black on an axis in stops: ten stops below 1. */
const darkest = 2 ** -10;
/** Share of the pixels that may lie beyond either end of an axis. */
const beyond = 0.005;

/**
 * What a matte selects by, pixel by pixel, of a sampled picture (premultiplied, working space; of a pass its own numbers). Pixels without
 * such a measure are NaN: empty depth, the hue of grey.
 */
export function measuresOf(
  of: MatteMeasure<never>['of'],
  planes: readonly Float32Array[],
  luminance: Vector3,
): Float32Array {
  const [r, g, b, a] = planes as [Float32Array, Float32Array, Float32Array, Float32Array | undefined];
  if (of === 'pass') return r.map((v) => (Number.isFinite(v) && v < skyFrom ? v : NaN));
  if (of === 'brightness')
    return r.map((v, i) => {
      const alpha = a?.[i] ? a[i]! : 1;
      return (luminance[0] * v + luminance[1] * g[i]! + luminance[2] * b[i]!) / alpha;
    });
  return r.map((v, i) => {
    const most = Math.max(v, g[i]!, b[i]!);
    const least = Math.min(v, g[i]!, b[i]!);
    return most > 0 && most - least > 0.02 * most ? hueOf(v, g[i]!, b[i]!, most, least) : NaN;
  });
}

/** A histogram: counts between two ends, in stops where its axis runs in stops. */
export interface MeasureHistogram {
  readonly scale: MatteMeasure<never>['scale'];
  readonly low: number;
  readonly high: number;
  readonly counts: Uint32Array;
}

/** Where a measure lies on an axis; stops are those from 1. */
export const onAxis = (scale: MatteMeasure<never>['scale'], v: number): number =>
  scale === 'stops' ? Math.log2(Math.max(v, darkest)) : v;
export const fromAxis = (scale: MatteMeasure<never>['scale'], at: number): number => (scale === 'stops' ? 2 ** at : at);

/** Counts measures into so many bins, over nearly all of them and over what `shown` holds besides (a matte's corners). NaN is not counted. */
export function histogramOf(
  measures: Float32Array,
  scale: MatteMeasure<never>['scale'],
  shown: readonly number[],
  bins: number,
): MeasureHistogram {
  const sorted = measures
    .filter((v) => Number.isFinite(v))
    .map((v) => onAxis(scale, v))
    .sort();
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.round(share * (sorted.length - 1)))] ?? 0;
  const ends = [
    at(beyond),
    at(1 - beyond),
    ...shown.filter((v) => scale === 'even' || v > 0).map((v) => onAxis(scale, v)),
  ].filter(Number.isFinite);
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const margin = 0.04 * (most - least) || 0.5;
  const [low, high] = [least - margin, most + margin];
  return { scale, low, high, counts: countsBetween(sorted, low, high, bins) };
}

/** How many numbers fall into each of so many equal bins between two ends; what lies outside, and NaN, is not counted. */
export function countsBetween(numbers: Float32Array, low: number, high: number, bins: number): Uint32Array {
  const counts = new Uint32Array(bins);
  for (const v of numbers) {
    const bin = Math.floor(((v - low) / (high - low)) * bins);
    if (bin >= 0 && bin < bins) counts[bin]!++;
  }
  return counts;
}
