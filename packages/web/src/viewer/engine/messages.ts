import type {
  CodeEncoding,
  ColourKey,
  DifferenceCounts,
  DifferenceWay,
  Inspection,
  NodeKeys,
  Plan,
  Plane,
  RowStatistics,
  ScopeCounts,
  ScopesWanted,
  Showing,
  Size,
  WarningKind,
  WholePicture,
  Window,
} from '@june-haze/core';

import type { Plans } from './plans.ts';

/** What the page asks of picture workers, and what they answer. Planes and pictures lie in memory that all share, where a page may have such. */
export interface PictureRequest {
  readonly plans: Plans;
  readonly workingSpace: string;
  readonly showing: Showing;
  readonly colour: ColourKey;
  readonly inspection: Inspection;
  /** Pixels that are marked. */
  readonly warn: readonly WarningKind[];
  /** What is counted of it for scopes, `region` in pixels of the whole picture. */
  readonly scopes?: ScopesWanted | undefined;
  /** 'total' is the picture, 'difference' the amplified distance from the beauty. */
  readonly show: 'total' | 'difference';
  readonly frame: number;
  /** Source id to the frame its file carries (stills have one only). */
  readonly sourceFrames: Readonly<Record<string, number>>;
  /** Source id to a mark that is another whenever its pixels may be. */
  readonly stamps: Readonly<Record<string, string>>;
  readonly level: number;
  /** The shot's size. */
  readonly size: Size;
  /** Size at the level. */
  readonly width: number;
  readonly height: number;
  /** The part that is seen, in pixels of the level: where pixels hang on themselves alone no more is made. */
  readonly window?: Window | undefined;
}

/** Where the planes of a plan's input are, by their keys. */
export interface InputPlaces {
  readonly colour: readonly [string, string, string];
  readonly alpha?: string;
  readonly window: Window;
  readonly data: Window;
}

/** A picture to be made: all that workers must know of it but the planes, which they hold. */
/** `width` and `height` are of what is made: the window, where there is one. */
export interface PictureJob extends Omit<PictureRequest, 'plans' | 'frame' | 'sourceFrames' | 'stamps' | 'size'> {
  readonly plan: Plan;
  /** Tells one picture from another. */
  readonly number: number;
  readonly keys: readonly NodeKeys[];
  readonly inputs: readonly InputPlaces[];
  /** What nodes look at that look at the whole picture. */
  readonly whole: ReadonlyMap<number, WholePicture>;
}

/** How a picture's rows are handed out: whoever comes first takes a block, its own share before the others'. */
export interface Share {
  /** Rows of a block. */
  readonly rows: number;
  readonly worker: number;
  readonly workers: number;
  /** Shared: [1 when nobody wants the picture any more, then 1 for each block that is taken]. Without it each worker makes its own share. */
  readonly claims: Int32Array | undefined;
}

export type Task =
  | { readonly kind: 'picture'; readonly job: PictureJob; readonly share: Share; readonly rgba: Uint8Array | undefined }
  /** Adds up what a node looks at, into planes that all share, or, where there are none, all of it. */
  | {
      readonly kind: 'gather';
      readonly job: PictureJob;
      readonly share: Share;
      readonly node: number;
      readonly into: WholePicture;
    }
  /** Makes of what was gathered what the node looks at. */
  | { readonly kind: 'complete'; readonly job: PictureJob; readonly node: number; readonly into: WholePicture }
  | { readonly kind: 'count'; readonly job: PictureJob; readonly top: number; readonly end: number }
  | CompareTask
  | { readonly kind: 'probe'; readonly job: PictureJob; readonly region: Window }
  /** A picture's numbers themselves, in the working space; `shown`: its codes, through the viewing. */
  | { readonly kind: 'sample'; readonly job: PictureJob; readonly shown: boolean };

/** Rows of two finished pictures, to be drawn as their difference or counted. */
export interface CompareTask {
  readonly kind: 'compare';
  readonly a: Uint8Array;
  readonly b: Uint8Array;
  readonly width: number;
  readonly encoding: CodeEncoding;
  /** How they are drawn; left out, they are not. */
  readonly way?: DifferenceWay | undefined;
  /** Which of their pixels are counted; left out, none. */
  readonly region?: Window | undefined;
}

export type ToWorker =
  | { readonly kind: 'hold'; readonly planes: readonly (readonly [key: string, plane: Plane])[] }
  | { readonly kind: 'drop'; readonly keys: readonly string[] }
  | (Task & { readonly id: number });

export interface ProbeAnswer {
  /** The beauty's or first input's own numbers, in its declared space, and whose they are; undefined for a ledger without passes. */
  readonly declared: { readonly sourceId: string; readonly values: readonly [number, number, number] } | undefined;
  readonly working: readonly [number, number, number, number];
  readonly codes: readonly [number, number, number];
  /** How many pixels these are the means of. */
  readonly pixels: number;
}

export type Answer =
  | {
      readonly kind: 'picture';
      /** The blocks that were made, where memory is not shared. */
      readonly blocks: readonly { readonly top: number; readonly rgba: Uint8Array }[];
      /** Pixels that the viewing look cuts off; absent without such a look. */
      readonly clipped?: number;
      /** Pixels with each warning, in the order of their kinds, of those that were asked for. */
      readonly warned: readonly number[];
      readonly scopes?: ScopeCounts;
      /** What the worker keeps, in bytes. */
      readonly keptBytes: number;
    }
  | { readonly kind: 'gather'; readonly into: WholePicture }
  | { readonly kind: 'complete'; readonly into: WholePicture }
  | { readonly kind: 'count'; readonly statistics: RowStatistics }
  | { readonly kind: 'probe'; readonly probe: ProbeAnswer }
  | { readonly kind: 'sample'; readonly sample: SampleAnswer }
  | { readonly kind: 'compare'; readonly rgba?: Uint8Array; readonly counts?: DifferenceCounts }
  | { readonly kind: 'error'; readonly message: string };

export type FromWorker = Answer & { readonly id: number };

/** A whole picture at a coarse level: its numbers (red, green, blue and alpha, premultiplied), or its codes. */
export interface SampleAnswer extends Size {
  readonly planes: readonly Float32Array<ArrayBuffer>[];
  readonly rgba?: Uint8ClampedArray<ArrayBuffer>;
}

export interface PictureResult {
  readonly milliseconds: number;
  /** Share of pixels that the viewing look cuts off; undefined without such a look. */
  readonly clipped: number | undefined;
  /** Share of pixels with each warning, in the order of their kinds. */
  readonly warned: readonly number[];
  readonly scopes: ScopeCounts | undefined;
  /** The level that it was made at. */
  readonly level: number;
}
