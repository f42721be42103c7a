import { open } from 'node:fs/promises';
import { dirname, isAbsolute, join, normalize } from 'node:path';
import { isManifestFile } from '@june-haze/core';

/** More than the names of a hundred thousand objects; a longer file is none of names. */
const mostBytes = 32e6;

/**
 * A header's attributes with the names that lie in files beside its own, as if they were in it (Cryptomatte specification 1.2: `manif_file`, relative to
 * the EXR). A file that is not there, lies elsewhere or is too long is passed over: an ID without a name is still an ID.
 */
export async function withSideManifests(
  attributes: Readonly<Record<string, string>>,
  path: string,
): Promise<Record<string, string>> {
  const found: Record<string, string> = { ...attributes };
  for (const [key, said] of Object.entries(attributes)) {
    const manifest = key.replace(/manif_file$/, 'manifest');
    if (!isManifestFile(key) || manifest in attributes) continue;
    const beside = normalize(said);
    if (said === '' || isAbsolute(beside) || beside.startsWith('..')) continue;
    const text = await readText(join(dirname(path), beside));
    if (text !== undefined) found[manifest] = text;
  }
  return found;
}

async function readText(path: string): Promise<string | undefined> {
  const handle = await open(path).catch(() => undefined);
  if (!handle) return undefined;
  try {
    const { size } = await handle.stat();
    return size <= mostBytes ? await handle.readFile('utf8') : undefined;
  } catch {
    return undefined;
  } finally {
    await handle.close();
  }
}
