import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, unlink } from 'node:fs/promises';
import { join } from 'node:path';
import { itemsOf, openShotColour, ShotColour, writeBundle, type Bundle, type ColourKey } from '@june-haze/core';
import { writeWhole, ZipFolder } from '@june-haze/files';

/** The name of a content: a hash over its files' names and bytes. */
export function contentId(files: ReadonlyMap<string, Uint8Array>): string {
  const hash = createHash('sha256');
  for (const [path, bytes] of [...files].sort(([a], [b]) => (a < b ? -1 : 1)))
    hash.update(`${path}\0${bytes.length}\0`).update(bytes);
  return hash.digest('hex').slice(0, 32);
}

export const bundlePath = (folder: string, id: string): string => join(folder, `${id}.zip`);

/**
 * Stores files under their content's name, whole or not at all. Returns the id. An archive that they came in is kept as it is when it can
 * be read as one of ours: packing half a gigabyte anew takes a minute.
 */
export async function storeBundle(
  folder: string,
  files: ReadonlyMap<string, Uint8Array>,
  cameIn?: { readonly path: string; readonly bytes: Uint8Array },
): Promise<string> {
  await mkdir(folder, { recursive: true });
  const id = contentId(files);
  const path = bundlePath(folder, id);
  const bytes = () => (cameIn && holdsAll(cameIn.path, files) ? cameIn.bytes : writeBundle(files));
  if (!existsSync(path)) await writeWhole(path, (sink) => sink.write(0, bytes()));
  return id;
}

/** Whether a file is an archive that names exactly these files as they are named here. */
function holdsAll(path: string, files: ReadonlyMap<string, Uint8Array>): boolean {
  try {
    const names = [...new ZipFolder(path).keys()].filter((n) => !n.endsWith('/'));
    return names.length === files.size && names.every((n) => files.has(n));
  } catch {
    return false;
  }
}

export async function removeBundle(folder: string, id: string): Promise<void> {
  await unlink(bundlePath(folder, id)).catch(() => undefined);
}

/** The files of an item, each read when it is asked for. An Error when the item is gone. */
export function loadBundle(folder: string, id: string): Bundle {
  const path = bundlePath(folder, id);
  if (!/^[0-9a-f]{32}$/.test(id) || !existsSync(path))
    throw new Error('A colour config or LUT of this shot is no longer in the Library.');
  return new ZipFolder(path);
}

/** Where a shot's colours come from: the key, and the folder that its items lie in. Plain data, for worker threads. */
export interface ColourPlace {
  readonly key: ColourKey;
  readonly folder: string;
}

const opened = new Map<string, ShotColour>();

/** The colours of a key, opened once per thread. */
export function colourOf({ key, folder }: ColourPlace): ShotColour {
  const name = JSON.stringify([key, folder]);
  let colour = opened.get(name);
  if (!colour) {
    colour = openShotColour(key, new Map(itemsOf(key).map((id) => [id, loadBundle(folder, id)])));
    if (opened.size >= 16) opened.delete(opened.keys().next().value!);
    opened.set(name, colour);
  }
  return colour;
}
