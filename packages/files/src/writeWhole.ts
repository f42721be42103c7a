import { mkdir, open, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { ByteSink } from '@june-haze/core';

/**
 * Writes a file that is either there whole or not at all: to a hidden temporary name beside it, synced, then renamed.
 * When `write` fails the temporary file is removed and the error passed on.
 */
export async function writeWhole(path: string, write: (sink: ByteSink) => Promise<void>): Promise<void> {
  await mkdir(dirname(path), { recursive: true });
  const temporary = join(dirname(path), `.${basename(path)}.${process.pid}.${Date.now()}.part`);
  const handle = await open(temporary, 'wx');
  try {
    await write({
      async write(position, bytes) {
        await handle.write(bytes, 0, bytes.length, position);
      },
    });
    await handle.sync();
    await handle.close();
    await rename(temporary, path);
  } catch (error) {
    await handle.close().catch(() => undefined);
    await rm(temporary, { force: true });
    throw error;
  }
}
