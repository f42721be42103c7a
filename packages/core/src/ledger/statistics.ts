import { stepsOf, type Plan } from './plan.ts';

/** Sums per row, kept apart so that adding them up in row order gives the same bits for any split into bands. */
export interface RowStatistics {
  /** Luminance each entry adds, by entry and row. */
  readonly entries: readonly Float64Array[];
  readonly total: Float64Array;
  readonly beauty: Float64Array;
  /** Sum over pixels of the luminance-weighted absolute difference to the beauty. */
  readonly difference: Float64Array;
  readonly largest: Float64Array;
  /** Column of the largest difference in each row. */
  readonly largestAt: Int32Array;
  /** Pixels that differ by more than half-float rounding explains. */
  readonly over: Float64Array;
  /** Pixels compared. */
  readonly pixels: Float64Array;
  /** By entry: pixels that went through a table or cube of its colour, and those that lie where it cuts off. */
  readonly tabled: Float64Array;
  readonly cutOff: Float64Array;
}

export function emptyStatistics(entries: number, rows: number): RowStatistics {
  const row = () => new Float64Array(rows);
  return {
    entries: Array.from({ length: entries }, row),
    total: row(),
    beauty: row(),
    difference: row(),
    largest: row(),
    largestAt: new Int32Array(rows),
    over: row(),
    pixels: row(),
    tabled: new Float64Array(entries),
    cutOff: new Float64Array(entries),
  };
}

/** The spacing of half floats at |x| (IEEE 754 binary16: 11 significant bits, subnormals below 2^-14). */
export function halfSpacing(x: number): number {
  word[0] = x;
  // The exponent alone, ten binary places down; at least that of the smallest normal half.
  const exponent = (bits[0]! & 0x7f800000) >>> 23;
  bits[0] = (Math.max(exponent, 113) - 10) << 23;
  return word[0]!;
}
const word = new Float32Array(1);
const bits = new Uint32Array(word.buffer);

/**
 * Compares the total with the beauty, row by row. A pixel is over when a channel differs by more than rounding can
 * explain: each of the N parts and the beauty were rounded to half once (half a spacing each, at most at the size of
 * the pixel's largest channel), carried through a colour matrix of gain at most two.
 */
export function balanceRow(
  total: readonly Float32Array[],
  beauty: readonly Float32Array[],
  width: number,
  firstRow: number,
  rows: number,
  plan: Plan,
  statistics: RowStatistics,
): void {
  const [wr, wg, wb] = plan.luminance;
  const roundings = [...stepsOf(plan)].filter((s) => s.picture.kind === 'input').length + 1;
  const [tr, tg, tb] = total as [Float32Array, Float32Array, Float32Array];
  const [br, bg, bb] = beauty as [Float32Array, Float32Array, Float32Array];
  for (let y = 0; y < rows; y++) {
    let difference = 0;
    let light = 0;
    let largest = 0;
    let at = 0;
    let over = 0;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const dr = Math.abs(tr[i]! - br[i]!);
      const dg = Math.abs(tg[i]! - bg[i]!);
      const db = Math.abs(tb[i]! - bb[i]!);
      const worst = Math.max(dr, dg, db);
      if (!(worst < Infinity)) {
        over++;
        continue;
      }
      difference += wr * dr + wg * dg + wb * db;
      light += wr * br[i]! + wg * bg[i]! + wb * bb[i]!;
      if (worst > largest) {
        largest = worst;
        at = x;
      }
      if (worst === 0) continue;
      const size = Math.max(
        Math.abs(br[i]!),
        Math.abs(bg[i]!),
        Math.abs(bb[i]!),
        Math.abs(tr[i]!),
        Math.abs(tg[i]!),
        Math.abs(tb[i]!),
      );
      if (worst > roundings * halfSpacing(size)) over++;
    }
    const row = firstRow + y;
    statistics.difference[row] = difference;
    statistics.beauty[row] = light;
    statistics.largest[row] = largest;
    statistics.largestAt[row] = at;
    statistics.over[row] = over;
    statistics.pixels[row] = width;
  }
}

/** The balance proof of one frame. */
export interface Balance {
  /** Largest absolute difference of a channel, in working-space light, and where it is. */
  readonly largest: number;
  readonly at: readonly [x: number, y: number];
  /** Mean luminance difference per pixel, and as a share of the beauty's mean luminance. */
  readonly mean: number;
  readonly share: number;
  /** Share of pixels that differ by more than half-float rounding. */
  readonly overShare: number;
  readonly balanced: boolean;
}

export interface LedgerSummary {
  /** Each acting entry's share of the total's luminance, by entry id. */
  readonly shares: Readonly<Record<string, number>>;
  /** The share of an entry's pixels that a table or cube of its colour cuts off, by id; only entries that have one. */
  readonly cutOff: Readonly<Record<string, number>>;
  readonly balance?: Balance;
}

function sumAt(parts: readonly RowStatistics[], key: 'tabled' | 'cutOff', entry: number): number {
  return parts.reduce((n, part) => n + part[key][entry]!, 0);
}

/** Adds rows up in order. `parts` are consecutive bands of one frame, top first. */
export function summarise(plan: Plan, parts: readonly RowStatistics[]): LedgerSummary {
  const sum = (pick: (s: RowStatistics) => Float64Array) => {
    let all = 0;
    for (const part of parts) for (const row of pick(part)) all += row;
    return all;
  };
  const total = sum((s) => s.total);
  const shares: Record<string, number> = {};
  plan.entryIds.forEach((id, i) => (shares[id] = total === 0 ? 0 : sum((s) => s.entries[i]!) / total));
  const cutOff: Record<string, number> = {};
  plan.entryIds.forEach((id, i) => {
    const [tabled, cut] = [sumAt(parts, 'tabled', i), sumAt(parts, 'cutOff', i)];
    if (tabled > 0) cutOff[id] = cut / tabled;
  });
  if (!plan.balance) return { shares, cutOff };
  let [largest, at, row] = [0, [0, 0] as [number, number], 0];
  for (const part of parts) {
    for (let y = 0; y < part.largest.length; y++, row++) {
      if (part.largest[y]! > largest) [largest, at] = [part.largest[y]!, [part.largestAt[y]!, row]];
    }
  }
  const pixels = sum((s) => s.pixels);
  const difference = sum((s) => s.difference);
  const beauty = sum((s) => s.beauty);
  const overShare = pixels ? sum((s) => s.over) / pixels : 0;
  return {
    shares,
    cutOff,
    balance: {
      largest,
      at,
      mean: pixels ? difference / pixels : 0,
      share: beauty ? difference / beauty : difference ? 1 : 0,
      overShare,
      balanced: overShare === 0,
    },
  };
}
