import { join } from 'node:path';
import { FormatError } from '@june-haze/core';

// A movie's frame until the movie is put together: a portable pixmap of 16 bits (netpbm's ppm format, "P6"), which every encoder reads, and
// which is written and read as fast as the disk is.

const most = 65535;

/** The name of a movie's frame, as the encoder counts them: seven digits from 0. */
export const frameNames = '%07d.ppm';

/** Where a frame lies in the folder of its movie's frames; frames are counted from 0. */
export const framePlace = (folder: string, index: number): string =>
  join(folder, frameNames.replace('%07d', String(index).padStart(7, '0')));

/** Red, green and blue of 16 bits, interleaved, as a pixmap. */
export function encodeFrame(samples: Uint16Array, { width, height }: { width: number; height: number }): Buffer {
  const head = Buffer.from(`P6\n${width} ${height}\n${most}\n`, 'latin1');
  const body = Buffer.from(new Uint8Array(samples.slice().buffer));
  // The format has the high byte first.
  return Buffer.concat([head, body.swap16()]);
}

/** The samples of such a file. Throws a FormatError for another, and for one that is cut short. */
export function decodeFrame(bytes: Buffer, name: string): { width: number; height: number; samples: Uint16Array } {
  const head = /^P6\n(\d+) (\d+)\n65535\n/.exec(bytes.toString('latin1', 0, 40));
  if (!head) throw new FormatError(name, 'this is no frame of a movie.');
  const [width, height] = [Number(head[1]), Number(head[2])];
  const body = bytes.subarray(head[0].length);
  if (body.length !== width * height * 6) throw new FormatError(name, 'the file is cut short.');
  const samples = new Uint16Array(new Uint8Array(Buffer.from(body).swap16()).buffer);
  return { width, height, samples };
}
