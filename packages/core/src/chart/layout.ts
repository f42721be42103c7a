import type { ThreePlanes } from '../match/pictures.ts';
import { perspective, type ChartCorners } from './corners.ts';

/** Patches across and down of the common chart of 24. */
export const [chartAcross, chartDown] = [6, 4] as const;

/** What was read off a patch, in linear light. */
export interface ChartPatch {
  readonly mean: readonly [number, number, number];
  /** The standard deviation of brightness beside its mean. */
  readonly noise: number;
  /** The share of its pixels that are no numbers or above what half float holds. */
  readonly clipped: number;
  /** Its middle, in pixels of the picture. */
  readonly at: readonly [x: number, y: number];
}

/** Half float's largest number: IEEE 754-2008, binary16. */
const largestHalf = 65504;
/** So many places along each side of a patch's middle are read. */
const places = 24;

/**
 * The mean of the middle of each patch of a chart, row by row; `share` of a patch's side is read. Corners are those of the whole field of
 * patches: the outer corners of the four patches in its corners. Pixels are read where they lie, none between them.
 */
export function chartPatches(
  { width, height, planes }: { readonly width: number; readonly height: number; readonly planes: ThreePlanes },
  corners: ChartCorners,
  share = 0.5,
): ChartPatch[] {
  const place = perspective(corners);
  return Array.from({ length: chartAcross * chartDown }, (_, i) => {
    const middle = [((i % chartAcross) + 0.5) / chartAcross, (Math.floor(i / chartAcross) + 0.5) / chartDown] as const;
    const sums = [0, 0, 0, 0, 0];
    let [count, clipped] = [0, 0];
    for (let a = 0; a < places; a++)
      for (let b = 0; b < places; b++) {
        const off = (k: number) => ((k + 0.5) / places - 0.5) * share;
        const [x, y] = place(middle[0] + off(a) / chartAcross, middle[1] + off(b) / chartDown).map(Math.floor) as [
          number,
          number,
        ];
        if (x < 0 || y < 0 || x >= width || y >= height) continue;
        const own = planes.map((p) => p[y * width + x]!);
        count++;
        if (!own.every((v) => Number.isFinite(v) && v < largestHalf)) {
          clipped++;
          continue;
        }
        own.forEach((v, c) => (sums[c]! += v));
        const light = (own[0]! + own[1]! + own[2]!) / 3;
        sums[3]! += light;
        sums[4]! += light * light;
      }
    const n = Math.max(1, count - clipped);
    const brightness = sums[3]! / n;
    const spread = Math.sqrt(Math.max(0, sums[4]! / n - brightness * brightness));
    return {
      mean: [sums[0]! / n, sums[1]! / n, sums[2]! / n],
      noise: brightness > 0 ? spread / brightness : 0,
      clipped: count ? clipped / count : 1,
      at: place(...middle) as [number, number],
    };
  });
}
