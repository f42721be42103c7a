import type { Primaries } from '../colour/primaries.ts';
import { sampleTypes, type AttributeValue, type Box, type ExrAttribute, type ExrChannel } from './types.ts';

const text = { decode: (bytes: Uint8Array) => decodeUtf8(bytes), encode: (s: string) => encodeUtf8(s) };

/** UTF-8 to a string; bytes that are no UTF-8 become U+FFFD. */
export function decodeUtf8(bytes: Uint8Array): string {
  let out = '';
  for (let i = 0; i < bytes.length;) {
    const first = bytes[i]!;
    const extra = first < 0x80 ? 0 : first >> 5 === 6 ? 1 : first >> 4 === 14 ? 2 : first >> 3 === 30 ? 3 : -1;
    let point = extra < 0 ? 0xfffd : extra === 0 ? first : first & (0x3f >> extra);
    let used = 1;
    for (let k = 1; k <= extra; k++, used++) {
      const next = bytes[i + k];
      if (next === undefined || next >> 6 !== 2) {
        point = 0xfffd;
        break;
      }
      point = (point << 6) | (next & 0x3f);
    }
    out += point > 0x10ffff ? '\ufffd' : String.fromCodePoint(point);
    i += used;
  }
  return out;
}

export function encodeUtf8(s: string): Uint8Array {
  const out: number[] = [];
  for (const c of s) {
    const p = c.codePointAt(0)!;
    if (p < 0x80) out.push(p);
    else if (p < 0x800) out.push(0xc0 | (p >> 6), 0x80 | (p & 63));
    else if (p < 0x10000) out.push(0xe0 | (p >> 12), 0x80 | ((p >> 6) & 63), 0x80 | (p & 63));
    else out.push(0xf0 | (p >> 18), 0x80 | ((p >> 12) & 63), 0x80 | ((p >> 6) & 63), 0x80 | (p & 63));
  }
  return Uint8Array.from(out);
}

type Fixed = readonly [count: number, read: 'int' | 'float' | 'double'];

/** Attribute types that are a fixed run of numbers (OpenEXR File Layout, "Attribute types"). */
const fixedTypes: Readonly<Record<string, Fixed>> = {
  int: [1, 'int'],
  float: [1, 'float'],
  double: [1, 'double'],
  v2i: [2, 'int'],
  v2f: [2, 'float'],
  v2d: [2, 'double'],
  v3i: [3, 'int'],
  v3f: [3, 'float'],
  v3d: [3, 'double'],
  m33f: [9, 'float'],
  m33d: [9, 'double'],
  m44f: [16, 'float'],
  m44d: [16, 'double'],
  box2f: [4, 'float'],
  rational: [2, 'int'],
  timecode: [2, 'int'],
  keycode: [7, 'int'],
};
const numberBytes = { int: 4, float: 4, double: 8 } as const;

/** Decodes one attribute's bytes. Throws a RangeError when the bytes do not fit the type. */
export function decodeAttribute(type: string, bytes: Uint8Array): AttributeValue {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const fixed = fixedTypes[type];
  if (fixed) {
    const [count, kind] = fixed;
    if (bytes.length !== count * numberBytes[kind]) throw new RangeError(`${type} with ${bytes.length} bytes`);
    const numbers = Array.from({ length: count }, (_, i) => readNumber(view, i * numberBytes[kind], kind));
    return count === 1 ? numbers[0]! : numbers;
  }
  switch (type) {
    case 'string':
      return text.decode(bytes);
    case 'stringvector':
      return decodeStrings(view, bytes);
    case 'box2i':
      return decodeBox(view);
    case 'chlist':
      return decodeChannels(bytes);
    case 'chromaticities':
      return decodeChromaticities(view);
    case 'compression':
    case 'lineOrder':
    case 'envmap':
    case 'deepImageState':
      return view.getUint8(0);
    case 'floatvector':
      return Array.from({ length: Math.floor(bytes.length / 4) }, (_, i) => view.getFloat32(i * 4, true));
    case 'tiledesc':
      return { xSize: view.getUint32(0, true), ySize: view.getUint32(4, true), mode: view.getUint8(8) };
    default:
      return bytes.slice();
  }
}

function readNumber(view: DataView, at: number, kind: Fixed[1]): number {
  if (kind === 'int') return view.getInt32(at, true);
  return kind === 'float' ? view.getFloat32(at, true) : view.getFloat64(at, true);
}

function decodeStrings(view: DataView, bytes: Uint8Array): string[] {
  const out: string[] = [];
  for (let at = 0; at < bytes.length;) {
    const length = view.getInt32(at, true);
    if (length < 0 || at + 4 + length > bytes.length) throw new RangeError('stringvector entry past its end');
    out.push(text.decode(bytes.subarray(at + 4, at + 4 + length)));
    at += 4 + length;
  }
  return out;
}

function decodeBox(view: DataView): Box {
  const at = (i: number) => view.getInt32(i * 4, true);
  return { xMin: at(0), yMin: at(1), xMax: at(2), yMax: at(3) };
}

function decodeChromaticities(view: DataView): Primaries {
  const pair = (i: number) => [view.getFloat32(i * 8, true), view.getFloat32(i * 8 + 4, true)] as const;
  return { red: pair(0), green: pair(1), blue: pair(2), white: pair(3) };
}

function decodeChannels(bytes: Uint8Array): ExrChannel[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out: ExrChannel[] = [];
  for (let at = 0; at < bytes.length && bytes[at] !== 0;) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end - at > 255 || end + 17 > bytes.length) throw new RangeError('channel list past its end');
    const name = text.decode(bytes.subarray(at, end));
    const type = sampleTypes[view.getInt32(end + 1, true)];
    if (!type) throw new RangeError(`channel ${name} has an unknown sample type`);
    const xSampling = view.getInt32(end + 9, true);
    const ySampling = view.getInt32(end + 13, true);
    if (xSampling < 1 || ySampling < 1) throw new RangeError(`channel ${name} has a sampling below 1`);
    out.push({ name, type, xSampling, ySampling, perceptuallyLinear: view.getUint8(end + 5) === 1 });
    at = end + 17;
  }
  return out;
}

/** Encodes an attribute's value for a header. Throws a TypeError for a value that does not fit its type. */
export function encodeAttribute({ type, value }: ExrAttribute): Uint8Array {
  if (value instanceof Uint8Array) return value;
  const fixed = fixedTypes[type];
  if (fixed) return encodeNumbers(typeof value === 'number' ? [value] : (value as readonly number[]), fixed[1]);
  switch (type) {
    case 'string':
      return text.encode(value as string);
    case 'stringvector':
      return concat(
        (value as readonly string[]).flatMap((s) => [encodeNumbers([text.encode(s).length], 'int'), text.encode(s)]),
      );
    case 'box2i': {
      const b = value as Box;
      return encodeNumbers([b.xMin, b.yMin, b.xMax, b.yMax], 'int');
    }
    case 'chromaticities': {
      const p = value as Primaries;
      return encodeNumbers([...p.red, ...p.green, ...p.blue, ...p.white], 'float');
    }
    case 'compression':
    case 'lineOrder':
    case 'envmap':
    case 'deepImageState':
      return Uint8Array.of(value as number);
    case 'floatvector':
      return encodeNumbers(value as readonly number[], 'float');
    case 'chlist':
      return encodeChannels(value as readonly ExrChannel[]);
    case 'tiledesc': {
      const { xSize, ySize, mode } = value as { xSize: number; ySize: number; mode: number };
      return concat([encodeNumbers([xSize, ySize], 'int'), Uint8Array.of(mode)]);
    }
    default:
      throw new TypeError(`An attribute of type ${type} cannot be written from this value.`);
  }
}

function encodeNumbers(numbers: readonly number[], kind: Fixed[1]): Uint8Array {
  const view = new DataView(new ArrayBuffer(numbers.length * numberBytes[kind]));
  numbers.forEach((n, i) => {
    if (kind === 'int') view.setInt32(i * 4, n, true);
    else if (kind === 'float') view.setFloat32(i * 4, n, true);
    else view.setFloat64(i * 8, n, true);
  });
  return new Uint8Array(view.buffer);
}

function encodeChannels(channels: readonly ExrChannel[]): Uint8Array {
  const parts = channels.flatMap((c) => [
    text.encode(c.name),
    Uint8Array.of(0),
    encodeNumbers([sampleTypes.indexOf(c.type)], 'int'),
    Uint8Array.of(c.perceptuallyLinear ? 1 : 0, 0, 0, 0),
    encodeNumbers([c.xSampling, c.ySampling], 'int'),
  ]);
  return concat([...parts, Uint8Array.of(0)]);
}

export function concat(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}
