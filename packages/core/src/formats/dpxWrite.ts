/** What a DPX file is written from. */
export interface DpxPicture {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue: 0 … 1 is the lowest to the highest code; beyond is clipped. Top to bottom. */
  readonly planes: readonly [Float32Array, Float32Array, Float32Array];
  readonly rate: number;
  /** SMPTE ST 268-1, table 1: 3 logarithmic, 6 ITU-R 709, 0 user-defined. */
  readonly transfer: number;
  /** The same table's colorimetric specification: 0 user-defined, 6 ITU-R 709. */
  readonly colorimetric: number;
  readonly creator: string;
  /** Binary-coded, hours first; left out where there is none. */
  readonly timecode?: number | undefined;
  /** Whose it is: the file's copyright (field 12), 199 characters at most. */
  readonly owner?: string;
  /** What its numbers are, in words: the image element's description (field 21.13), 31 characters at most. */
  readonly about?: string;
}

const headerBytes = 2048;
const undefined32 = 0xffffffff;

/** A 10-bit RGB DPX, big-endian, three samples to a word filled to the left (SMPTE ST 268-1:2014; layout from memory, read back by a reference library in tests). */
export function encodeDpx(picture: DpxPicture): Uint8Array {
  const { width, height, planes, rate, transfer, colorimetric, creator, timecode, owner = '', about = '' } = picture;
  const bytes = new Uint8Array(headerBytes + width * height * 4);
  const view = new DataView(bytes.buffer);
  // Fields that say nothing hold ones.
  bytes.fill(0xff, 0, headerBytes);
  const text = (at: number, length: number, words: string) => {
    bytes.fill(0, at, at + length);
    for (let i = 0; i < Math.min(length - 1, words.length); i++) bytes[at + i] = words.charCodeAt(i) & 127;
  };
  view.setUint32(0, 0x53445058);
  view.setUint32(4, headerBytes);
  text(8, 8, 'V2.0');
  view.setUint32(16, bytes.length);
  view.setUint32(20, 1);
  view.setUint32(24, 1664);
  view.setUint32(28, 384);
  view.setUint32(32, 0);
  text(36, 100, '');
  text(136, 24, '');
  text(160, 100, creator);
  text(260, 200, '');
  text(460, 200, owner);
  view.setUint16(768, 0);
  view.setUint16(770, 1);
  view.setUint32(772, width);
  view.setUint32(776, height);
  view.setUint32(780, 0);
  bytes.set([50, transfer, colorimetric, 10], 800);
  view.setUint16(804, 1);
  view.setUint16(806, 0);
  view.setUint32(808, headerBytes);
  view.setUint32(812, 0);
  view.setUint32(816, 0);
  text(820, 32, about);
  // Source file, its date, device and serial number; film maker, type, codes and format.
  text(1432, 188, '');
  text(1664, 48, '');
  view.setUint32(1628, 1);
  view.setUint32(1632, 1);
  view.setFloat32(1724, rate);
  view.setUint32(1920, timecode ?? undefined32);
  view.setFloat32(1940, rate);
  const code = (v: number) => Math.min(1023, Math.max(0, Math.round(v * 1023))) || 0;
  const [r, g, b] = planes;
  for (let i = 0, at = headerBytes; i < width * height; i++, at += 4)
    view.setUint32(at, ((code(r[i]!) << 22) | (code(g[i]!) << 12) | (code(b[i]!) << 2)) >>> 0);
  return bytes;
}
