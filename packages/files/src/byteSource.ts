import { open, type FileHandle } from 'node:fs/promises';
import { ExrError, type ByteSource } from '@june-haze/core/opening';

/** Reads from this size on share one buffer: fresh memory for every few megabytes costs more than the reading. */
const largeRead = 1 << 16;

export interface OpenFile extends ByteSource {
  /** Milliseconds since 1970. */
  readonly modifiedAt: number;
  close(): Promise<void>;
}

/** A file opened for reading by position. Close it when done. Rejects with an ExrError that names the file. */
export async function openSource(path: string, shownName = path): Promise<OpenFile> {
  let handle: FileHandle;
  try {
    handle = await open(path, 'r');
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    const why =
      code === 'ENOENT'
        ? 'the file is not there.'
        : code === 'EACCES'
          ? 'the file may not be read.'
          : `it cannot be opened (${code}).`;
    throw new ExrError(shownName, why);
  }
  const stat = await handle.stat();
  if (!stat.isFile()) {
    await handle.close();
    throw new ExrError(shownName, stat.isDirectory() ? 'this is a folder, not a file.' : 'this is no plain file.');
  }
  let spare = Buffer.alloc(0);
  const becameShorter = () => new ExrError(shownName, 'the file became shorter while it was read.');
  return {
    name: shownName,
    size: stat.size,
    modifiedAt: stat.mtimeMs,
    async read(offset, length) {
      if (length > spare.length && length >= largeRead) spare = Buffer.allocUnsafe(length);
      const buffer = length >= largeRead ? spare.subarray(0, length) : Buffer.allocUnsafe(length);
      const { bytesRead } = await handle.read(buffer, 0, length, offset);
      if (bytesRead < length) throw becameShorter();
      return buffer;
    },
    async readInto(offset, pieces) {
      const { bytesRead } = await handle.readv(pieces as Uint8Array[], offset);
      if (bytesRead < pieces.reduce((n, p) => n + p.length, 0)) throw becameShorter();
    },
    close: () => handle.close(),
  };
}
