import type { Place } from '../config/place.ts';
import type { Matrix3, Vector3 } from '../colour/matrix.ts';

/** Which way a transform runs. */
export type Direction = 'forward' | 'inverse';
export const opposite = (d: Direction): Direction => (d === 'forward' ? 'inverse' : 'forward');
export const combine = (a: Direction, b: Direction): Direction => (a === b ? 'forward' : 'inverse');

export type Interpolation = 'nearest' | 'linear' | 'tetrahedral' | 'cubic' | 'best';
export type GradingStyle = 'log' | 'linear' | 'video';

/** Three channels and a master, as grading controls have them. */
export interface RgbMaster {
  readonly rgb: Vector3;
  readonly master: number;
}

/** One zone of the tone control. */
export interface ToneZone extends RgbMaster {
  readonly start: number;
  readonly width: number;
}

/** One curve: control points in the x,y plane and, where given, the slope at each. */
export interface GradingCurve {
  readonly points: readonly (readonly [number, number])[];
  readonly slopes: readonly number[] | undefined;
}

export interface PrimaryValues {
  readonly brightness: Vector3;
  readonly contrast: Vector3;
  readonly gamma: Vector3;
  readonly offset: Vector3;
  readonly exposure: Vector3;
  readonly lift: Vector3;
  readonly gain: Vector3;
  readonly saturation: number;
  readonly pivot: number;
  readonly pivotBlack: number;
  readonly pivotWhite: number;
  readonly clampBlack: number;
  readonly clampWhite: number;
}

export interface ToneValues {
  readonly blacks: ToneZone;
  readonly shadows: ToneZone;
  /** For midtones `start` is the centre. */
  readonly midtones: ToneZone;
  readonly highlights: ToneZone;
  readonly whites: ToneZone;
  readonly sContrast: number;
}

/** A table over 0 … 1 (or over the half floats by bit pattern), three channels planar; values are relative to 1. */
export interface Table1D {
  readonly channels: readonly [Float32Array, Float32Array, Float32Array];
  readonly halfDomain: boolean;
  readonly hueAdjust: boolean;
}

/** A cube of RGB triples over 0 … 1, red fastest: 3 · size³ floats. */
export interface Table3D {
  readonly size: number;
  readonly values: Float32Array;
}

type Shape =
  | { readonly type: 'matrix'; readonly matrix: Matrix3; readonly offset: Vector3 }
  | { readonly type: 'exponent'; readonly value: Vector3; readonly negatives: 'clamp' | 'mirror' | 'pass_thru' }
  | {
      readonly type: 'exponentWithLinear';
      readonly gamma: Vector3;
      readonly offset: Vector3;
      readonly negatives: 'linear' | 'mirror';
    }
  | {
      readonly type: 'log';
      readonly base: number;
      readonly linSlope: Vector3;
      readonly linOffset: Vector3;
      readonly logSlope: Vector3;
      readonly logOffset: Vector3;
      readonly linBreak?: Vector3 | undefined;
      readonly linearSlope?: Vector3 | undefined;
    }
  | {
      readonly type: 'range';
      readonly inLow?: number | undefined;
      readonly inHigh?: number | undefined;
      readonly outLow?: number | undefined;
      readonly outHigh?: number | undefined;
      readonly clamp: boolean;
    }
  | {
      readonly type: 'cdl';
      readonly slope: Vector3;
      readonly offset: Vector3;
      readonly power: Vector3;
      readonly saturation: number;
      readonly clamp: boolean;
      /** Version 1 configs: a power other than 1 cuts off what is below 0. */
      readonly powerCutsNegatives?: boolean;
    }
  | { readonly type: 'allocation'; readonly allocation: 'uniform' | 'lg2'; readonly variables: readonly number[] }
  | { readonly type: 'lut1d'; readonly table: Table1D }
  | { readonly type: 'lut3d'; readonly table: Table3D; readonly interpolation: Interpolation | undefined }
  | { readonly type: 'group'; readonly children: readonly Transform[] }
  | {
      readonly type: 'file';
      readonly source: string;
      readonly correction: string | undefined;
      readonly cdlClamp: boolean;
      readonly interpolation: Interpolation | undefined;
    }
  | { readonly type: 'space'; readonly from: string; readonly to: string; readonly dataBypass: boolean }
  | {
      readonly type: 'look';
      readonly from: string;
      readonly to: string;
      readonly looks: string;
    }
  | {
      readonly type: 'displayView';
      readonly from: string;
      readonly display: string;
      readonly view: string;
      readonly looksBypass: boolean;
      readonly dataBypass: boolean;
    }
  | { readonly type: 'fixedFunction'; readonly style: string; readonly parameters: readonly number[] }
  | {
      readonly type: 'exposureContrast';
      readonly style: 'linear' | 'video' | 'log';
      readonly exposure: number;
      readonly contrast: number;
      readonly gamma: number;
      readonly pivot: number;
      readonly logExposureStep: number;
      readonly logMidGrey: number;
    }
  | { readonly type: 'gradingPrimary'; readonly style: GradingStyle; readonly values: PrimaryValues }
  | {
      readonly type: 'gradingCurve';
      readonly style: GradingStyle;
      /** Leaves out the conversion to log around the curves (style linear only). */
      readonly bypassLog: boolean;
      readonly curves: readonly [GradingCurve, GradingCurve, GradingCurve, GradingCurve];
    }
  | { readonly type: 'gradingTone'; readonly style: GradingStyle; readonly values: ToneValues }
  | { readonly type: 'builtin'; readonly style: string };

/** One transform of a config or LUT file, as written: names are not resolved and nothing is compiled. */
export type Transform = Shape & { readonly direction: Direction; readonly place?: Place };
export type TransformType = Shape['type'];
export type TransformOf<T extends TransformType> = Extract<Transform, { type: T }>;
