import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import type { Window } from '../image/level.ts';
import type { Heap } from '../kernel/heap.ts';
import {
  countChromaticity,
  countCodes,
  countNumbers,
  countStops,
  type Planes3,
  type ScopeCounts,
  type ScopesOf,
} from './counts.ts';

/** What is counted of a picture. */
export interface ScopesWanted {
  readonly of: ScopesOf;
  /** Where, in pixels of the picture as it is drawn; all of it when left out. */
  readonly region?: Window | undefined;
  /** Only every so many rows: for pictures that are soon another. All when left out. */
  readonly every?: number | undefined;
}

/** Some whole rows of a picture. */
export interface ScopeBand {
  readonly top: number;
  readonly rows: number;
  readonly width: number;
}

/** Calls with each row of a band that lies in a region: where it begins within the band, and its place. */
function* rowsWithin({ top, rows, width }: ScopeBand, { region, every = 1 }: ScopesWanted) {
  const { x, y, width: across, height } = region ?? { x: 0, y: 0, width, height: Infinity };
  const [left, right] = [Math.max(0, x), Math.min(width, x + across)];
  if (right <= left) return;
  // Rows are counted from the picture's first, so that bands make no difference.
  const first = Math.ceil(Math.max(top, y) / every) * every;
  for (let row = first; row < Math.min(top + rows, y + height); row += every)
    yield { at: (row - top) * width + left, row: { left, count: right - left, from: left, across: right - left } };
}

/** Counts a band's numbers, before the view runs over them: scene-linear, in the working space. `toXyz` where its primaries are known. */
export function countBandLight(
  planes: Planes3,
  band: ScopeBand,
  wanted: ScopesWanted,
  { luminance, toXyz, heap }: { luminance: Vector3; toXyz: Matrix3 | undefined; heap: Heap },
  counts: ScopeCounts,
): void {
  for (const { at, row } of rowsWithin(band, wanted)) {
    const part = planes.map((p) => p + 4 * at) as unknown as Planes3;
    if (wanted.of === 'working') countStops(part, luminance, row, heap, counts);
    if (wanted.of === 'linear') countNumbers(part, luminance, row, heap, counts);
    if (toXyz) countChromaticity(part, toXyz, row.count, heap, counts);
  }
}

/** Counts a band's RGBA8 codes as they are shown. */
export function countBandCodes(codes: Uint8Array, band: ScopeBand, wanted: ScopesWanted, counts: ScopeCounts): void {
  for (const { at, row } of rowsWithin(band, wanted))
    countCodes(codes.subarray(4 * at, 4 * (at + row.count)), row, wanted.of === 'shown', counts);
}
