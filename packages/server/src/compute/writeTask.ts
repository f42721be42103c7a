import type { Plan } from '@june-haze/core';
import type { OutputSettings, Viewing } from '@june-haze/contract';
import { colourOf, type ColourPlace } from '../library/store.ts';
import type { Clipping } from './clipping.ts';
import type { FrameFiles } from './evaluateFrame.ts';

export interface WriteTask {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly workingSpace: string;
  readonly viewing: Viewing;
  readonly colour: ColourPlace;
  readonly rate: number;
  readonly settings: OutputSettings;
  readonly width: number;
  readonly height: number;
  readonly path: string;
  /** Where the three small proof pictures go: `FOLDER/shown.png`, `tagged.png`, `ignoring.png`. */
  readonly pictures: string | undefined;
}

/** A frame as it was evaluated. */
export interface WrittenFrame {
  readonly width: number;
  readonly height: number;
  /** What the viewer shows: RGBA8. */
  readonly shown: Uint8Array;
  /** The same as samples of 16 bits, red, green and blue, where the output asks for them. */
  readonly deep: Uint16Array | undefined;
  /** Red, green, blue, alpha: premultiplied, in the working space, then in the file's. */
  readonly total: Float32Array[];
  readonly hasAlpha: boolean;
  /** Pixels that the file cannot hold as they are; counted for frames whose pictures are kept. */
  readonly clipping: Clipping | undefined;
}

/** How the display's codes are tagged; those that say nothing are compared as sRGB codes. */
export function encodingOf(task: WriteTask): 'srgb' | 'bt1886' {
  const { display, view } = task.viewing;
  return colourOf(task.colour).displayEncoding(display, view) ?? 'srgb';
}
