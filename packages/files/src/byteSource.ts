import { open, type FileHandle } from 'node:fs/promises';
import { ExrError, type ByteSource } from '@june-haze/core';

/** A file opened for reading by position. Close it when done. Rejects with an ExrError that names the file. */
export async function openSource(path: string, shownName = path): Promise<ByteSource & { close(): Promise<void> }> {
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
    throw new ExrError(shownName, 'this is a folder, not a file.');
  }
  return {
    name: shownName,
    size: stat.size,
    async read(offset, length) {
      const buffer = Buffer.allocUnsafe(length);
      const { bytesRead } = await handle.read(buffer, 0, length, offset);
      if (bytesRead < length) throw new ExrError(shownName, 'the file became shorter while it was read.');
      return buffer;
    },
    close: () => handle.close(),
  };
}
