import { pictureLibrary } from './formats/pictureLibrary.ts';
import type { CodeEncoding } from '@june-haze/core';
import { displayProfile } from './displayProfile.ts';

/** The tag that holds an ICC profile, of type UNDEFINED (ICC.1:2022, annex B.3). */
const profileTag = 34675;
const undefinedType = 7;
/** Bytes of a directory's entry (TIFF 6.0, section 2). */
const entryBytes = 12;

/** A TIFF (deflated, with horizontal differences) of 8 or 16 bits and three channels, with an ICC profile that says what its codes are. */
export async function encodeTiff(
  samples: Uint8Array | Uint16Array,
  { width, height }: { readonly width: number; readonly height: number },
  encoding: CodeEncoding,
): Promise<Buffer> {
  const sharp = await pictureLibrary();
  const picture = sharp(samples, { raw: { width, height, channels: 3 } });
  const deep = samples instanceof Uint16Array ? picture.toColourspace('rgb16') : picture;
  const tiff = await deep.tiff({ compression: 'deflate', predictor: 'horizontal' }).toBuffer();
  return withProfile(tiff, displayProfile(encoding));
}

/** Puts a profile into a little-endian TIFF of one picture: its directory is written once more behind the file, with one entry more. */
function withProfile(tiff: Buffer, profile: Buffer): Buffer {
  if (tiff.toString('latin1', 0, 4) !== 'II*\0') throw new Error('The picture library wrote a TIFF of another make.');
  const at = tiff.readUInt32LE(4);
  const count = tiff.readUInt16LE(at);
  const entries = Array.from({ length: count }, (_, i) =>
    tiff.subarray(at + 2 + i * entryBytes, at + 2 + (i + 1) * entryBytes),
  ).filter((e) => e.readUInt16LE(0) !== profileTag);
  // Values and directories begin at even places (section 2).
  const even = (b: Buffer) => (b.length % 2 ? Buffer.concat([b, Buffer.alloc(1)]) : b);
  const body = even(tiff);
  const held = even(profile);
  const own = Buffer.alloc(entryBytes);
  own.writeUInt16LE(profileTag, 0);
  own.writeUInt16LE(undefinedType, 2);
  own.writeUInt32LE(profile.length, 4);
  own.writeUInt32LE(body.length, 8);
  const sorted = [...entries, own].sort((a, b) => a.readUInt16LE(0) - b.readUInt16LE(0));
  const head = Buffer.alloc(2);
  head.writeUInt16LE(sorted.length, 0);
  // No directory follows.
  const out = Buffer.concat([body, held, head, ...sorted, Buffer.alloc(4)]);
  out.writeUInt32LE(body.length + held.length, 4);
  return out;
}
