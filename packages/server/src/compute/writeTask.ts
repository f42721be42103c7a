import type { CodeEncoding, Plan, ShotColour } from '@june-haze/core';
import { holdsPictures, type OutputSettings, type Viewing } from '@june-haze/contract';
import { colourOf, type ColourPlace } from '../library/store.ts';
import type { Clipping } from './clipping.ts';
import type { FrameFiles } from './evaluateFrame.ts';
import type { PassesToWrite } from './passesToWrite.ts';

export interface WriteTask {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly workingSpace: string;
  readonly viewing: Viewing;
  readonly colour: ColourPlace;
  readonly rate: number;
  /** Its time code as a count of frames, for files that can say it. */
  readonly timecode: number;
  /** The frame's number in the shot: chance hangs on it. */
  readonly seed: number;
  readonly settings: OutputSettings;
  readonly width: number;
  readonly height: number;
  readonly path: string;
  /** Of an output of passes: what is written, and where; `path` is the first file. */
  readonly passes?: PassesToWrite;
  /** Where the three small proof pictures go: `FOLDER/shown.png`, `tagged.png`, `ignoring.png`. */
  readonly pictures: string | undefined;
}

/** A task on the thread that does it: its colours opened. */
export type OpenedTask = Omit<WriteTask, 'colour'> & { readonly colour: ShotColour };

/** Opens a task's colours. */
export const opened = <T extends Pick<WriteTask, 'colour'>>(task: T): Omit<T, 'colour'> & { colour: ShotColour } => ({
  ...task,
  colour: colourOf(task.colour),
});

/** What a written frame is held against what was shown with. */
export type ProofTask = Pick<
  OpenedTask,
  'workingSpace' | 'viewing' | 'colour' | 'settings' | 'width' | 'height' | 'path' | 'pictures'
>;

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

/** What the codes of a task's pictures are: the output's own choice, or the display's; a display that says nothing is compared as sRGB. */
export const encodingOf = (task: Pick<OpenedTask, 'viewing' | 'colour' | 'settings'>): CodeEncoding =>
  (holdsPictures(task.settings) ? task.settings.codes : null) ?? displayEncodingOf(task);

/** What the display's codes are. */
export function displayEncodingOf({ viewing, colour }: Pick<OpenedTask, 'viewing' | 'colour'>): CodeEncoding {
  return colour.displayEncoding(viewing.display, viewing.view) ?? 'srgb';
}
