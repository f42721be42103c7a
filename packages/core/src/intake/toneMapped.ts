import { binShare, type ChannelStatistics } from './statistics.ts';

/** How numbers lie just below 1, where tone curves end. */
export interface TopTraits {
  /** The largest number of the channel whose largest is least. */
  readonly leastTop: number;
  /** Shares of the samples in four steps of a sixteenth down from 1; the first holds 1 itself. */
  readonly steps: readonly [number, number, number, number];
}

export function topTraits(channels: readonly ChannelStatistics[], all: ChannelStatistics): TopTraits {
  const step = (n: number) => binShare(all, 1 - (n + 1) / 16, 1 - n / 16);
  return {
    leastTop: Math.min(...channels.map((c) => c.maximum)),
    steps: [step(0) + binShare(all, 1, 1.125), step(1), step(2), step(3)],
  };
}

// Our judgement, tried on linear frames, on the same scaled to end at 1, and through a dozen views (common practice, no source).
/** Tone curves end near 1, and all channels near to each other: bright colours turn white. */
const [leastOfAll, leastOfChannel] = [0.955, 0.7];
/** Light grows rarer the brighter it is; where a curve presses it together it grows more frequent, so many times. A white wall is no crowd. */
const [risesBy, leastCrowd, mostCrowd] = [1.15, 1e-3, 0.12];

/**
 * Whether float numbers look like light that went through a tone curve, a camera's LUT or a clip: nothing above a top near 1, which all channels
 * nearly reach, and a crowd just below it.
 */
export function looksToneMapped(maximum: number, { leastTop, steps }: TopTraits): boolean {
  const [first, second, third, fourth] = steps;
  return (
    maximum >= leastOfAll &&
    maximum <= 1.0005 &&
    leastTop >= leastOfChannel * maximum &&
    first >= leastCrowd &&
    first + second <= mostCrowd &&
    (first > risesBy * second || first + second > risesBy * (third + fourth))
  );
}
