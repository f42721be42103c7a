import { readdir, realpath } from 'node:fs/promises';
import { basename, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { findMaterial, framesOf, gatherMaterial, nameOfFrame, type Material } from '@june-haze/core';
import { isShown, kindOfName, walkFolder } from '@june-haze/files';
import type { MediaFolder } from '@june-haze/contract';
import { RequestError } from '../errors.ts';

/**
 * The folders named at start, browsed read-only. Outside, a place is written `ROOT/inner/folder`, where ROOT is the last part
 * of a named folder's path. Every path is resolved, links included, and must stay inside.
 */
export class MediaFolders {
  private readonly roots: ReadonlyMap<string, string>;
  private readonly walk: Walker;

  /** `walk` walks a folder; on a worker thread where there are some: twenty thousand names take a while to sort out. */
  constructor(paths: readonly string[], walk: Walker = walkForMaterial) {
    this.walk = walk;
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

  /** What a folder is called outside; undefined for one that is not inside the named folders. */
  async placeOf(path: string): Promise<string | undefined> {
    const real = await realpath(path).catch(() => undefined);
    if (real === undefined) return undefined;
    for (const [name, root] of this.roots) {
      const inner = relative(await realpath(root).catch(() => root), real);
      if (inner === '') return name;
      if (!inner.startsWith('..') && !isAbsolute(inner)) return `${name}/${inner.split(sep).join('/')}`;
    }
    return undefined;
  }

  /** The path of one frame's file. */
  async frameFile(folder: string, pattern: string, frame: number): Promise<string> {
    if (/[\\\0]/.test(pattern) || pattern.split('/').includes('..') || pattern.startsWith('/'))
      throw new RequestError(400, `"${pattern}" is not a file name.`);
    return this.locate(`${folder}/${nameOfFrame(pattern, frame)}`);
  }

  /** What lies in a folder and, where that is not too much, in the folders below it. */
  async list(place: string): Promise<MediaFolder> {
    if (place === '') {
      return { folder: '', parent: null, folders: [...this.roots.keys()], sequences: [], more: false };
    }
    const path = await this.locate(place);
    const entries = await readdir(path, { withFileTypes: true });
    const { materials, cut } = await this.walk({ path, most: listedFiles, depth: listedDepth });
    return {
      folder: place,
      parent: relative('/', join('/', place, '..')),
      folders: entries
        .filter((e) => e.isDirectory() && isShown(e.name))
        .map((e) => `${place}/${e.name}`)
        .sort(),
      sequences: materials.map((m) => describe(m, materials)),
      more: cut,
    };
  }

  /** The material with this pattern in a folder, found anew on disk. */
  async material(folder: string, pattern: string): Promise<Material> {
    const [found] = await this.materials(folder, [pattern]);
    if (!found) throw new RequestError(404, `${pattern} is not in ${folder}.`);
    return found;
  }

  /** The material with each of these patterns; undefined for those that are not there. */
  async materials(folder: string, patterns: readonly string[]): Promise<(Material | undefined)[]> {
    const depth = Math.min(24, Math.max(...patterns.map((p) => p.split('/').length)));
    const { found } = await this.walk({ path: await this.locate(folder), most: 200_000, depth, patterns });
    return [...found];
  }
}

/** A folder to walk: for the material with some patterns, or for all of it. */
export interface WalkTask {
  readonly path: string;
  readonly most: number;
  readonly depth: number;
  readonly patterns?: readonly string[];
}
export interface Walked {
  /** All material; empty where patterns were asked for. */
  readonly materials: readonly Material[];
  /** By pattern asked for. */
  readonly found: readonly (Material | undefined)[];
  readonly cut: boolean;
}
export type Walker = (task: WalkTask) => Promise<Walked>;

export async function walkForMaterial({ path, most, depth, patterns }: WalkTask): Promise<Walked> {
  const { sequences, cut } = await walkFolder(path, { most, depth });
  if (!patterns) return { materials: gatherMaterial(sequences), found: [], cut };
  return { materials: [], found: patterns.map((p) => findMaterial(sequences, p)), cut };
}

/** So many files are listed with the folders below; beyond, a folder alone. */
const listedFiles = 20_000;
const listedDepth = 4;

function describe(material: Material, all: readonly Material[]): MediaFolder['sequences'][number] {
  const { members, version } = material;
  const sequences = members.map((m) => m.sequence);
  const moving = sequences.filter((s) => s.frames.length > 0);
  const frames = (moving.length ? moving : sequences).flatMap((s) => [...framesOf(s)]);
  const movie = moving.length === 0 && kindOfName(material.pattern) === 'movie';
  return {
    pattern: material.pattern,
    kind: movie ? 'movie' : moving.length ? 'sequence' : 'still',
    firstFrame: frames.reduce((a, b) => Math.min(a, b)),
    lastFrame: frames.reduce((a, b) => Math.max(a, b)),
    count: moving.length ? new Set(frames).size : 1,
    missing: new Set(moving.flatMap((s) => [...s.missing])).size,
    passes: members.length > 1 ? members.length : 0,
    members: members.length > 1 ? sequences.map((q) => q.pattern) : [],
    view: material.view,
    version,
    outdated:
      version !== null &&
      all.some((m) => m.versions === material.versions && m.version !== null && m.version > version),
  };
}
