import { pictureLibrary } from './formats/pictureLibrary.ts';
import type { CodeEncoding } from '@june-haze/core';
import { displayProfile } from './displayProfile.ts';
import { noWords } from './fileWords.ts';

/** The tag that holds an ICC profile, of type UNDEFINED (ICC.1:2022, annex B.3). */
const profileTag = 34675;
const undefinedType = 7;
/** Words that end in a zero (TIFF 6.0, section 8: ImageDescription and Copyright). */
const [descriptionTag, copyrightTag, textType] = [270, 33432, 2];
/** Bytes of a directory's entry (TIFF 6.0, section 2). */
const entryBytes = 12;

/**
 * A TIFF (deflated, with horizontal differences) of 8 or 16 bits, with an ICC profile that says what its codes are. A fourth channel is alpha beside colour that is not
 * multiplied by it (TIFF 6.0, section 18: ExtraSamples 2).
 */
export async function encodeTiff(
  samples: Uint8Array | Uint16Array,
  { width, height, channels = 3 }: { readonly width: number; readonly height: number; readonly channels?: 3 | 4 },
  encoding: CodeEncoding,
  { owner, comments } = noWords,
): Promise<Buffer> {
  const sharp = await pictureLibrary();
  const picture = sharp(samples, { raw: { width, height, channels } });
  const deep = samples instanceof Uint16Array ? picture.toColourspace('rgb16') : picture;
  const tiff = await deep.tiff({ compression: 'deflate', predictor: 'horizontal' }).toBuffer();
  const text = (tag: number, words: string) =>
    words ? [{ tag, type: textType, value: Buffer.from(`${words}\0`) }] : [];
  return withTags(tiff, [
    ...text(descriptionTag, comments),
    ...text(copyrightTag, owner),
    { tag: profileTag, type: undefinedType, value: displayProfile(encoding) },
  ]);
}

interface Tag {
  readonly tag: number;
  readonly type: number;
  readonly value: Buffer;
}

/** Puts tags into a little-endian TIFF of one picture: its directory is written once more behind the file, with entries more. */
function withTags(tiff: Buffer, tags: readonly Tag[]): Buffer {
  if (tiff.toString('latin1', 0, 4) !== 'II*\0') throw new Error('The picture library wrote a TIFF of another make.');
  const at = tiff.readUInt32LE(4);
  const count = tiff.readUInt16LE(at);
  const own = new Set(tags.map((t) => t.tag));
  const entries = Array.from({ length: count }, (_, i) =>
    tiff.subarray(at + 2 + i * entryBytes, at + 2 + (i + 1) * entryBytes),
  ).filter((e) => !own.has(e.readUInt16LE(0)));
  // Values and directories begin at even places (section 2).
  const even = (b: Buffer) => (b.length % 2 ? Buffer.concat([b, Buffer.alloc(1)]) : b);
  const pieces = [even(tiff)];
  let end = pieces[0]!.length;
  for (const { tag, type, value } of tags) {
    const entry = Buffer.alloc(entryBytes);
    entry.writeUInt16LE(tag, 0);
    entry.writeUInt16LE(type, 2);
    entry.writeUInt32LE(value.length, 4);
    entries.push(entry);
    // What has room in the entry stands in it.
    if (value.length <= 4) value.copy(entry, 8);
    else {
      entry.writeUInt32LE(end, 8);
      pieces.push(even(value));
      end += pieces.at(-1)!.length;
    }
  }
  const sorted = entries.sort((a, b) => a.readUInt16LE(0) - b.readUInt16LE(0));
  const head = Buffer.alloc(2);
  head.writeUInt16LE(sorted.length, 0);
  // No directory follows.
  const out = Buffer.concat([...pieces, head, ...sorted, Buffer.alloc(4)]);
  out.writeUInt32LE(end, 4);
  return out;
}
