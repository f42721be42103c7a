import { FormatError } from './formatError.ts';

/** One component of a JPEG frame. */
export interface JpegComponent {
  /** Samples across and down beside the finest component's, as counted by the file: 1 … 4. */
  readonly across: number;
  readonly down: number;
  /** Divisors of the 64 cosine coefficients, row by row. */
  readonly table: readonly number[];
}

/** How a JPEG was coded: all that changed its codes. */
export interface JpegCoding {
  readonly components: readonly JpegComponent[];
  /** Its components are luma and colour differences (JFIF 1.02), not red, green and blue. */
  readonly yCbCr: boolean;
}

/** The zigzag order of coefficients: ITU-T T.81, figure A.6. */
const zigzag = [
  0, 1, 8, 16, 9, 2, 3, 10, 17, 24, 32, 25, 18, 11, 4, 5, 12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6, 7, 14, 21, 28,
  35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47,
  55, 62, 63,
] as const;

/**
 * The quantisation tables and sampling of a JPEG (ITU-T T.81, annex B.2: DQT, SOF; the APP14 marker, known by its maker's name in its bytes, says where there is no colour
 * transform). Throws a FormatError for what is none or ends before its frame header.
 */
export function readJpegCoding(bytes: Uint8Array, name: string): JpegCoding {
  const word = (at: number) => (bytes[at]! << 8) | bytes[at + 1]!;
  if (word(0) !== 0xffd8) throw new FormatError(name, 'this is not a JPEG.');
  const tables = new Map<number, number[]>();
  let frame: { id: number; across: number; down: number; table: number }[] | undefined;
  let transform: number | undefined;
  for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff;) {
    const marker = bytes[at + 1]!;
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (marker === 0xda || marker === 0xd9) break;
    const [begin, end] = [at + 4, at + 2 + word(at + 2)];
    if (end > bytes.length) break;
    if (marker === 0xdb) readTables(bytes.subarray(begin, end), tables);
    // Frame headers: C0 … CF but for C4, C8 and CC, which are other things.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      frame = Array.from({ length: bytes[begin + 5]! }, (_, i) => {
        const own = begin + 6 + 3 * i;
        return { id: bytes[own]!, across: bytes[own + 1]! >> 4, down: bytes[own + 1]! & 15, table: bytes[own + 2]! };
      });
    if (marker === 0xee && String.fromCharCode(...bytes.subarray(begin, begin + 5)) === 'Adobe')
      transform = bytes[begin + 11];
    at = end;
  }
  if (!frame) throw new FormatError(name, 'this JPEG ends before its frame header.');
  const components = frame.map(({ across, down, table }): JpegComponent => {
    const found = tables.get(table);
    if (!found || !across || !down)
      throw new FormatError(name, 'this JPEG’s frame header names a table that is not there.');
    return { across, down, table: found };
  });
  const letters = String.fromCharCode(...frame.map((c) => c.id));
  return { components, yCbCr: components.length === 3 && transform !== 0 && letters !== 'RGB' };
}

function readTables(bytes: Uint8Array, tables: Map<number, number[]>): void {
  for (let at = 0; at < bytes.length;) {
    const [wide, id] = [bytes[at]! >> 4 > 0, bytes[at]! & 15];
    at++;
    const size = wide ? 2 : 1;
    if (at + 64 * size > bytes.length) return;
    const table = new Array<number>(64);
    for (let i = 0; i < 64; i++) {
      const from = at + i * size;
      table[zigzag[i]!] = wide ? (bytes[from]! << 8) | bytes[from + 1]! : bytes[from]!;
    }
    tables.set(id, table);
    at += 64 * size;
  }
}
