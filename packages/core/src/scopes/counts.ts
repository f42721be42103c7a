import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import type { Heap } from '../kernel/heap.ts';
import { middleGrey } from '../inspect/stops.ts';

/** What scopes show: the codes of the screen, or the working space's numbers, in stops from middle grey or as they are from 0 to 1. */
export const scopesOf = ['shown', 'working', 'linear'] as const;
export type ScopesOf = (typeof scopesOf)[number];

/** Channels of waveform and histogram: brightness (luma of codes, luminance of light), red, green, blue. */
export const scopeChannels = ['brightness', 'red', 'green', 'blue'] as const;

export const scopeColumns = 256;
/** Levels of a histogram: codes 0 … 255, or sixteenths of a stop. A waveform has half as many. */
export const scopeLevels = 256;
export const waveformLevels = scopeLevels / 2;
/** Squares along a side of the vectorscope and of the chromaticity diagram. */
export const scopeSide = 128;
/** Stops from middle grey that the levels of working numbers span, either way; what lies beyond is counted at the ends. */
export const scopeStops = 8;
/** What the chromaticity diagram spans, in x and y of CIE 1931. */
export const chromaticitySpan = { x: 0.8, y: 0.9 };

export interface ScopeCounts {
  /** By channel, level from below, column: counts of pixels. */
  readonly waveform: Uint32Array<ArrayBuffer>;
  /** By channel and level. */
  readonly histogram: Uint32Array<ArrayBuffer>;
  /** Of codes: Cb across, Cr upwards from below, the middle neutral; ITU-R BT.709-6 item 3.3. */
  readonly vectors: Uint32Array<ArrayBuffer>;
  /** Of working light: x across, y upwards. */
  readonly chromaticity: Uint32Array<ArrayBuffer>;
}

export const noScopes = (): ScopeCounts => ({
  waveform: new Uint32Array(4 * waveformLevels * scopeColumns),
  histogram: new Uint32Array(4 * scopeLevels),
  vectors: new Uint32Array(scopeSide ** 2),
  chromaticity: new Uint32Array(scopeSide ** 2),
});

export function addScopes(to: ScopeCounts, other: ScopeCounts): void {
  for (const name of ['waveform', 'histogram', 'vectors', 'chromaticity'] as const) {
    const [sum, more] = [to[name], other[name]];
    for (let i = 0; i < sum.length; i++) sum[i]! += more[i]!;
  }
}

/** Some pixels of one row: so many of them from `left` on, of a region that spans `from` to `from + across`. */
export interface ScopeRow {
  readonly left: number;
  readonly count: number;
  readonly from: number;
  readonly across: number;
}

const columnOf = (x: number, { from, across }: ScopeRow) => Math.floor(((x - from) * scopeColumns) / across);

/** Luma of R'G'B': ITU-R BT.709-6 item 3.2. */
const luma: Vector3 = [0.2126, 0.7152, 0.0722];
/** What B' − Y' and R' − Y' are divided by, so that they span −½ … ½: BT.709-6 item 3.3. */
const [blueSpan, redSpan] = [1.8556, 1.5748];

/** Cb and Cr of R'G'B', −½ … ½ for codes 0 … 1. */
export function vectorOf(r: number, g: number, b: number): readonly [cb: number, cr: number] {
  const y = luma[0] * r + luma[1] * g + luma[2] * b;
  return [(b - y) / blueSpan, (r - y) / redSpan];
}

/** What the vectorscope spans, either way: full primaries lie at ½. */
export const vectorSpan = 0.56;

const square = (v: number) =>
  Math.min(scopeSide - 1, Math.max(0, Math.floor(((v + vectorSpan) * scopeSide) / (2 * vectorSpan))));

/** Counts RGBA8 codes: waveform and histogram where `levels` says so, and the vectorscope. `codes` begins at the row's `left`. */
export function countCodes(codes: Uint8Array, row: ScopeRow, levels: boolean, counts: ScopeCounts): void {
  const { vectors } = counts;
  for (let i = 0; i < row.count; i++) {
    const [r, g, b] = [codes[4 * i]!, codes[4 * i + 1]!, codes[4 * i + 2]!];
    const y = luma[0] * r + luma[1] * g + luma[2] * b;
    if (levels) {
      const column = columnOf(row.left + i, row);
      countLevel(counts, 0, Math.round(y), column);
      countLevel(counts, 1, r, column);
      countLevel(counts, 2, g, column);
      countLevel(counts, 3, b, column);
    }
    vectors[square((r - y) / redSpan / 255) * scopeSide + square((b - y) / blueSpan / 255)]!++;
  }
}

function countLevel({ waveform, histogram }: ScopeCounts, channel: number, level: number, column: number): void {
  histogram[channel * scopeLevels + level]!++;
  waveform[(channel * waveformLevels + (level >> 1)) * scopeColumns + column]!++;
}

/** The level of a number in stops from middle grey; 0 and below, and what is no number, are at the bottom. */
export function levelOfStops(stops: number): number {
  const level = Math.floor(((stops + scopeStops) * scopeLevels) / (2 * scopeStops));
  return level > 0 ? Math.min(scopeLevels - 1, level) : 0;
}

/** The level of a number from 0 to 1; what lies beyond is at the ends, what is no number at the bottom. */
export const levelOfNumber = (v: number): number =>
  v > 0 ? Math.min(scopeLevels - 1, Math.floor(v * scopeLevels)) : 0;

/** Counts numbers of a working space as they are: waveform and histogram from 0 to 1. `pointers` are at the row's `left`. */
export function countNumbers(
  pointers: Planes3,
  luminance: Vector3,
  row: ScopeRow,
  heap: Heap,
  counts: ScopeCounts,
): void {
  const [red, green, blue] = pointers.map((p) => heap.floats(p, row.count)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  for (let i = 0; i < row.count; i++) {
    const [r, g, b] = [red[i]!, green[i]!, blue[i]!];
    const column = columnOf(row.left + i, row);
    countLevel(counts, 0, levelOfNumber(luminance[0] * r + luminance[1] * g + luminance[2] * b), column);
    countLevel(counts, 1, levelOfNumber(r), column);
    countLevel(counts, 2, levelOfNumber(g), column);
    countLevel(counts, 3, levelOfNumber(b), column);
  }
}

const leastLog = Math.fround(2 ** -100);
const greyLog = Math.log2(middleGrey);

/** Three planes in the heap. */
export type Planes3 = readonly [r: number, g: number, b: number];

/** Counts scene-linear numbers of a working space: waveform and histogram in stops. `pointers` are at the row's `left`. */
export function countStops(
  pointers: Planes3,
  luminance: Vector3,
  row: ScopeRow,
  heap: Heap,
  counts: ScopeCounts,
): void {
  const { count } = row;
  const mark = heap.mark();
  const logs = [0, 1, 2, 3].map(() => heap.allocatePlane(count));
  const planes = pointers.map((p) => heap.floats(p, count));
  const [y, r, g, b] = logs.map((p) => heap.floats(p, count)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const above = (v: number) => (v > leastLog ? v : leastLog);
  for (let i = 0; i < count; i++) {
    const [red, green, blue] = [planes[0]![i]!, planes[1]![i]!, planes[2]![i]!];
    y[i] = above(luminance[0] * red + luminance[1] * green + luminance[2] * blue);
    r[i] = above(red);
    g[i] = above(green);
    b[i] = above(blue);
  }
  logs.forEach((p, channel) => {
    heap.kernels.log2Plane(p, count);
    const log = heap.floats(p, count);
    for (let i = 0; i < count; i++)
      countLevel(counts, channel, levelOfStops(log[i]! - greyLog), columnOf(row.left + i, row));
  });
  heap.release(mark);
}

/** Counts the chromaticities of scene-linear numbers; `toXyz` is the working space's. What is no light is not counted. */
export function countChromaticity(
  pointers: Planes3,
  toXyz: Matrix3,
  count: number,
  heap: Heap,
  { chromaticity }: ScopeCounts,
): void {
  const planes = pointers.map((p) => heap.floats(p, count));
  const [xr, xg, xb, yr, yg, yb, zr, zg, zb] = toXyz;
  const [kx, ky] = [scopeSide / chromaticitySpan.x, scopeSide / chromaticitySpan.y];
  for (let i = 0; i < count; i++) {
    const [r, g, b] = [planes[0]![i]!, planes[1]![i]!, planes[2]![i]!];
    const [x, y, z] = [xr * r + xg * g + xb * b, yr * r + yg * g + yb * b, zr * r + zg * g + zb * b];
    const sum = x + y + z;
    if (!(sum > 1e-6) || sum === Infinity) continue;
    const [column, line] = [Math.floor((x / sum) * kx), Math.floor((y / sum) * ky)];
    if (column >= 0 && column < scopeSide && line >= 0 && line < scopeSide) chromaticity[line * scopeSide + column]!++;
  }
}
