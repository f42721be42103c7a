import {
  ColourFileError,
  findConfigFile,
  lutExtensions,
  openBundledConfig,
  readBundle,
  readCorrections,
  readLut,
  type Transform,
} from '@june-haze/core';
import type { LibraryFacts, LibraryItem, LutUse } from '@june-haze/contract';

/** What a dropped file or archive is, and its files by path. */
export interface Examined {
  readonly kind: LibraryItem['kind'];
  readonly facts: LibraryFacts;
  readonly use: LutUse | null;
  readonly files: ReadonlyMap<string, Uint8Array>;
}

const extensionOf = (path: string) => path.slice(path.lastIndexOf('.') + 1).toLowerCase();
const isZip = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b;

/** Files as they were dropped: an archive unpacked, a single file by its name. */
function filesOf(name: string, bytes: Uint8Array): Map<string, Uint8Array> {
  return isZip(bytes) ? readBundle(bytes, name) : new Map([[name.split(/[/\\]/).at(-1)!, bytes]]);
}

/** What a dropped bundle is. Throws a ColourFileError for one that is neither a config nor a LUT. */
export function examineFiles(name: string, files: ReadonlyMap<string, Uint8Array>): Omit<Examined, 'files'> {
  const paths = [...files.keys()];
  const bytes = [...files.values()].reduce((n, b) => n + b.length, 0);
  if (findConfigFile(files)) {
    const config = openBundledConfig(files, name);
    const { document } = config;
    const views = config.activeDisplays().reduce((n, d) => n + d.views.length, 0);
    const counts = [
      counted(config.activeSpaces().length, 'space'),
      counted(views, 'view'),
      counted(document.looks.length, 'look'),
    ];
    const about = `version ${document.majorVersion}, ${counts.join(', ')}`;
    const problems = config.problems().map((p) => p.message);
    return { kind: 'config', facts: { files: paths, bytes, about, problems }, use: null };
  }
  const path = paths.find((p) => lutExtensions.includes(extensionOf(p)));
  if (!path)
    throw new ColourFileError(
      `${name}: this is no colour config, LUT or CDL. Drop an .ocio file with its folder, or a LUT file.`,
    );
  const transform = readLut(files.get(path)!, path);
  const cdl = ['cc', 'ccc', 'cdl'].includes(extensionOf(path));
  const about = cdl ? counted(readCorrections(files.get(path)!, path).length, 'correction') : describe(transform);
  return {
    kind: cdl ? 'cdl' : 'lut',
    facts: { files: [path], bytes, about, problems: [] },
    use: { as: 'look', space: 'ACEScct' },
  };
}

const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;

/** A LUT in words: its parts in order. */
function describe(t: Transform): string {
  if (t.type === 'group') return t.children.map(describe).join(' → ') || 'nothing';
  if (t.type === 'lut1d') return `table of ${t.table.channels[0].length}`;
  if (t.type === 'lut3d') return `cube of ${t.table.size}³`;
  return t.type === 'matrix' ? 'scale' : t.type;
}

/** Examines a dropped file: every table read, every space and view tried. For a worker thread: big configs take seconds. */
export function examine(name: string, bytes: Uint8Array): Examined {
  const files = filesOf(name, bytes);
  return { ...examineFiles(name, files), files };
}
