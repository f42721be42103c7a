import type { ColourKey, Plan, RowStatistics, Size, ViewChoice } from '@june-haze/core';

/** What the main thread asks of a picture worker, and what it answers. Pixels travel as transferred buffers. */
export type ChannelChoice = 'colour' | 'red' | 'green' | 'blue' | 'alpha' | 'luminance';

export interface PictureRequest {
  readonly plan: Plan;
  readonly workingSpace: string;
  readonly viewing: ViewChoice;
  readonly colour: ColourKey;
  readonly channel: ChannelChoice;
  /** 'total' is the picture, 'difference' the amplified distance from the beauty. */
  readonly show: 'total' | 'difference';
  readonly frame: number;
  /** Source id to the frame its file carries (stills have one only). */
  readonly sourceFrames: Readonly<Record<string, number>>;
  /** Source id to a mark that is another whenever its pixels may be. */
  readonly stamps: Readonly<Record<string, string>>;
  readonly level: number;
  /** The shot's size, which every pass must have. */
  readonly size: Size;
  /** Size at the level. */
  readonly width: number;
  readonly height: number;
}

export interface ToWorker {
  readonly id: number;
  readonly kind: 'picture' | 'probe' | 'count';
  readonly request: PictureRequest;
  /** Rows of the level this worker answers for, end excluded. */
  readonly top: number;
  readonly end: number;
  /** Probe only: column, with the row as `top`. */
  readonly x?: number;
}

export interface ProbeAnswer {
  /** The beauty's or first input's own numbers, in its declared space, and whose they are; undefined for a ledger without passes. */
  readonly declared: { readonly sourceId: string; readonly values: readonly [number, number, number] } | undefined;
  readonly working: readonly [number, number, number, number];
  readonly codes: readonly [number, number, number];
}

export type FromWorker =
  | {
      readonly id: number;
      readonly kind: 'picture';
      readonly rgba: ArrayBuffer;
      readonly top: number;
      /** Pixels that the viewing look cuts off; absent without such a look. */
      readonly clipped?: number;
    }
  | { readonly id: number; readonly kind: 'count'; readonly statistics: RowStatistics }
  | { readonly id: number; readonly kind: 'probe'; readonly probe: ProbeAnswer }
  | { readonly id: number; readonly kind: 'error'; readonly message: string };

export interface PictureResult {
  readonly milliseconds: number;
  /** Share of pixels that the viewing look cuts off; undefined without such a look. */
  readonly clipped: number | undefined;
}
