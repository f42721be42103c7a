import { readLut } from '../lut/read.ts';
import type { Transform, TransformOf } from '../transform/transform.ts';
import { normalisePath, requireResolved, resolveVariables, type Context } from './context.ts';
import { ColourFileError, type Place } from './place.ts';

/** The files of a config's folder, by path relative to the config file ("luts/film.spi1d"; "../x" and "/x" as written). */
export interface ConfigFiles {
  read(path: string): Uint8Array | undefined;
}

/** The LUT and CDL files that a config's file transforms name, found by its search paths and read once each. */
export class FileContents {
  private readonly files: ConfigFiles;
  private readonly searchPaths: readonly string[];
  private readonly context: Context;
  private readonly read = new Map<string, Transform | ColourFileError>();

  constructor(files: ConfigFiles, searchPaths: readonly string[], context: Context) {
    this.files = files;
    this.searchPaths = searchPaths;
    this.context = context;
  }

  /** What a file transform's file holds, with the interpolation that it asks for. Read once. Throws a ColourFileError. */
  of(t: TransformOf<'file'>): Transform {
    const source = requireResolved(t.source, this.context, t.place);
    const correction = t.correction && requireResolved(t.correction, this.context, t.place);
    const key = `${source}\n${correction ?? ''}\n${t.cdlClamp}`;
    let found = this.read.get(key);
    if (!found) {
      try {
        const { path, bytes } = this.locate(source, t.place);
        found = readLut(bytes, path, { correction, cdlClamp: t.cdlClamp });
      } catch (e) {
        if (!(e instanceof ColourFileError)) throw e;
        found = e;
      }
      this.read.set(key, found);
    }
    if (found instanceof ColourFileError) throw found;
    return withInterpolation(found, t.interpolation);
  }

  private locate(source: string, place: Place | undefined): { path: string; bytes: Uint8Array } {
    const candidates = source.startsWith('/')
      ? [normalisePath(source)]
      : [...this.searchPaths.map((p) => `${resolveVariables(p, this.context)}/${source}`), source].map(normalisePath);
    for (const path of candidates) {
      const bytes = this.files.read(path);
      if (bytes) return { path, bytes };
    }
    const where = candidates.length > 1 ? ` (looked for ${candidates.join(', ')})` : '';
    throw new ColourFileError(`the file "${source}" is missing${where}.`, place, 'missing-file');
  }
}

/** Gives cubes that leave it open the interpolation that the file transform asks for. */
function withInterpolation(t: Transform, interpolation: TransformOf<'file'>['interpolation']): Transform {
  if (t.type === 'group') return { ...t, children: t.children.map((c) => withInterpolation(c, interpolation)) };
  return t.type === 'lut3d' ? { ...t, interpolation: t.interpolation ?? interpolation } : t;
}
