import { readdir, readFile, stat } from 'node:fs/promises';
import { join, relative } from 'node:path';
import { ColourFileError, lutExtensions } from '@june-haze/core';
import { isShown } from '@june-haze/files';
import { contentId, storeBundle } from './store.ts';
import { examineFiles, type Examined } from './examine.ts';

/** A config that lies in a media folder. */
export interface LyingConfig {
  /** Of its file, below the media folder. */
  readonly path: string;
  /** The id that the Library has it under, if it has it. */
  readonly id: string;
}

/** Folders are looked through so deep, and so many of them: a media folder may hold a whole production. */
const [deepest, mostFolders] = [6, 5000];
/** What belongs to a config lies so deep below it, and is no larger than this in all. */
const [deepestLut, mostBytes] = [4, 256 << 20];

const extensionOf = (name: string) => name.slice(name.lastIndexOf('.') + 1).toLowerCase();

/** The configs below a folder. Hidden folders and links are passed over, and what cannot be read. */
export async function findConfigs(root: string): Promise<LyingConfig[]> {
  const found: LyingConfig[] = [];
  let folders = [root];
  let looked = 0;
  for (let depth = 0; depth <= deepest && folders.length; depth++) {
    const below: string[] = [];
    for (const folder of folders) {
      if (++looked > mostFolders) return found;
      const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
      for (const entry of entries) {
        if (!isShown(entry.name)) continue;
        const path = join(folder, entry.name);
        if (entry.isDirectory()) below.push(path);
        else if (entry.isFile() && extensionOf(entry.name) === 'ocio') {
          const files = await filesOfConfig(folder, entry.name).catch(() => undefined);
          if (files) found.push({ path: relative(root, path), id: contentId(files) });
        }
      }
    }
    folders = below;
  }
  return found;
}

/** A config's file and the LUTs below its folder, by their paths from there. Throws a ColourFileError for more than a config can be. */
export async function filesOfConfig(folder: string, config: string): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  let bytes = 0;
  const take = async (path: string) => {
    bytes += (await stat(path)).size;
    if (bytes > mostBytes)
      throw new ColourFileError(`${config}: its LUTs are larger than ${mostBytes >> 20} MB together.`);
    files.set(relative(folder, path), await readFile(path));
  };
  const walk = async (at: string, depth: number): Promise<void> => {
    for (const entry of (await readdir(at, { withFileTypes: true })).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (!isShown(entry.name)) continue;
      const path = join(at, entry.name);
      if (entry.isDirectory() && depth < deepestLut) await walk(path, depth + 1);
      else if (entry.isFile() && lutExtensions.includes(extensionOf(entry.name))) await take(path);
    }
  };
  await take(join(folder, config));
  await walk(folder, 0);
  return files;
}

/** Keeps a config that lies in a media folder in the library folder. Throws a ColourFileError for one that cannot be read. */
export async function keepLying(folder: string, config: string, libraryFolder: string) {
  const files = await filesOfConfig(folder, config);
  const { kind, facts, use }: Omit<Examined, 'files'> = examineFiles(config, files);
  return { id: await storeBundle(libraryFolder, files), kind, facts, use };
}
