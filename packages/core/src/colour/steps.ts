import type { ToneSpline } from './acesTonescale.ts';
import type { LogCurve, StraightAndPower } from './curves.ts';
import type { PixelRecipe, PlaneRecipe } from '../transform/recipes.ts';
import type { Primaries } from './primaries.ts';
import type { Matrix3, Vector3 } from './matrix.ts';

/** A step over one plane. */
export type PlaneStep =
  /** Mirrored: the curve on |x|, the sign kept; otherwise straight on below 0. */
  | { readonly kind: 'encode' | 'decode'; readonly curve: StraightAndPower; readonly mirrored?: boolean }
  /** x^exponent; what happens below 0: cut off at 0, kept as it is, or mirrored. */
  | { readonly kind: 'power'; readonly exponent: number; readonly negatives?: 'zero' | 'keep' | 'mirror' }
  | { readonly kind: 'encodeLog' | 'decodeLog'; readonly curve: LogCurve }
  | { readonly kind: 'encodePq' | 'decodePq' }
  | { readonly kind: 'clamp'; readonly low: number; readonly high: number }
  /** A table over 0 … 1, linear between entries, its ends held. */
  | { readonly kind: 'table'; readonly table: Float32Array }
  /** A step without a kernel, described so that it can travel; see transform/plain.ts. */
  | { readonly kind: 'plainPlane'; readonly recipe: PlaneRecipe };

/** One step of a colour processor, over three planes. */
export type ColourStep =
  | { readonly kind: 'matrix'; readonly matrix: Matrix3; readonly offset?: Vector3 }
  | PlaneStep
  | { readonly kind: 'channels'; readonly each: readonly [PlaneStep, PlaneStep, PlaneStep] }
  | {
      readonly kind: 'cube';
      readonly size: number;
      /** RGB triples, red fastest. */
      readonly values: Float32Array;
      readonly interpolation: 'linear' | 'tetrahedral';
    }
  | { readonly kind: 'acesGlowAndRed' }
  /** The ACES 2 rendering, forward: ACES2065-1 to light of the limiting primaries, 1 = 100 cd/m², for a display's peak in cd/m². */
  | { readonly kind: 'aces2'; readonly peak: number; readonly limiting: Primaries }
  /** Two tone scales, one after the other, on log10 of the value. */
  | { readonly kind: 'tone'; readonly splines: readonly [ToneSpline, ToneSpline] }
  | { readonly kind: 'surround'; readonly weights: Vector3; readonly exponent: number }
  | { readonly kind: 'plain'; readonly recipe: PixelRecipe };
