import type { DecodedFile } from './decodedFile.ts';
import { readFile } from 'node:fs/promises';
import { decodeDpx, decodeRadiance, FormatError, type FileFacts, type FileKind } from '@june-haze/core';
import { pictureLibrary } from './pictureLibrary.ts';
import { decodeMovieFrames } from '../movies/decodeMovie.ts';

/** No file beyond this is read into memory whole. */
const largestFile = 2 ** 31;

/**
 * Decodes a file that is no EXR. No colour management, no turning, no change of alpha. `frame` counts a movie's frames from 0 and means
 * nothing elsewhere; `range` says which codes of movies and DPX are black and white. Throws a FormatError that names file and fault.
 */
export async function decodeFile(
  path: string,
  name: string,
  facts: FileFacts,
  frame: number,
  range: 'full' | 'legal' | null,
): Promise<DecodedFile> {
  if (facts.kind === 'movie') return (await decodeMovieFrames(path, name, facts, frame, 1, range ?? 'legal'))[0]!;
  if (facts.bytes > largestFile) throw new FormatError(name, 'the file is larger than 2 GiB.');
  if (facts.kind === 'dpx' || facts.kind === 'hdr') {
    const bytes = await readFile(path);
    const decoded = facts.kind === 'dpx' ? decodeDpx(bytes, name) : decodeRadiance(bytes, name);
    const { width, height } = decoded.header;
    const planes = decoded.planes as DecodedFile['planes'];
    if (range === 'legal') Object.values(planes).forEach(widenLegal);
    return { width, height, planes };
  }
  const decoded = await decodeRaster(path, name, facts.kind);
  // The picture library divides premultiplied TIFFs by their alpha: the file's own numbers are put back.
  if (facts.kind === 'tiff' && facts.alpha === 'premultiplied') multiplyAgain(decoded.planes);
  return decoded;
}

function multiplyAgain(planes: DecodedFile['planes']): void {
  const alpha = planes.A!;
  for (const [name, plane] of Object.entries(planes))
    if (name !== 'A') for (let i = 0; i < plane.length; i++) plane[i] = plane[i]! * alpha[i]!;
}

/** Legal-range codes to 0 … 1: of ten bits, 64 is black and 940 white (ITU-R BT.709-6, item 5.6). */
function widenLegal(plane: Float32Array): void {
  for (let i = 0; i < plane.length; i++) plane[i] = (plane[i]! * 1023 - 64) / 876;
}

const ways = {
  uchar: { space: 'srgb', scale: 1 / 255, view: (b: Buffer) => new Uint8Array(b.buffer, b.byteOffset, b.length) },
  ushort: {
    space: 'rgb16',
    scale: 1 / 65535,
    view: (b: Buffer) => new Uint16Array(b.buffer, b.byteOffset, b.length / 2),
  },
  float: { space: 'scrgb', scale: 1, view: (b: Buffer) => new Float32Array(b.buffer, b.byteOffset, b.length / 4) },
} as const;

async function decodeRaster(path: string, name: string, kind: FileKind): Promise<DecodedFile> {
  try {
    const sharp = await pictureLibrary();
    const picture = sharp(path, { ignoreIcc: true, limitInputPixels: 2 ** 31, failOn: 'error' });
    const { depth, channels: count = 3 } = await picture.metadata();
    const way = ways[depth as keyof typeof ways];
    if (!way) throw new Error(`samples of type ${depth} are not read`);
    const grey = count < 3;
    const space = grey ? (depth === 'ushort' ? 'grey16' : 'b-w') : way.space;
    const { data, info } = await picture
      .pipelineColourspace(space)
      .toColourspace(space)
      .raw({ depth: depth as 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const samples = way.view(data);
    const { width, height } = info;
    const n = info.channels as number;
    const names = n < 3 ? ['Y', 'A'] : ['R', 'G', 'B', 'A'];
    const planes: Record<string, Float32Array<ArrayBuffer>> = {};
    for (let c = 0; c < n; c++) {
      const plane = new Float32Array(width * height);
      for (let i = 0, at = c; i < plane.length; i++, at += n) plane[i] = samples[at]! * way.scale;
      planes[names[c]!] = plane;
    }
    return { width, height, planes };
  } catch (error) {
    throw new FormatError(
      name,
      `this ${kind.toUpperCase()} cannot be read whole (${(error as Error).message.split('\n')[0]}).`,
    );
  }
}
