import type { LinearFit } from '../chart/solve.ts';
import { diagonal3, type Vector3 } from '../colour/matrix.ts';
import type { Window } from '../image/level.ts';
import type { Adjustment } from '../ledger/document.ts';
import type { LightPicture } from './pictures.ts';

/** What was read off a patch that shall be grey, in linear light. */
export interface PatchMean {
  readonly mean: Vector3;
  /** Pixels that count, and the share of all that were left out: dirt, edges, glints. */
  readonly count: number;
  readonly rejected: number;
  /** The standard deviation of brightness beside its mean: grain, or a patch that is not even. */
  readonly noise: number;
}

/** Pixels farther from the median than this many deviations are left out; a deviation is 1.4826 times the median one (Rousseeuw and Croux, 1993). */
const [farDeviations, ofMedian] = [3, 1.4826];
/** What lies within this share of the median is never left out: a patch without noise has no deviation. */
const nearMedian = 0.02;

/** The mean of a region without outliers, by brightness. Throws a RangeError for a region without pixels. */
export function patchMean({ width, height, planes }: LightPicture, region: Window, weights: Vector3): PatchMean {
  const inside: number[] = [];
  const right = Math.min(width, region.x + region.width);
  const bottom = Math.min(height, region.y + region.height);
  for (let y = Math.max(0, region.y); y < bottom; y++)
    for (let x = Math.max(0, region.x); x < right; x++) {
      const at = y * width + x;
      if (planes.every((p) => Number.isFinite(p[at]!))) inside.push(at);
    }
  const light = (at: number) => weights[0] * planes[0][at]! + weights[1] * planes[1][at]! + weights[2] * planes[2][at]!;
  if (!inside.length) throw new RangeError('There are no pixels in this region: mark one in the picture.');
  const middle = median(inside.map(light));
  const deviation = ofMedian * median(inside.map((at) => Math.abs(light(at) - middle)));
  const limit = Math.max(farDeviations * deviation, nearMedian * Math.abs(middle));
  const kept = inside.filter((at) => Math.abs(light(at) - middle) <= limit);
  const mean = [0, 1, 2].map((c) => kept.reduce((n, at) => n + planes[c]![at]!, 0) / kept.length) as unknown as Vector3;
  const brightness = kept.reduce((n, at) => n + light(at), 0) / kept.length;
  const spread = Math.sqrt(kept.reduce((n, at) => n + (light(at) - brightness) ** 2, 0) / kept.length);
  return {
    mean,
    count: kept.length,
    rejected: 1 - kept.length / inside.length,
    noise: brightness > 0 ? spread / brightness : 0,
  };
}

function median(values: number[]): number {
  const sorted = values.sort((a, b) => a - b);
  const half = sorted.length / 2;
  return sorted.length % 2 ? sorted[Math.floor(half)]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** How a light's colour is taken out: by cone responses, or by plain gains of the working space's channels. */
export const neutralisingWays = ['bradford', 'cat02', 'gains'] as const;
export type NeutralisingWay = (typeof neutralisingWays)[number];

/** What a card is meant to be, in linear light. Half of an encoded sRGB picture is 0.214 (IEC 61966-2-1, clause 5.2). */
export const greyTargets = [
  { value: 0.18, label: '0.18, a grey card' },
  { value: 0.5, label: '0.5 of linear light' },
  { value: ((0.5 + 0.055) / 1.055) ** 2.4, label: '0.5 of an encoded picture, 0.214' },
] as const;

/** The adjustments, in the working space, after which a patch of a mean is grey and as bright as it is meant to be. `weights` are luminance's. Throws a RangeError for a patch without light. */
export function neutralising(mean: Vector3, target: number, way: NeutralisingWay, weights: Vector3): Adjustment[] {
  const brightness = weights[0] * mean[0] + weights[1] * mean[1] + weights[2] * mean[2];
  if (!(brightness > 0)) throw new RangeError('There is no light in this region: mark the grey in the picture.');
  const stops = Math.log2(target / brightness);
  const balance =
    way === 'gains'
      ? { kind: 'gain', master: 1, red: brightness / mean[0], green: brightness / mean[1], blue: brightness / mean[2] }
      : { kind: 'whiteBalance', picked: [...mean], method: way };
  return [
    { enabled: true, ...balance },
    { enabled: true, kind: 'exposure', stops },
  ] as Adjustment[];
}

/**
 * Gains and offsets of the channels, in linear light, that bring a measured black and a measured white to what they are meant to be, both grey.
 * Throws a RangeError where a channel's white is not above its black.
 */
export function blackAndWhite(
  black: Vector3,
  white: Vector3,
  to: { readonly black: number; readonly white: number },
): LinearFit {
  if (white.some((w, c) => !(w > black[c]!)) || !(to.white > to.black))
    throw new RangeError('The white must be brighter than the black in every channel: mark them again.');
  const gains = white.map((w, c) => (to.white - to.black) / (w - black[c]!));
  return {
    matrix: diagonal3(gains[0]!, gains[1]!, gains[2]!),
    offset: gains.map((g, c) => to.black - g * black[c]!) as unknown as Vector3,
  };
}
