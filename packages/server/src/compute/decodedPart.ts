import type { Size, Window } from '@june-haze/core';

/** A part decoded whole over the display window, in shared memory: one decoding serves every pass and every thread. */
export interface DecodedPart {
  /** How often the planes are halved already. */
  readonly level: number;
  readonly width: number;
  readonly height: number;
  /** Of the whole picture, before any halving. */
  readonly size: Size;
  /** Where the file has data, in pixels of the planes: outside it is nothing. */
  readonly data: Window;
  readonly planes: Readonly<Record<string, SharedPlane>>;
  readonly missing: readonly (readonly [number, number])[];
}
export type SharedPlane =
  Uint16Array<SharedArrayBuffer> | Float32Array<SharedArrayBuffer> | Uint32Array<SharedArrayBuffer>;
