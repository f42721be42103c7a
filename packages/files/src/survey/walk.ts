import { readdir, realpath, stat } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { findSequences, type FrameSequence } from '@june-haze/core';
import { kindOfName } from '../formats/kind.ts';

/** Names that programs give to what is not finished or not meant to be seen. Common practice, no source. */
const passedOver =
  /^[.~]|~$|\.(tmp|temp|part|partial|bak|lock|crdownload)$|^(tmp|temp)[._-]|[._-](tmp|temp|part)\.[^.]+$/i;

/** Whether a name is one that is looked at: not hidden, not temporary. */
export const isShown = (name: string): boolean => !passedOver.test(name);

/** No deeper than this: links may go round. */
const deepest = 24;

export interface WalkLimits {
  /** How many names are read before folders further down are left out. */
  readonly most?: number;
  /** 1 is the folder alone. */
  readonly depth?: number;
}

/**
 * Finds the sequences, stills and movies of a folder and the folders in it, by their names alone. Patterns are relative to `root`, with
 * forward slashes. Links that lead out of it are not followed; each folder is read once however many links lead to it.
 */
export async function walkFolder(
  root: string,
  { most = Infinity, depth: deep = deepest }: WalkLimits = {},
): Promise<{ sequences: FrameSequence[]; cut: boolean }> {
  const top = await realpath(root);
  const seen = new Set<string>();
  const found: FrameSequence[] = [];
  let names = 0;
  let cut = false;
  const enter = async (relative: string, depth: number): Promise<void> => {
    const real = await realpath(join(top, relative)).catch(() => undefined);
    if (real === undefined || !isInside(real, top) || seen.has(real) || depth >= deepest) return;
    if (depth >= deep || (depth > 0 && names > most)) {
      cut = true;
      return;
    }
    seen.add(real);
    const entries = await readdir(real, { withFileTypes: true }).catch(() => []);
    names += entries.length;
    const files: string[] = [];
    const folders: string[] = [];
    for (const entry of entries) {
      if (!isShown(entry.name)) continue;
      const kind = entry.isSymbolicLink() ? await whatIsLinked(join(real, entry.name), top) : entry;
      if (kind?.isDirectory()) folders.push(entry.name);
      else if (kind?.isFile() && kindOfName(entry.name)) files.push(entry.name);
    }
    const prefix = relative === '' ? '' : `${relative}/`;
    for (const s of sequencesOf(files)) found.push({ ...s, pattern: prefix + s.pattern });
    for (const folder of folders.sort()) await enter(prefix + folder, depth + 1);
  };
  await enter('', 0);
  return { sequences: found, cut };
}

/** Movies are never numbered frames. */
export function sequencesOf(files: readonly string[]): FrameSequence[] {
  const movies = files.filter((f) => kindOfName(f) === 'movie');
  return [
    ...findSequences(files.filter((f) => kindOfName(f) !== 'movie')),
    ...movies.map((pattern) => ({ pattern, padding: 0, frames: [], missing: [], step: 1 })),
  ];
}

const isInside = (path: string, top: string) => path === top || path.startsWith(top === sep ? sep : top + sep);

async function whatIsLinked(path: string, top: string) {
  const real = await realpath(path).catch(() => undefined);
  return real !== undefined && isInside(real, top) ? stat(real).catch(() => undefined) : undefined;
}
