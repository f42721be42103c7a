import type { CodeEncoding } from '../colour/displayCodes.ts';
import { deltaEOfCodes } from './ciede2000.ts';

/** How a difference is drawn: each channel's codes times something, or bands of the pixel's largest code difference or of its CIEDE2000. */
export type DifferenceWay =
  { readonly kind: 'times'; readonly times: number } | { readonly kind: 'codes' } | { readonly kind: 'deltaE' };

/** A band of a heat map: from `from` up to the next one's. */
export interface HeatBand {
  readonly from: number;
  readonly colour: readonly [number, number, number];
}

/**
 * Colours of heat maps (ours): each lighter than the one before, so that they can be told without hue; the first is for what does not differ.
 */
const colours = [
  [28, 28, 28],
  [46, 52, 96],
  [70, 82, 150],
  [62, 124, 158],
  [84, 164, 140],
  [164, 196, 110],
  [232, 214, 132],
  [252, 244, 220],
] as const;

const bandsFrom = (from: readonly number[]): readonly HeatBand[] =>
  from.map((f, i) => ({ from: f, colour: colours[i]! }));

/** Bands of code differences on the 8-bit scale. */
export const codeBands = bandsFrom([0, 1, 2, 3, 5, 9, 17, 33]);
/** Bands of CIEDE2000; under 1 nobody sees a difference, about 2.3 is the least that most people see (common practice, no source). */
export const deltaEBands = bandsFrom([0, 0.25, 0.5, 1, 2, 4, 8, 16]);

/** The band that a value falls in. */
export function bandOf(bands: readonly HeatBand[], value: number): number {
  let band = bands.length - 1;
  while (band > 0 && value < bands[band]!.from) band--;
  return band;
}

/**
 * Draws the difference of two RGBA8 pictures of one display and size into a third, opaque.
 */
export function drawDifference(
  a: Uint8Array,
  b: Uint8Array,
  to: Uint8Array,
  way: DifferenceWay,
  encoding: CodeEncoding,
): void {
  if (way.kind === 'times') return drawTimes(a, b, to, way.times);
  const [bands, measure] =
    way.kind === 'codes'
      ? [codeBands, (i: number) => largestOf(a, b, i)]
      : [deltaEBands, (i: number) => (largestOf(a, b, i) === 0 ? 0 : deltaEOfCodes(a, b, i, encoding))];
  for (let i = 0; i < a.length; i += 4) {
    const { colour } = bands[bandOf(bands, measure(i))]!;
    to[i] = colour[0];
    to[i + 1] = colour[1];
    to[i + 2] = colour[2];
    to[i + 3] = 255;
  }
}

const largestOf = (a: Uint8Array, b: Uint8Array, i: number) =>
  Math.max(Math.abs(a[i]! - b[i]!), Math.abs(a[i + 1]! - b[i + 1]!), Math.abs(a[i + 2]! - b[i + 2]!));

function drawTimes(a: Uint8Array, b: Uint8Array, to: Uint8Array, times: number): void {
  for (let i = 0; i < a.length; i += 4) {
    for (let c = i; c < i + 3; c++) to[c] = Math.min(255, Math.abs(a[c]! - b[c]!) * times);
    to[i + 3] = 255;
  }
}
