import { mkdir, open, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { ByteSink } from '@june-haze/core';
import { temporaryName } from './abandoned.ts';

/** A file that could not be written, as a sentence with the remedy. */
export class WriteError extends Error {
  constructor(name: string, why: string) {
    super(`${name}: ${why}`);
    this.name = 'WriteError';
  }
}

const reasons: Record<string, string> = {
  ENOSPC: 'the disk is full; make room and write it again.',
  EDQUOT: 'the disk quota is used up; make room and write it again.',
  EACCES: 'the folder does not let this program write; change its permissions or choose another.',
  EROFS: 'the folder is read-only; choose another.',
  ENAMETOOLONG: 'the name is too long for this disk; choose a shorter one.',
};

function inWords(name: string, error: unknown): unknown {
  const reason = reasons[(error as NodeJS.ErrnoException).code ?? ''];
  return reason ? new WriteError(name, reason) : error;
}

/**
 * Writes a file that is either there whole or not at all: to a hidden temporary name beside it, synced, then renamed.
 * When `write` fails the temporary file is removed and the error passed on.
 */
export async function writeWhole(path: string, write: (sink: ByteSink) => Promise<void>): Promise<void> {
  await mkdir(dirname(path), { recursive: true }).catch((error: unknown) => {
    throw inWords(basename(path), error);
  });
  const temporary = join(dirname(path), temporaryName(basename(path)));
  const handle = await open(temporary, 'wx').catch((error: unknown) => {
    throw inWords(basename(path), error);
  });
  try {
    await write({
      async write(position, bytes) {
        // A disk that fills up takes part of what it is given before it says so.
        for (let done = 0; done < bytes.length;)
          done += (await handle.write(bytes, done, bytes.length - done, position + done)).bytesWritten;
      },
    });
    await handle.sync();
    await handle.close();
    await rename(temporary, path);
  } catch (error) {
    await handle.close().catch(() => undefined);
    await rm(temporary, { force: true });
    throw inWords(basename(path), error);
  }
}
