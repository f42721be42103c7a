import { filesOfFrame } from '@june-haze/contract';
import type { RunRecipe, WrittenFile } from '../database/tables.ts';

interface WrittenFrameRow {
  readonly frame: number;
  readonly written: WrittenFile | null;
}

/** Files that runs wrote, and what they were then. */
export type KnownFile = { readonly file: string } & Omit<WrittenFile, 'others'>;

/** All files of some frames of a run as they were when they were written. */
export const knownFiles = (recipe: RunRecipe, frames: readonly WrittenFrameRow[]): KnownFile[] =>
  frames.flatMap(({ frame, written }) => {
    const { others = [], ...first } = written!;
    const states = [first, ...others];
    return filesOfFrame(recipe, frame).flatMap((file, i) => (states[i] ? [{ file, ...states[i] }] : []));
  });
