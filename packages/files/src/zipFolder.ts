import { closeSync, existsSync, fstatSync, openSync, readSync } from 'node:fs';
import { inflateRawSync } from 'node:zlib';
import { ColourFileError, type Bundle } from '@june-haze/core';

/** End of central directory, PKWARE APPNOTE 6.3.10 clause 4.3.16: 22 bytes and a comment of at most 65,535. */
const endSize = 22;
const endSign = 0x06054b50;
/** Central directory header, clause 4.3.12. */
const entrySign = 0x02014b50;
const entrySize = 46;
/** Local file header, clause 4.3.7. */
const localSize = 30;

/** More than a config holds; see core's `readBundle`. */
const largestFile = 512 << 20;

interface ZipEntry {
  readonly method: number;
  readonly packed: number;
  readonly size: number;
  readonly offset: number;
}

/**
 * The files of a zip archive on disk, each unpacked when it is asked for: a config of half a gigabyte opens by its directory alone.
 * Archives of zip64 and encrypted ones are not read. Throws a ColourFileError when the file is no zip archive.
 */
export class ZipFolder implements Bundle {
  private readonly path: string;
  private readonly entries = new Map<string, ZipEntry>();

  constructor(path: string) {
    this.path = path;
    this.withFile((read, size) => {
      const tail = read(Math.max(0, size - endSize - 0xffff), Math.min(size, endSize + 0xffff));
      let at = tail.length - endSize;
      while (at >= 0 && tail.readUInt32LE(at) !== endSign) at--;
      if (at < 0) throw this.fault('this is no zip archive that can be read.');
      this.readDirectory(read(tail.readUInt32LE(at + 16), tail.readUInt32LE(at + 12)), tail.readUInt16LE(at + 10));
    });
  }

  keys(): Iterable<string> {
    return this.entries.keys();
  }

  get(name: string): Uint8Array | undefined {
    const entry = this.entries.get(name);
    if (!entry) return undefined;
    return this.withFile((read) => {
      const head = read(entry.offset, localSize);
      const start = entry.offset + localSize + head.readUInt16LE(26) + head.readUInt16LE(28);
      const packed = read(start, entry.packed);
      if (entry.size > largestFile) throw this.fault(`"${name}" in it is larger than any table.`);
      if (entry.method === 0) return packed;
      try {
        return inflateRawSync(packed, { maxOutputLength: Math.max(1, entry.size) });
      } catch {
        throw this.fault(`"${name}" in it is damaged.`);
      }
    });
  }

  private readDirectory(directory: Buffer, count: number): void {
    for (let i = 0, at = 0; i < count; i++) {
      if (directory.length < at + entrySize || directory.readUInt32LE(at) !== entrySign)
        throw this.fault('its directory is damaged.');
      const [nameSize, extraSize, noteSize] = [28, 30, 32].map((o) => directory.readUInt16LE(at + o)) as [
        number,
        number,
        number,
      ];
      const name = directory.toString('utf8', at + entrySize, at + entrySize + nameSize);
      this.entries.set(name, {
        method: directory.readUInt16LE(at + 10),
        packed: directory.readUInt32LE(at + 20),
        size: directory.readUInt32LE(at + 24),
        offset: directory.readUInt32LE(at + 42),
      });
      at += entrySize + nameSize + extraSize + noteSize;
    }
  }

  private withFile<T>(use: (read: (offset: number, length: number) => Buffer, size: number) => T): T {
    if (!existsSync(this.path)) throw this.fault('it is not in the Library any more.');
    const file = openSync(this.path, 'r');
    try {
      const read = (offset: number, length: number) => {
        const bytes = Buffer.alloc(length);
        if (readSync(file, bytes, 0, length, offset) < length) throw this.fault('it ends early.');
        return bytes;
      };
      return use(read, fstatSync(file).size);
    } finally {
      closeSync(file);
    }
  }

  private fault(words: string): ColourFileError {
    return new ColourFileError(words, { file: this.path.split('/').at(-1)!, line: 0 });
  }
}
