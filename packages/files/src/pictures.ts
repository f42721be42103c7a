import { crc32, deflateSync } from 'node:zlib';
import type { Sharp } from 'sharp';
import {
  channelOf,
  coveringCodes,
  displayCodes,
  encodingOfSpace,
  iccEvidence,
  pngEvidence,
  toEightBits,
  type CodeEncoding,
} from '@june-haze/core';
import { displayProfile } from './displayProfile.ts';
import { noWords, type FileWords } from './fileWords.ts';
import { pictureLibrary } from './formats/pictureLibrary.ts';

const pngSignature = 0x89504e47;

/** A PNG that says nothing of its colours. */
export async function encodeUntaggedPng(rgba: Uint8Array, width: number, height: number): Promise<Buffer> {
  const sharp = await pictureLibrary();
  return sharp(rgba, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png({ compressionLevel: 6 })
    .toBuffer();
}

/**
 * A PNG that says its colour in every way that holds for it (PNG third edition, 11.3.2): cICP with the code points of ITU-T H.273, or an ICC
 * profile where there are none; sRGB where it is that; gAMA and cHRM.
 */
export async function encodePng(
  rgba: Uint8Array,
  width: number,
  height: number,
  encoding: CodeEncoding,
): Promise<Buffer> {
  return taggedPng(await encodeUntaggedPng(rgba, width, height), encoding, noWords);
}

/**
 * The same of 8 or 16 bits and three or four channels: alpha is straight (PNG third edition 4.3.4). 16-bit samples are a Uint16Array.
 */
export async function encodePngSamples(
  samples: Uint8Array | Uint16Array,
  { width, height, channels }: { readonly width: number; readonly height: number; readonly channels: 3 | 4 },
  encoding: CodeEncoding,
  words = noWords,
): Promise<Buffer> {
  const sharp = await pictureLibrary();
  const picture = sharp(samples, { raw: { width, height, channels } });
  const deep = samples instanceof Uint16Array ? picture.toColourspace('rgb16') : picture;
  return taggedPng(await deep.png({ compressionLevel: 6 }).toBuffer(), encoding, words);
}

function taggedPng(png: Buffer, encoding: CodeEncoding, { owner, comments }: FileWords): Buffer {
  const afterHeader = 33; // signature (8) and IHDR (25)
  const uints = (...numbers: number[]) => {
    const b = Buffer.alloc(numbers.length * 4);
    numbers.forEach((n, i) => b.writeUInt32BE(n, i * 4));
    return b;
  };
  const { name, codePoints, gamma, primaries } = displayCodes[encoding];
  const { white, red, green, blue } = primaries;
  // RGB as it is, all codes of the range: no matrix and full range (11.3.2.6).
  const said = codePoints
    ? chunk('cICP', Buffer.from([codePoints[0], codePoints[1], 0, 1]))
    : chunk('iCCP', Buffer.concat([Buffer.from(`${name}\0\0`, 'latin1'), deflateSync(displayProfile(encoding))]));
  const chunks = [
    said,
    ...(encoding === 'srgb' ? [chunk('sRGB', Buffer.from([0]))] : []),
    ...(gamma === undefined ? [] : [chunk('gAMA', uints(Math.round(gamma * 1e5)))]),
    chunk('cHRM', uints(...[white, red, green, blue].flat().map((v) => Math.round(v * 1e5)))),
    ...(owner ? [textChunk('Copyright', owner)] : []),
    ...(comments ? [textChunk('Comment', comments)] : []),
  ];
  return Buffer.concat([png.subarray(0, afterHeader), ...chunks, png.subarray(afterHeader)]);
}

/** Words under a keyword, in UTF-8, not packed, in no language that is named (PNG third edition, 11.3.3). */
const textChunk = (keyword: string, words: string): Buffer =>
  chunk('iTXt', Buffer.concat([Buffer.from(`${keyword}\0\0\0\0\0`, 'latin1'), Buffer.from(words)]));

function chunk(type: string, data: Buffer): Buffer {
  const out = Buffer.alloc(data.length + 12);
  out.writeUInt32BE(data.length, 0);
  out.write(type, 4, 'latin1');
  data.copy(out, 8);
  out.writeUInt32BE(crc32(out.subarray(4, 8 + data.length)), 8 + data.length);
  return out;
}

/** A JPEG (4:4:4) with an ICC profile in an APP2 segment (ICC.1:2022 annex B.4). */
export async function encodeJpeg(
  samples: Uint8Array,
  { width, height, channels }: { readonly width: number; readonly height: number; readonly channels: 3 | 4 },
  encoding: CodeEncoding,
  quality: number,
  words = noWords,
): Promise<Buffer> {
  const sharp = await pictureLibrary();
  const picture = sharp(samples, { raw: { width, height, channels } }).removeAlpha();
  const jpeg = await withExif(picture, words).jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer();
  const profile = displayProfile(encoding);
  const head = Buffer.from('\xff\xe2\0\0ICC_PROFILE\0\x01\x01', 'latin1');
  head.writeUInt16BE(profile.length + 16, 2);
  // After SOI and the JFIF segment, whose length stands at byte 4.
  const at = jpeg[2] === 0xff && jpeg[3] === 0xe0 ? 4 + jpeg.readUInt16BE(4) : 2;
  return Buffer.concat([jpeg.subarray(0, at), head, profile, jpeg.subarray(at)]);
}

/** Owner and comments as Exif has them (CIPA DC-008: tags 33432 and 270). */
const withExif = (picture: Sharp, { owner, comments }: FileWords): Sharp =>
  owner || comments
    ? picture.withExif({
        IFD0: { ...(owner ? { Copyright: owner } : {}), ...(comments ? { ImageDescription: comments } : {}) },
      })
    : picture;

export interface DecodedPicture {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
  /** Red, green and blue as they are stored, of a file of 16 bits. */
  readonly deep: Uint16Array | undefined;
  /** Alpha 0 … 1, straight, where the file has one. */
  readonly alpha: Float32Array | undefined;
  /** What the file's own tags say its numbers mean; undefined when they say nothing that is understood. */
  readonly encoding: CodeEncoding | undefined;
  readonly taggedBy: string;
}

/** Decodes a PNG, JPEG or TIFF to its own numbers, untouched by any colour management, and reads its colour tags. */
export async function decodePicture(bytes: Buffer): Promise<DecodedPicture> {
  const sharp = await pictureLibrary();
  const open = () => sharp(bytes, { ignoreIcc: true });
  const { width, height, depth, icc, hasAlpha } = await open().metadata();
  const tags = tagsOf(bytes, icc);
  if (depth !== 'ushort') {
    const rgba = await open().ensureAlpha().raw().toBuffer();
    const alpha = hasAlpha ? channelOf(rgba, 4, 3) : undefined;
    return { width, height, rgba, deep: undefined, alpha, ...tags };
  }
  const raw = await open().removeAlpha().toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  const deep = new Uint16Array(new Uint8Array(raw).buffer);
  const rgba = coveringCodes(toEightBits(deep));
  const alpha = hasAlpha ? await deepAlpha(open()) : undefined;
  return { width, height, rgba, deep, alpha, ...tags };
}

async function deepAlpha(picture: Sharp): Promise<Float32Array> {
  const raw = await picture.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  return channelOf(new Uint16Array(new Uint8Array(raw).buffer), 4, 3);
}

/** A picture's tags as Intake reads them, in PNG's order of precedence (third edition, 11.3.2): cICP, the ICC profile, then the others. */
function tagsOf(bytes: Buffer, icc: Buffer | undefined): { encoding: CodeEncoding | undefined; taggedBy: string } {
  const chunks = bytes.readUInt32BE(0) === pngSignature ? pngEvidence(bytes) : [];
  const first = chunks.filter((e) => e.says.startsWith('cICP'));
  const found = [...first, ...(icc ? iccEvidence(icc) : []), ...chunks].find((e) => e.space !== undefined);
  if (!found) return { encoding: undefined, taggedBy: 'nothing' };
  const by = found.from === 'ICC profile' ? 'ICC profile' : found.says;
  return { encoding: encodingOfSpace(found.space!), taggedBy: by };
}
