import type { ToneSpline } from '../colour/acesTonescale.ts';
import type { Primaries } from '../colour/primaries.ts';
import type { GradingStyle, ToneValues } from './transform.ts';

/** Pieces a t² + b t + c from each knot on, and straight lines beyond the ends. */
export interface Spline {
  readonly knots: readonly number[];
  readonly a: readonly number[];
  readonly b: readonly number[];
  readonly c: readonly number[];
}

/** Curves of builtin styles that have no kernel. */
export type BuiltinCurveName =
  'acescc' | 'appleLog' | 'canonLog2' | 'canonLog3' | 'printingDensity' | 'hlg' | 'rollWhite';

/** Changes of one channel by itself that have no kernel. Plain data, so that steps can travel to workers. */
export type PlaneRecipe =
  | { readonly what: 'contrast'; readonly pivot: number; readonly power: number }
  | {
      readonly what: 'curve';
      readonly own: Spline | undefined;
      readonly master: Spline | undefined;
      readonly inverse: boolean;
    }
  | {
      readonly what: 'tone';
      readonly values: ToneValues;
      readonly style: GradingStyle;
      readonly channel: 0 | 1 | 2;
      readonly inverse: boolean;
    }
  | { readonly what: 'table'; readonly entries: Float32Array; readonly halfDomain: boolean; readonly inverse: boolean }
  /** Decodes to light, or encodes when inverse; `amount` is the new white of `rollWhite`. */
  | {
      readonly what: 'builtinCurve';
      readonly name: BuiltinCurveName;
      readonly inverse: boolean;
      readonly amount?: number;
    }
  /** x up to `join`, then bending smoothly towards `top`. */
  | { readonly what: 'shoulder'; readonly join: number; readonly top: number; readonly inverse: boolean }
  | { readonly what: 'undoTone'; readonly splines: readonly [ToneSpline, ToneSpline] };

/** Changes of whole colours that have no kernel. */
export type PixelRecipe =
  | {
      readonly what: 'function';
      readonly style: string;
      readonly parameters: readonly number[];
      readonly inverse: boolean;
    }
  | {
      readonly what: 'hueTable';
      readonly channels: readonly [Float32Array, Float32Array, Float32Array];
      readonly halfDomain: boolean;
      readonly inverse: boolean;
    }
  /** The ACES 2 rendering undone, for a display's peak (cd/m²) and limiting primaries. */
  | { readonly what: 'undoAces2'; readonly peak: number; readonly limiting: Primaries }
  | { readonly what: 'inverseCube'; readonly size: number; readonly values: Float32Array };
