import { findSpace } from '../colour/spaces.ts';
import type { Evidence } from '../intake/evidence.ts';
import { FormatError } from './formatError.ts';

/** What a DPX header says (SMPTE ST 268-1:2014); layout from memory, checked against files of two reference libraries. */
export interface DpxHeader {
  readonly width: number;
  readonly height: number;
  readonly bits: number;
  readonly channels: readonly string[];
  readonly packing: number;
  readonly dataOffset: number;
  readonly littleEndian: boolean;
  /** Table 1 of the standard, transfer characteristic and colorimetric specification. */
  readonly transfer: number;
  readonly colorimetric: number;
  readonly pixelAspect: number;
  readonly rate: number | null;
  /** hh:mm:ss:ff, where the television header has one. */
  readonly timecode: string | null;
  readonly attributes: Readonly<Record<string, string>>;
}

/** Bytes that the reader needs to have of a header. */
export const dpxHeaderBytes = 2048;

const channelsOf: Readonly<Record<number, readonly string[]>> = {
  6: ['Y'],
  50: ['R', 'G', 'B'],
  51: ['R', 'G', 'B', 'A'],
  52: ['A', 'B', 'G', 'R'],
};

const transferWords: Readonly<Record<number, string>> = {
  0: 'user-defined',
  1: 'printing density',
  2: 'linear',
  3: 'logarithmic',
  4: 'unspecified video',
  5: 'SMPTE 274M',
  6: 'ITU-R 709',
  7: 'ITU-R 601 625',
  8: 'ITU-R 601 525',
};

/** Reads a DPX header. Throws a FormatError for what is no DPX or of a kind that is not read. */
export function readDpxHeader(head: Uint8Array, file: string): DpxHeader {
  if (head.length < dpxHeaderBytes) throw new FormatError(file, 'the file ends inside its header.');
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const magic = view.getUint32(0);
  // "SDPX" big-endian, "XPDS" little-endian.
  if (magic !== 0x53445058 && magic !== 0x58504453) throw new FormatError(file, 'this is not a DPX file.');
  const little = magic === 0x58504453;
  const u32 = (at: number) => view.getUint32(at, little);
  const u16 = (at: number) => view.getUint16(at, little);
  const defined = (x: number) => (x === 0xffffffff ? undefined : x);
  const text = (at: number, length: number) => {
    const bytes = head.subarray(at, at + length);
    const end = bytes.indexOf(0);
    return String.fromCharCode(...bytes.subarray(0, end < 0 ? length : end)).replace(/[^\x20-\x7e]/g, '');
  };
  const [width, height] = [u32(772), u32(776)];
  const descriptor = head[800]!;
  const channels = channelsOf[descriptor];
  if (!width || !height || width > 65536 || height > 65536)
    throw new FormatError(file, `a size of ${width}×${height} is not believable.`);
  if (!channels)
    throw new FormatError(file, `pictures of DPX kind ${descriptor} are not read; RGB, RGBA and luma are.`);
  if (u16(806) !== 0) throw new FormatError(file, 'run-length packed DPX files are not read.');
  const aspect = [defined(u32(1628)), defined(u32(1632))];
  const rates = [view.getFloat32(1724, little), view.getFloat32(1940, little)];
  const code = defined(u32(1920));
  const attributes: Record<string, string> = {};
  const keep = (name: string, value: string) => value && (attributes[name] = value);
  keep('file name', text(36, 100));
  keep('created', text(136, 24));
  keep('creator', text(160, 100));
  keep('project', text(260, 200));
  keep('device', text(1556, 32));
  keep('description', text(820, 32));
  keep('transfer characteristic', transferWords[head[801]!] ?? String(head[801]));
  return {
    width,
    height,
    bits: head[803]!,
    channels,
    packing: u16(804),
    dataOffset: defined(u32(808)) || u32(4),
    littleEndian: little,
    transfer: head[801]!,
    colorimetric: head[802]!,
    pixelAspect: aspect[0] && aspect[1] ? aspect[0] / aspect[1] : 1,
    rate: rates.find((r) => r > 0 && r < 1000) ?? null,
    timecode: code === undefined || code === 0 ? null : bcdTimecode(code),
    attributes,
  };
}

/** Eight digits, a nibble each (SMPTE ST 268-1, field 55). */
function bcdTimecode(code: number): string {
  const digits = code.toString(16).padStart(8, '0');
  return digits.match(/../g)!.join(':');
}

/** What the transfer characteristic says; log says that it is log and not which. */
export function dpxEvidence(header: DpxHeader): Evidence[] {
  const says = `transfer ${transferWords[header.transfer] ?? header.transfer}`;
  if (header.transfer === 2) return [{ from: 'colour tags', says, space: 'Linear Rec.709' }];
  if (header.transfer === 6) return [{ from: 'colour tags', says, space: 'Rec.709' }];
  // Ours says in words which curve it is.
  const described = findSpace(header.attributes.description ?? '');
  if (described?.family === 'log')
    return [{ from: 'colour tags', says: `described as ${described.name}`, space: described.name }];
  if (header.transfer === 1 || header.transfer === 3)
    return [{ from: 'colour tags', says: `${says}: a log curve, not said which` }];
  return [];
}

/** Bytes of one line, which ends on a whole 32-bit word. */
function lineBytes({ width, channels, bits, packing }: DpxHeader): number {
  const samples = width * channels.length;
  if (bits === 10 && packing !== 0) return Math.ceil(samples / 3) * 4;
  if (bits === 12 && packing !== 0) return Math.ceil((samples * 2) / 4) * 4;
  return Math.ceil((samples * bits) / 32) * 4;
}

/**
 * Decodes a DPX picture to code values over the full range: 0 … 1 is the lowest to the highest code. Planes by channel, top to bottom.
 * 8, 10 (packed, filled to the left or right), 12 filled and 16 bits. Throws a FormatError when the file is cut short or of another kind.
 */
export function decodeDpx(
  bytes: Uint8Array,
  file: string,
): { header: DpxHeader; planes: Record<string, Float32Array> } {
  const header = readDpxHeader(bytes, file);
  const { width, height, channels, bits, packing, littleEndian: little, dataOffset } = header;
  if (![8, 10, 12, 16].includes(bits)) throw new FormatError(file, `DPX files of ${bits} bits are not read.`);
  // Some writers end 8- and 16-bit lines without filling the last word.
  const filled = lineBytes(header);
  const tight = Math.ceil((width * channels.length * bits) / 8);
  const whole = dataOffset + filled * height <= bytes.length;
  const stride = whole || (bits !== 8 && bits !== 16) ? filled : tight;
  if (dataOffset + stride * height > bytes.length)
    throw new FormatError(
      file,
      `the file ends early; ${dataOffset + stride * height - bytes.length} bytes are missing.`,
    );
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const planes = channels.map(() => new Float32Array(width * height));
  const scale = 1 / (2 ** bits - 1);
  const code = codeReader(view, bits, packing, little);
  for (let y = 0; y < height; y++) {
    const line = dataOffset + y * stride;
    for (let x = 0, i = 0; x < width; x++) {
      for (let c = 0; c < channels.length; c++, i++) planes[c]![y * width + x] = code(line, i) * scale;
    }
  }
  return { header, planes: Object.fromEntries(channels.map((name, c) => [name, planes[c]!])) };
}

/** How sample i of a line is read (SMPTE ST 268-1, annex C: packing 1 fills to the left, 2 to the right, 0 not at all). */
function codeReader(
  view: DataView,
  bits: number,
  packing: number,
  little: boolean,
): (line: number, i: number) => number {
  if (bits === 8) return (line, i) => view.getUint8(line + i);
  if (bits === 16) return (line, i) => view.getUint16(line + i * 2, little);
  if (bits === 10 && packing !== 0) {
    const pad = packing === 1 ? 2 : 0;
    return (line, i) => (view.getUint32(line + Math.floor(i / 3) * 4, little) >>> (20 - 10 * (i % 3) + pad)) & 1023;
  }
  if (bits === 12 && packing !== 0) {
    const pad = packing === 1 ? 4 : 0;
    return (line, i) => (view.getUint16(line + i * 2, little) >>> pad) & 4095;
  }
  // Packed without gaps: samples follow each other in 32-bit words from the lowest bit up.
  return (line, i) => {
    const at = i * bits;
    const word = line + (at >>> 5) * 4;
    const shift = at & 31;
    const low = view.getUint32(word, little) >>> shift;
    const high = shift + bits > 32 ? view.getUint32(word + 4, little) << (32 - shift) : 0;
    return (low | high) & (2 ** bits - 1);
  };
}
