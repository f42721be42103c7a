import { crc32 } from 'node:zlib';
import { pictureLibrary } from './formats/pictureLibrary.ts';

/** What an encoded picture's numbers mean: the two displays there are. */
export type PictureEncoding = 'srgb' | 'bt1886';

/** A PNG that says nothing of its colours. */
export async function encodeUntaggedPng(rgba: Uint8Array, width: number, height: number): Promise<Buffer> {
  const sharp = await pictureLibrary();
  return sharp(rgba, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png({ compressionLevel: 6 })
    .toBuffer();
}

/**
 * A PNG with its colour said three ways: cICP (PNG third edition 11.3.2.6; code points of ITU-T H.273), gAMA and cHRM, and
 * sRGB where it is that. BT.1886 has no transfer code of its own: 1 (BT.709) is what H.273 gives for such displays.
 */
export async function encodePng(
  rgba: Uint8Array,
  width: number,
  height: number,
  encoding: PictureEncoding,
): Promise<Buffer> {
  return taggedPng(await encodeUntaggedPng(rgba, width, height), encoding);
}

/**
 * The same of 8 or 16 bits and three or four channels: alpha is straight (PNG third edition 4.3.4). 16-bit samples are a Uint16Array.
 */
export async function encodePngSamples(
  samples: Uint8Array | Uint16Array,
  { width, height, channels }: { readonly width: number; readonly height: number; readonly channels: 3 | 4 },
  encoding: PictureEncoding,
): Promise<Buffer> {
  const sharp = await pictureLibrary();
  const picture = sharp(samples, { raw: { width, height, channels } });
  const deep = samples instanceof Uint16Array ? picture.toColourspace('rgb16') : picture;
  return taggedPng(await deep.png({ compressionLevel: 6 }).toBuffer(), encoding);
}

function taggedPng(png: Buffer, encoding: PictureEncoding): Buffer {
  const afterHeader = 33; // signature (8) and IHDR (25)
  const uints = (...numbers: number[]) => {
    const b = Buffer.alloc(numbers.length * 4);
    numbers.forEach((n, i) => b.writeUInt32BE(n, i * 4));
    return b;
  };
  const chunks = [
    chunk('cICP', Buffer.from([1, encoding === 'srgb' ? 13 : 1, 0, 1])),
    ...(encoding === 'srgb' ? [chunk('sRGB', Buffer.from([0]))] : []),
    chunk('gAMA', uints(encoding === 'srgb' ? 45455 : 41667)),
    chunk('cHRM', uints(31270, 32900, 64000, 33000, 30000, 60000, 15000, 6000)),
  ];
  return Buffer.concat([png.subarray(0, afterHeader), ...chunks, png.subarray(afterHeader)]);
}

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
  rgba: Uint8Array,
  width: number,
  height: number,
  encoding: PictureEncoding,
  quality: number,
): Promise<Buffer> {
  const sharp = await pictureLibrary();
  const jpeg = await sharp(rgba, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality, chromaSubsampling: '4:4:4' })
    .toBuffer();
  const profile = displayProfile(encoding);
  const head = Buffer.from('\xff\xe2\0\0ICC_PROFILE\0\x01\x01', 'latin1');
  head.writeUInt16BE(profile.length + 16, 2);
  // After SOI and the JFIF segment, whose length stands at byte 4.
  const at = jpeg[2] === 0xff && jpeg[3] === 0xe0 ? 4 + jpeg.readUInt16BE(4) : 2;
  return Buffer.concat([jpeg.subarray(0, at), head, profile, jpeg.subarray(at)]);
}

/** A small ICC v4 display profile: Rec.709 primaries adapted to D50 and a parametric curve (ICC.1:2022 8.3, 10.18). */
export function displayProfile(encoding: PictureEncoding): Buffer {
  const fixed = (...numbers: number[]) => {
    const b = Buffer.alloc(numbers.length * 4);
    numbers.forEach((n, i) => b.writeInt32BE(Math.round(n * 65536), i * 4));
    return b;
  };
  const tag = (type: string, body: Buffer) => Buffer.concat([Buffer.from(type, 'latin1'), Buffer.alloc(4), body]);
  const text = (s: string) => {
    const head = Buffer.alloc(20);
    head.writeUInt32BE(1, 0);
    head.writeUInt32BE(12, 4);
    head.write('enUS', 8, 'latin1');
    head.writeUInt32BE(s.length * 2, 12);
    head.writeUInt32BE(28, 16);
    return tag('mluc', Buffer.concat([head, Buffer.from(s, 'utf16le').swap16()]));
  };
  const curveBody =
    encoding === 'srgb'
      ? [Buffer.from([0, 3, 0, 0]), fixed(2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045)]
      : [Buffer.from([0, 0, 0, 0]), fixed(2.4)];
  const curve = tag('para', Buffer.concat(curveBody));
  const name = encoding === 'srgb' ? 'sRGB' : 'Rec.709 gamma 2.4';
  const tags: [string, Buffer][] = [
    ['desc', text(name)],
    ['cprt', text('No copyright')],
    ['wtpt', tag('XYZ ', fixed(0.9642, 1, 0.8249))],
    // Bradford-adapted Rec.709 primaries, as in the published sRGB v4 profile values (from memory).
    ['rXYZ', tag('XYZ ', fixed(0.43607, 0.22249, 0.01392))],
    ['gXYZ', tag('XYZ ', fixed(0.38515, 0.71687, 0.09708))],
    ['bXYZ', tag('XYZ ', fixed(0.14307, 0.06061, 0.7141))],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ];
  const table = Buffer.alloc(4 + tags.length * 12);
  table.writeUInt32BE(tags.length, 0);
  let at = 128 + table.length;
  const bodies: Buffer[] = [];
  tags.forEach(([signature, body], i) => {
    const padded = Buffer.concat([body, Buffer.alloc((4 - (body.length % 4)) % 4)]);
    table.write(signature, 4 + i * 12, 'latin1');
    table.writeUInt32BE(at, 8 + i * 12);
    table.writeUInt32BE(body.length, 12 + i * 12);
    bodies.push(padded);
    at += padded.length;
  });
  const header = Buffer.alloc(128);
  header.writeUInt32BE(at, 0);
  header.writeUInt32BE(0x04400000, 8);
  header.write('mntrRGB XYZ ', 12, 'latin1');
  header.writeUInt16BE(2026, 24);
  header.writeUInt16BE(6, 26);
  header.writeUInt16BE(1, 28);
  header.write('acsp', 36, 'latin1');
  fixed(0.9642, 1, 0.8249).copy(header, 68);
  return Buffer.concat([header, table, ...bodies]);
}

export interface DecodedPicture {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
  /** Red, green and blue as they are stored, of a file of 16 bits. */
  readonly deep: Uint16Array | undefined;
  /** What the file's own tags say its numbers mean; undefined when they say nothing that is understood. */
  readonly encoding: PictureEncoding | undefined;
  readonly taggedBy: string;
}

/** Decodes a PNG, JPEG or TIFF to its own numbers, untouched by any colour management, and reads its colour tags. */
export async function decodePicture(bytes: Buffer): Promise<DecodedPicture> {
  const sharp = await pictureLibrary();
  const open = () => sharp(bytes, { ignoreIcc: true });
  const { width, height, depth } = await open().metadata();
  const tags = readTags(bytes);
  if (depth !== 'ushort') {
    const rgba = await open().ensureAlpha().raw().toBuffer();
    return { width, height, rgba, deep: undefined, ...tags };
  }
  const raw = await open().removeAlpha().toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  const deep = new Uint16Array(new Uint8Array(raw).buffer);
  // To 8 bits by rounding: 65535 is 255 times 257.
  const rgba = new Uint8Array(width * height * 4).map((_, i) =>
    i % 4 === 3 ? 255 : Math.round(deep[Math.floor(i / 4) * 3 + (i % 4)]! / 257),
  );
  return { width, height, rgba, deep, ...tags };
}

function readTags(bytes: Buffer): { encoding: PictureEncoding | undefined; taggedBy: string } {
  if (bytes.readUInt32BE(0) === 0x89504e47) {
    for (let at = 8; at + 12 <= bytes.length;) {
      const type = bytes.toString('latin1', at + 4, at + 8);
      if (type === 'cICP') {
        const [primaries, transfer] = [bytes[at + 8], bytes[at + 9]];
        if (primaries === 1 && transfer === 13) return { encoding: 'srgb', taggedBy: 'cICP 1/13' };
        if (primaries === 1 && transfer === 1) return { encoding: 'bt1886', taggedBy: 'cICP 1/1' };
      }
      if (type === 'sRGB') return { encoding: 'srgb', taggedBy: 'sRGB chunk' };
      if (type === 'IDAT') break;
      at += 12 + bytes.readUInt32BE(at);
    }
    return { encoding: undefined, taggedBy: 'nothing' };
  }
  // A profile's own signature, which stands 36 bytes into it (ICC.1:2022, 7.2.1).
  const at = bytes.indexOf('acsp', 0, 'latin1') - 36;
  if (at < 0) return { encoding: undefined, taggedBy: 'nothing' };
  const curve = bytes.indexOf('para', at, 'latin1');
  const kind = curve < 0 ? -1 : bytes.readUInt16BE(curve + 8);
  return { encoding: kind === 3 ? 'srgb' : kind === 0 ? 'bt1886' : undefined, taggedBy: 'ICC profile' };
}
