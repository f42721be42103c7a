import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { FormatError } from '@june-haze/core';

// A movie's frame until the movie is put together: a portable map of 16 bits, which every encoder reads, and which is written and read as fast
// as the disk is. Three samples a pixel are netpbm's ppm format ("P6"), four its pam format ("P7").

const most = 65535;

/** Where frames lie that become one file. */
export interface FramesAside {
  readonly folder: string;
  /** Their pixels have alpha as a fourth sample, and colour that is not multiplied by it. */
  readonly alpha: boolean;
}

/** The names of frames, as the encoder counts them: seven digits from 0. */
export const frameNames = ({ alpha }: Pick<FramesAside, 'alpha'>): string => (alpha ? '%07d.pam' : '%07d.ppm');

/** Where a frame lies among those of its file; frames are counted from 0. */
export const framePlace = (frames: FramesAside, index: number): string =>
  join(frames.folder, frameNames(frames).replace('%07d', String(index).padStart(7, '0')));

/** A picture of 16 bits, interleaved: red, green and blue, and alpha where there are four channels. */
export interface FrameSamples {
  readonly width: number;
  readonly height: number;
  readonly channels: 3 | 4;
  readonly samples: Uint16Array;
}

/** A frame's file. */
export function encodeFrame({ samples, width, height, channels }: FrameSamples): Buffer {
  const head =
    channels === 3
      ? `P6\n${width} ${height}\n${most}\n`
      : `P7\nWIDTH ${width}\nHEIGHT ${height}\nDEPTH 4\nMAXVAL ${most}\nTUPLTYPE RGB_ALPHA\nENDHDR\n`;
  const body = Buffer.from(new Uint8Array(samples.slice().buffer));
  // The format has the high byte first.
  return Buffer.concat([Buffer.from(head, 'latin1'), body.swap16()]);
}

const heads = {
  3: /^P6\n(\d+) (\d+)\n65535\n/,
  4: /^P7\nWIDTH (\d+)\nHEIGHT (\d+)\nDEPTH 4\nMAXVAL 65535\nTUPLTYPE RGB_ALPHA\nENDHDR\n/,
} as const;

/** No head is longer. */
const longestHead = 120;

/** What a file's head says, and how long it is. Throws a FormatError for that of another kind of file. */
function decodeHead(bytes: Buffer, name: string) {
  const text = bytes.toString('latin1', 0, longestHead);
  const channels = text.startsWith('P7') ? 4 : 3;
  const head = heads[channels].exec(text);
  if (!head) throw new FormatError(name, 'this is no frame of a movie.');
  return { width: Number(head[1]), height: Number(head[2]), channels, length: head[0].length } as const;
}

/** The size of a frame. Throws a FormatError for a file of another kind. */
export async function sizeOfFrame(path: string): Promise<{ width: number; height: number }> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(longestHead), 0, longestHead);
    const { width, height } = decodeHead(buffer.subarray(0, bytesRead), path);
    return { width, height };
  } finally {
    await file.close();
  }
}

/** What such a file holds. Throws a FormatError for another, and for one that is cut short. */
export function decodeFrame(bytes: Buffer, name: string): FrameSamples {
  const { width, height, channels, length } = decodeHead(bytes, name);
  const body = bytes.subarray(length);
  if (body.length !== width * height * channels * 2) throw new FormatError(name, 'the file is cut short.');
  const samples = new Uint16Array(new Uint8Array(Buffer.from(body).swap16()).buffer);
  return { width, height, channels, samples };
}
