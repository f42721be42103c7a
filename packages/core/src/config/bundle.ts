import { unzipSync, zipSync } from 'fflate';
import { normalisePath } from './context.ts';
import { ColourFileError } from './place.ts';

/** Files of a config's folder, or of one LUT, by path: a map of them, or an archive that unpacks each when it is asked for. */
export interface Bundle {
  keys(): Iterable<string>;
  get(path: string): Uint8Array | undefined;
}

/** More than any config's folder holds; an archive that unpacks to more is refused before it is unpacked. */
const largestBundle = 512 << 20;
const mostFiles = 5000;
/** Tables of numbers pack to a twentieth at best; what unpacks to far more than its size is no config. */
const largestRatio = 100;
const smallBundle = 32 << 20;

/** Reads a zip archive. Throws a ColourFileError for damage, names that lead outside, and archives that unpack to too much. */
export function readBundle(zip: Uint8Array, name: string): Map<string, Uint8Array> {
  let total = 0;
  let count = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(zip, {
      filter: (file) => {
        if (file.name.endsWith('/')) return false;
        total += file.originalSize;
        const swollen = total > smallBundle && total > zip.length * largestRatio;
        if (total > largestBundle || ++count > mostFiles || swollen)
          throw new ColourFileError('the archive unpacks to more than a config can hold.', { file: name, line: 0 });
        return true;
      },
    });
  } catch (e) {
    if (e instanceof ColourFileError) throw e;
    throw new ColourFileError('this is no zip archive that can be read.', { file: name, line: 0 });
  }
  const out = new Map<string, Uint8Array>();
  for (const [path, bytes] of Object.entries(files)) {
    const clean = normalisePath(path);
    if (clean.startsWith('/') || clean.startsWith('..'))
      throw new ColourFileError(`"${path}" leads outside the archive.`, { file: name, line: 0 });
    out.set(clean, bytes);
  }
  return out;
}

/** Packs files in the order of their names, without times: the same files give the same bytes. */
export function writeBundle(files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const sorted = [...files].sort(([a], [b]) => (a < b ? -1 : 1));
  return zipSync(Object.fromEntries(sorted), { level: 6, mtime: new Date(1980, 0, 2) });
}

/** Where in a bundle the config file lies: the only .ocio file, or the one nearest to the top. */
export function findConfigFile(files: Bundle): string | undefined {
  const found = [...files.keys()].filter(
    (p) => p.toLowerCase().endsWith('.ocio') && !p.split('/').some((s) => s.startsWith('.') || s === '__MACOSX'),
  );
  return found.sort((a, b) => a.split('/').length - b.split('/').length || (a < b ? -1 : 1))[0];
}
