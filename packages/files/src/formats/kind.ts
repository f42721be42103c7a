import type { FileKind } from '@june-haze/core';

/** Extensions that are looked at; what is in a file decides, not its name. */
const extensions: Readonly<Record<string, FileKind>> = {
  exr: 'exr',
  sxr: 'exr',
  mxr: 'exr',
  png: 'png',
  jpg: 'jpeg',
  jpeg: 'jpeg',
  tif: 'tiff',
  tiff: 'tiff',
  dpx: 'dpx',
  hdr: 'hdr',
  pic: 'hdr',
  mov: 'movie',
  mp4: 'movie',
  m4v: 'movie',
  mkv: 'movie',
  webm: 'movie',
  mxf: 'movie',
  avi: 'movie',
};

/** The kind that a file's name says; undefined for what is not brought in. */
export function kindOfName(name: string): FileKind | undefined {
  return extensions[name.slice(name.lastIndexOf('.') + 1).toLowerCase()];
}

/** The kind that a file's first bytes say; undefined when they are none of the known ones. */
export function kindOfBytes(head: Uint8Array): FileKind | undefined {
  const text = String.fromCharCode(...head.subarray(0, 12));
  if (text.startsWith('\x76\x2f\x31\x01')) return 'exr';
  if (text.startsWith('\x89PNG\r\n\x1a\n')) return 'png';
  if (text.startsWith('\xff\xd8\xff')) return 'jpeg';
  if (text.startsWith('II*\0') || text.startsWith('MM\0*') || text.startsWith('II+\0')) return 'tiff';
  if (text.startsWith('SDPX') || text.startsWith('XPDS')) return 'dpx';
  if (text.startsWith('#?')) return 'hdr';
  if (
    /^....(ftyp|moov|mdat|wide|free|skip|pnot|uuid)/s.test(text) ||
    text.startsWith('\x1a\x45\xdf\xa3') ||
    text.startsWith('\x06\x0e\x2b\x34') ||
    /^RIFF....AVI/s.test(text)
  )
    return 'movie';
  return undefined;
}

/** What a kind is called in a sentence. */
export const kindWords: Readonly<Record<FileKind, string>> = {
  exr: 'an EXR',
  png: 'a PNG',
  jpeg: 'a JPEG',
  tiff: 'a TIFF',
  dpx: 'a DPX',
  hdr: 'a Radiance picture',
  movie: 'a movie',
};
