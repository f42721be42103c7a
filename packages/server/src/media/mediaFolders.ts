import { readdir, realpath } from 'node:fs/promises';
import { basename, join, relative, resolve, sep } from 'node:path';
import { findPassSets, findSequences, nameOfFrame, type FrameSequence, type PassSet } from '@june-haze/core';
import type { MediaFolder } from '@june-haze/contract';
import { RequestError } from '../errors.ts';

/**
 * The folders named at start, browsed read-only. Outside, a place is written `ROOT/inner/folder`, where ROOT is the last part
 * of a named folder's path. Every path is resolved, links included, and must stay inside.
 */
export class MediaFolders {
  private readonly roots: ReadonlyMap<string, string>;

  constructor(paths: readonly string[]) {
    const roots = new Map<string, string>();
    for (const path of paths) {
      let name = basename(resolve(path));
      while (roots.has(name)) name += '_';
      roots.set(name, resolve(path));
    }
    this.roots = roots;
  }

  /** The real path of a place. Throws a RequestError when it is not there or leads outside. */
  async locate(place: string): Promise<string> {
    const [rootName, ...inner] = place.split('/').filter((p) => p !== '');
    const root = rootName === undefined ? undefined : this.roots.get(rootName);
    if (!root || inner.includes('..') || place.includes('\0')) {
      throw new RequestError(400, `"${place}" is not inside the media folders.`);
    }
    let real: string;
    let realRoot: string;
    try {
      [real, realRoot] = await Promise.all([realpath(join(root, ...inner)), realpath(root)]);
    } catch {
      throw new RequestError(404, `"${place}" is not there any more.`);
    }
    if (real !== realRoot && !real.startsWith(realRoot + sep)) {
      throw new RequestError(400, `"${place}" leads outside the media folders through a link.`);
    }
    return real;
  }

  /** The path of one frame's file. */
  async frameFile(folder: string, pattern: string, frame: number): Promise<string> {
    if (/[/\\\0]/.test(pattern) || pattern.startsWith('..'))
      throw new RequestError(400, `"${pattern}" is not a file name.`);
    return this.locate(`${folder}/${nameOfFrame(pattern, frame)}`);
  }

  async list(place: string): Promise<MediaFolder> {
    if (place === '') {
      return { folder: '', parent: null, folders: [...this.roots.keys()], sequences: [] };
    }
    const path = await this.locate(place);
    const entries = await readdir(path, { withFileTypes: true });
    const shown = entries.filter((e) => !e.name.startsWith('.'));
    const files = shown.filter((e) => e.isFile() && /\.exr$/i.test(e.name)).map((e) => e.name);
    const up = relative('/', join('/', place, '..'));
    return {
      folder: place,
      parent: up,
      folders: shown
        .filter((e) => e.isDirectory())
        .map((e) => `${place}/${e.name}`)
        .sort(),
      sequences: withSets(findSequences(files)),
    };
  }

  /** The sequence with this pattern in a folder, found anew on disk. */
  async sequence(folder: string, pattern: string): Promise<FrameSequence> {
    const names = (await readdir(await this.locate(folder))).filter((n) => !n.startsWith('.'));
    const found = findSequences(names).find((s) => s.pattern === pattern);
    if (!found) throw new RequestError(404, `${pattern} is not in ${folder}.`);
    return found;
  }

  /** The sequences of a set of one file per pass, by pass, found anew on disk. */
  async passSet(folder: string, pattern: string): Promise<PassSet> {
    const names = (await readdir(await this.locate(folder))).filter((n) => !n.startsWith('.') && /\.exr$/i.test(n));
    const found = findPassSets(findSequences(names)).find((s) => s.pattern === pattern);
    if (!found) throw new RequestError(404, `${pattern} is not in ${folder}.`);
    return found;
  }
}

/** Sequences as they are listed: sets of one file per pass first, then every sequence by itself. */
function withSets(sequences: readonly FrameSequence[]): MediaFolder['sequences'] {
  const sets = findPassSets(sequences).map(({ pattern, members }) => {
    const alone = members.map((m) => describe(m.sequence));
    return {
      pattern,
      firstFrame: Math.min(...alone.map((s) => s.firstFrame)),
      lastFrame: Math.max(...alone.map((s) => s.lastFrame)),
      count: Math.max(...alone.map((s) => s.count)),
      missing: Math.max(...alone.map((s) => s.missing)),
      passes: members.length,
    };
  });
  return [...sets, ...sequences.map(describe)];
}

function describe(s: FrameSequence) {
  return {
    pattern: s.pattern,
    firstFrame: s.frames[0] ?? 0,
    lastFrame: s.frames.at(-1) ?? 0,
    count: Math.max(1, s.frames.length),
    missing: s.missing.length,
    passes: 0,
  };
}
