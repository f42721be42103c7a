import { halfToNumber } from '../image/half.ts';
import type { Plane } from '../exr/plane.ts';

/** Half the largest finite half: beyond it a value cannot be kept as one (IEEE 754-2019, binary16). */
export const largestHalf = 65504;

/** Shares of a channel's finite samples lie in bins of equal ratio from 2^-24 up; the first bin holds 0 and below. */
const binsPerStop = 8;
const lowestStop = -24;
const binCount = (16 - lowestStop) * binsPerStop + 2;

/** What the samples of one channel are like; figures over all samples that were looked at. */
export interface ChannelStatistics {
  readonly samples: number;
  readonly nan: number;
  readonly infinite: number;
  /** Of the infinite ones, those above 0. */
  readonly positiveInfinite: number;
  /** Below -0.001: less is what filters leave. */
  readonly negative: number;
  /** At or beyond the largest half. */
  readonly beyondHalf: number;
  readonly zero: number;
  readonly aboveOne: number;
  /** Exactly 1. */
  readonly atOne: number;
  readonly minimum: number;
  readonly maximum: number;
  readonly sum: number;
  /** Samples in [0, 1] that lie on a multiple of 1/255, and how many of the 256 codes occur. */
  readonly onCodes: number;
  readonly codes: number;
  readonly bins: Float64Array;
}

/** How far a sample may be off an 8-bit code and still be on it. */
const tolerance = 0.03;

/** How often each of the 65,536 halves occurs: planes of halves are counted first, then each pattern is looked at once. */
const patterns = new Uint32Array(65536);

/** Looks at every sample of a plane. Halves are bit patterns. */
export function channelStatistics(plane: Plane): ChannelStatistics {
  const tally = newTally();
  if (plane instanceof Uint16Array) {
    patterns.fill(0);
    for (let i = 0; i < plane.length; i++) patterns[plane[i]!]!++;
    for (let h = 0; h < 65536; h++) {
      if (patterns[h] === 0) continue;
      count(tally, halfToNumber(h), patterns[h]!);
      spread(tally, halfToNumber(h), patterns[h]!, halfCode);
    }
  } else {
    countFloats(tally, plane);
    // Every sample is looked at for what must not be; how they spread is told by every fourth.
    for (let i = 0; i < plane.length; i += 4) spread(tally, plane[i]!, 4, 0);
  }
  const { seen, ...statistics } = tally;
  return { ...statistics, samples: plane.length, codes: seen.reduce((n, s) => n + s, 0) };
}

/** What halves may be off an 8-bit code, as a share of the code: their spacing near 1 is an eighth of a code. */
const halfCode = 0.0005;

type Tally = ReturnType<typeof newTally>;

function newTally() {
  return {
    seen: new Uint8Array(256),
    bins: new Float64Array(binCount),
    nan: 0,
    infinite: 0,
    positiveInfinite: 0,
    negative: 0,
    beyondHalf: 0,
    zero: 0,
    aboveOne: 0,
    atOne: 0,
    minimum: Infinity,
    maximum: -Infinity,
    sum: 0,
    onCodes: 0,
  };
}

/** As `count` for each sample, in local numbers: objects would cost several times as much. */
function countFloats(t: Tally, plane: Float32Array | Uint32Array): void {
  let [negative, beyondHalf, zero, aboveOne, atOne] = [0, 0, 0, 0, 0];
  let [minimum, maximum, sum] = [Infinity, -Infinity, 0];
  for (let i = 0; i < plane.length; i++) {
    const v = plane[i]!;
    if (v - v !== 0) {
      count(t, v, 1);
      continue;
    }
    if (v < minimum) minimum = v;
    if (v > maximum) maximum = v;
    sum += v;
    if (v < -0.001) negative++;
    else if (v === 0) zero++;
    else if (v >= 1) {
      if (v === 1) atOne++;
      else aboveOne++;
      if (v >= largestHalf) beyondHalf++;
    }
  }
  Object.assign(t, { negative, beyondHalf, zero, aboveOne, atOne, minimum, maximum, sum });
}

function count(t: Tally, v: number, n: number): void {
  if (v - v !== 0) {
    if (v !== v) t.nan += n;
    else {
      t.infinite += n;
      if (v > 0) t.positiveInfinite += n;
    }
    return;
  }
  if (v < t.minimum) t.minimum = v;
  if (v > t.maximum) t.maximum = v;
  t.sum += v * n;
  if (v < -0.001) t.negative += n;
  if (v === 0) t.zero += n;
  if (v > 1) {
    t.aboveOne += n;
    if (v >= largestHalf) t.beyondHalf += n;
  } else if (v === 1) t.atOne += n;
}

/** Where a finite sample lies among the others: its bin, and its 8-bit code when it is on one. */
function spread(t: Tally, v: number, n: number, slack: number): void {
  if (v - v !== 0) return;
  if (v >= 0 && v <= 1) {
    const code = v * 255;
    const nearest = Math.round(code);
    if (Math.abs(code - nearest) <= tolerance + code * slack) {
      t.onCodes += n;
      t.seen[nearest] = 1;
    }
  }
  t.bins[binOf(v)]! += n;
}

const float = new Float32Array(1);
const bits = new Int32Array(float.buffer);

/** A bin by a float's exponent and the first bits of its mantissa: near enough to equal ratios, and no logarithm. */
function binOf(v: number): number {
  if (v <= 0) return 0;
  float[0] = v;
  const exponent = (bits[0]! >>> 23) - 127;
  if (exponent < lowestStop) return 1;
  const bin = 1 + (exponent - lowestStop) * binsPerStop + ((bits[0]! >>> 20) & 7);
  return Math.min(bin, binCount - 1);
}

/** The value that a share of the finite samples lies below; exact to an eighth of a stop. */
export function percentile(statistics: Pick<ChannelStatistics, 'bins'>, share: number): number {
  const total = statistics.bins.reduce((n, b) => n + b, 0);
  let below = 0;
  for (let i = 0; i < binCount; i++) {
    below += statistics.bins[i]!;
    if (below >= share * total && below > 0) {
      if (i === 0) return 0;
      const exponent = Math.floor((i - 1) / binsPerStop) + lowestStop;
      return 2 ** exponent * (1 + (((i - 1) % binsPerStop) + 0.5) / binsPerStop);
    }
  }
  return 0;
}

/** The share of the finite samples from one value up to another, both above 0; exact where they are ends of bins, as eighths of an octave are. */
export function binShare({ bins }: Pick<ChannelStatistics, 'bins'>, from: number, to: number): number {
  const total = bins.reduce((n, b) => n + b, 0);
  let inside = 0;
  for (let i = binOf(from); i < binOf(to); i++) inside += bins[i]!;
  return total ? inside / total : 0;
}

/** Statistics of several channels or frames together. Code counts are of the one that had most. */
export function joinStatistics(all: readonly ChannelStatistics[]): ChannelStatistics {
  const total = (pick: (s: ChannelStatistics) => number) => all.reduce((n, s) => n + pick(s), 0);
  const bins = new Float64Array(binCount);
  for (const s of all) s.bins.forEach((b, i) => (bins[i]! += b));
  return {
    samples: total((s) => s.samples),
    nan: total((s) => s.nan),
    infinite: total((s) => s.infinite),
    positiveInfinite: total((s) => s.positiveInfinite),
    negative: total((s) => s.negative),
    beyondHalf: total((s) => s.beyondHalf),
    zero: total((s) => s.zero),
    aboveOne: total((s) => s.aboveOne),
    atOne: total((s) => s.atOne),
    minimum: Math.min(...all.map((s) => s.minimum)),
    maximum: Math.max(...all.map((s) => s.maximum)),
    sum: total((s) => s.sum),
    onCodes: total((s) => s.onCodes),
    codes: Math.max(0, ...all.map((s) => s.codes)),
    bins,
  };
}
