import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import type { Window } from '../image/level.ts';
import type { Heap } from '../kernel/heap.ts';
import { countChromaticity, countCodes, countStops, type Planes3, type ScopeCounts, type ScopesOf } from './counts.ts';

/** What is counted of a picture. */
export interface ScopesWanted {
  readonly of: ScopesOf;
  /** Where, in pixels of the picture as it is drawn; all of it when left out. */
  readonly region?: Window | undefined;
}

/** Some whole rows of a picture. */
export interface ScopeBand {
  readonly top: number;
  readonly rows: number;
  readonly width: number;
}

/** Calls with each row of a band that lies in a region: where it begins within the band, and its place. */
function* rowsWithin({ top, rows, width }: ScopeBand, region: Window | undefined) {
  const { x, y, width: across, height } = region ?? { x: 0, y: 0, width, height: Infinity };
  const [left, right] = [Math.max(0, x), Math.min(width, x + across)];
  if (right <= left) return;
  for (let row = Math.max(top, y); row < Math.min(top + rows, y + height); row++)
    yield { at: (row - top) * width + left, row: { left, count: right - left, from: left, across: right - left } };
}

/** Counts a band's numbers, before the view runs over them: scene-linear, in the working space. `toXyz` where its primaries are known. */
export function countBandLight(
  planes: Planes3,
  band: ScopeBand,
  { of, region }: ScopesWanted,
  { luminance, toXyz, heap }: { luminance: Vector3; toXyz: Matrix3 | undefined; heap: Heap },
  counts: ScopeCounts,
): void {
  for (const { at, row } of rowsWithin(band, region)) {
    const part = planes.map((p) => p + 4 * at) as unknown as Planes3;
    if (of === 'working') countStops(part, luminance, row, heap, counts);
    if (toXyz) countChromaticity(part, toXyz, row.count, heap, counts);
  }
}

/** Counts a band's RGBA8 codes as they are shown. */
export function countBandCodes(
  codes: Uint8Array,
  band: ScopeBand,
  { of, region }: ScopesWanted,
  counts: ScopeCounts,
): void {
  for (const { at, row } of rowsWithin(band, region))
    countCodes(codes.subarray(4 * at, 4 * (at + row.count)), row, of === 'shown', counts);
}
