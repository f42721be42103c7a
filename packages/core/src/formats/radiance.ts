import type { Evidence } from '../intake/evidence.ts';
import { chromaticityEvidence } from '../intake/evidence.ts';
import { FormatError } from './formatError.ts';

/** What the header of a Radiance picture says ("Radiance file formats", Ward; from memory). */
export interface RadianceHeader {
  readonly width: number;
  readonly height: number;
  /** All EXPOSURE lines multiplied: what the numbers were scaled by. */
  readonly exposure: number;
  readonly pixelAspect: number;
  readonly attributes: Readonly<Record<string, string>>;
  readonly evidence: readonly Evidence[];
  readonly dataOffset: number;
  /** Lines run from the bottom, columns from the right. */
  readonly flipped: boolean;
  readonly mirrored: boolean;
}

/** Reads the header from the file's beginning. Throws a FormatError for what is none, or is XYZE. */
export function readRadianceHeader(head: Uint8Array, file: string): RadianceHeader {
  let at = 0;
  const line = (): string => {
    const end = head.indexOf(10, at);
    if (end < 0 || end - at > 4096) throw new FormatError(file, 'the file ends inside its header.');
    const text = String.fromCharCode(...head.subarray(at, end));
    at = end + 1;
    return text.trimEnd();
  };
  if (!line().startsWith('#?')) throw new FormatError(file, 'this is not a Radiance picture.');
  const attributes: Record<string, string> = {};
  let exposure = 1;
  for (let text = line(); text !== ''; text = line()) {
    const [, name, value] = /^([^=#]+)=\s*(.*)$/.exec(text) ?? [];
    if (name === undefined || value === undefined) continue;
    attributes[name.trim()] = value;
    if (name.trim() === 'EXPOSURE' && Number(value) > 0) exposure *= Number(value);
  }
  if (attributes.FORMAT !== undefined && attributes.FORMAT !== '32-bit_rle_rgbe')
    throw new FormatError(file, `pictures in ${attributes.FORMAT} are not read; 32-bit_rle_rgbe are.`);
  const size = /^([-+])Y (\d+) ([-+])X (\d+)$/.exec(line());
  const [height, width] = [Number(size?.[2]), Number(size?.[4])];
  if (!size || !(width > 0 && height > 0 && width <= 65536 && height <= 65536))
    throw new FormatError(file, 'its size is not said in the usual way (-Y height +X width).');
  const aspect = Number(attributes.PIXASPECT);
  const numbers = attributes.PRIMARIES?.trim().split(/\s+/).map(Number) ?? [];
  const pair = (i: number) => [numbers[i * 2]!, numbers[i * 2 + 1]!] as const;
  const evidence =
    numbers.length === 8 && numbers.every(Number.isFinite)
      ? [chromaticityEvidence({ red: pair(0), green: pair(1), blue: pair(2), white: pair(3) })]
      : [];
  return {
    width,
    height,
    exposure,
    pixelAspect: aspect > 0 ? aspect : 1,
    attributes,
    evidence,
    dataOffset: at,
    flipped: size[1] === '+',
    mirrored: size[3] === '-',
  };
}

/** Decodes to scene-linear floats, exposure undone; planes R, G, B, top to bottom. Throws a FormatError when the file is cut short. */
export function decodeRadiance(
  bytes: Uint8Array,
  file: string,
): { header: RadianceHeader; planes: Record<string, Float32Array> } {
  const header = readRadianceHeader(bytes, file);
  const { width, height } = header;
  const planes = [0, 1, 2].map(() => new Float32Array(width * height));
  const line = new Uint8Array(width * 4);
  let at = header.dataOffset;
  for (let y = 0; y < height; y++) {
    at = unpackLine(bytes, at, line, width, file, y);
    const row = (header.flipped ? height - 1 - y : y) * width;
    for (let x = 0; x < width; x++) {
      const exponent = line[width * 3 + x]!;
      const scale = exponent === 0 ? 0 : 2 ** (exponent - 136) / header.exposure;
      const to = row + (header.mirrored ? width - 1 - x : x);
      for (let c = 0; c < 3; c++) planes[c]![to] = line[width * c + x]! * scale;
    }
  }
  return { header, planes: { R: planes[0]!, G: planes[1]!, B: planes[2]! } };
}

/** One line into four runs of bytes: red, green, blue, exponent. Returns where the next begins. */
function unpackLine(bytes: Uint8Array, from: number, line: Uint8Array, width: number, file: string, y: number): number {
  let at = from;
  const next = (): number => {
    if (at >= bytes.length) throw new FormatError(file, `the file ends early; line ${y} and what follows are missing.`);
    return bytes[at++]!;
  };
  const packed = bytes[at] === 2 && bytes[at + 1] === 2 && ((bytes[at + 2]! << 8) | bytes[at + 3]!) === width;
  if (!packed) return plainLine(next, () => at, line, width);
  at += 4;
  for (let c = 0; c < 4; c++) {
    for (let x = 0; x < width;) {
      const count = next();
      const run = count > 128;
      const length = run ? count - 128 : count;
      if (length === 0 || x + length > width) throw new FormatError(file, `line ${y} is damaged.`);
      const value = run ? next() : 0;
      for (let i = 0; i < length; i++) line[c * width + x++] = run ? value : next();
    }
  }
  return at;
}

/** Pixels one after the other; 1, 1, 1, n repeats the last one, n growing by eight bits with every repeat in a row. */
function plainLine(next: () => number, at: () => number, line: Uint8Array, width: number): number {
  let shift = 0;
  for (let x = 0; x < width;) {
    const pixel = [next(), next(), next(), next()];
    if (pixel[0] === 1 && pixel[1] === 1 && pixel[2] === 1 && x > 0) {
      for (let n = Math.min(pixel[3]! << shift, width - x); n > 0; n--, x++)
        for (let c = 0; c < 4; c++) line[c * width + x] = line[c * width + x - 1]!;
      shift += 8;
    } else {
      for (let c = 0; c < 4; c++) line[c * width + x] = pixel[c]!;
      shift = 0;
      x++;
    }
  }
  return at();
}
