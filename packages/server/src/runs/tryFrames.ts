import { randomUUID } from 'node:crypto';
import { rename, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { framePlace, type FramesAside } from '@june-haze/files';
import {
  extensionOf,
  fileOfFrame,
  filesOfFrame,
  holdsStraightAlpha,
  isOneFile,
  type ReadBack,
  type TriedFrame,
  type TryFrame,
} from '@june-haze/contract';
import type { AssembledFile } from '../compute/assembleFrames.ts';
import type { writeFrame } from '../compute/writeFrame.ts';
import type { RunRecipe } from '../database/tables.ts';
import type { RunPlaces } from './runPlaces.ts';

/** Where the pictures of the frame lie that was tried last, and the movie. */
export const triedFolder = ({ proofFolder }: Pick<RunPlaces, 'proofFolder'>, outputId: string): string =>
  join(proofFolder, 'tried', outputId);

/** Where what was tried and is one file is kept to be looked at. */
export const triedWhole = (folder: string, recipe: Pick<RunRecipe, 'settings'>): string =>
  join(folder, `whole.${extensionOf(recipe.settings)}`);

/** How runs write, for frames that are tried. */
interface Writers {
  /** What an output's files of some frames are made from. */
  recipe(range: { readonly firstFrame: number; readonly lastFrame: number; readonly step: number }): Promise<RunRecipe>;
  write(
    recipe: RunRecipe,
    frame: number,
    place: { readonly path: string; readonly files: readonly string[]; readonly pictures: string | undefined },
  ): ReturnType<typeof writeFrame>;
  assemble(
    recipe: RunRecipe,
    place: { readonly frames: FramesAside; readonly path: string; readonly pictures: string },
  ): Promise<AssembledFile>;
}

/**
 * Writes a frame aside as a run would, of what becomes one file some frames from it on, reads what was written back and throws it away; the pictures, and the
 * file to look at, stay until the next is tried.
 */
export async function tryFrames(writers: Writers, folder: string, { frame, count }: TryFrame): Promise<TriedFrame> {
  const recipe = await writers.recipe({ firstFrame: frame, lastFrame: frame + count - 1, step: 1 });
  // A place of its own: two windows may try the same frame.
  const own = join(folder, randomUUID());
  const place = (of: number) => join(own, basename(fileOfFrame(recipe, of)));
  const filesOf = (of: number) => filesOfFrame(recipe, of).map((f) => join(own, basename(f)));
  try {
    if (!isOneFile(recipe.settings)) {
      const done = await writers.write(recipe, frame, { path: place(frame), files: filesOf(frame), pictures: folder });
      const { milliseconds, bytes, readBack, clipping } = done;
      return { frame, count: 1, milliseconds, bytes, readBack: readBack!, clipping: clipping!, whole: null };
    }
    const frames = { folder: own, alpha: holdsStraightAlpha(recipe.settings) };
    const ends = await Promise.allSettled(
      Array.from({ length: count }, (_, i) => {
        const path = framePlace(frames, i);
        return writers.write(recipe, frame + i, { path, files: [path], pictures: i === 0 ? folder : undefined });
      }),
    );
    // All are over before their folder goes.
    const written = ends.map((end) => {
      if (end.status === 'rejected') throw end.reason;
      return end.value;
    });
    const put = await writers.assemble(recipe, { frames, path: place(frame), pictures: folder });
    const kept = triedWhole(folder, recipe);
    await rename(place(frame), kept);
    return {
      frame,
      count,
      milliseconds: written.reduce((n, w) => n + w.milliseconds, put.milliseconds),
      bytes: put.bytes,
      readBack: worstOf(put.readBacks),
      clipping: written[0]!.clipping!,
      whole: basename(kept),
    };
  } finally {
    await rm(own, { recursive: true, force: true });
  }
}

/** The proof that is furthest off: of those that fail, where one does. */
function worstOf(all: readonly ReadBack[]): ReadBack {
  const failed = all.filter((r) => !r.proved);
  return (failed.length ? failed : all).reduce((a, b) => (b.tagged.maxCode > a.tagged.maxCode ? b : a));
}
