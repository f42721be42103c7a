import { beforeClipping, prepareSteps, type ColourStep, type Heap, type Quad } from '@june-haze/core';
import { holdsPictures, type OutputSettings } from '@june-haze/contract';

/** Pixels whose numbers a file cannot hold as they are. */
export interface Clipping {
  below: number;
  above: number;
  notFinite: number;
}

/** The largest half (IEEE 754-2008, binary16): what lies above becomes infinite. */
const largestHalf = 65504;
/** Half a code of 8 bits: what lies nearer to an end is rounded, not cut off. */
const halfCode = 1 / 510;

/**
 * Counts the pixels of rows of a total (working space, premultiplied) that an output's files cannot hold: of pictures what the display cuts
 * off on its way through the view, of codes of a log space what lies outside of 0 … 1, of light what becomes infinite; each pixel once, by the
 * worst of its channels. `way` is the view, or the way to the log space of a DPX. The rows stay as they are.
 */
export function prepareClipping(
  settings: OutputSettings,
  way: readonly ColourStep[],
  heap: Heap,
): (quad: Quad, n: number, into: Clipping) => void {
  if (settings.kind === 'exr' || settings.kind === 'aces') {
    const high = settings.kind === 'exr' && settings.sampleType === 'float' ? Infinity : largestHalf;
    return (quad, n, into) => countOutside(heap, [quad[0], quad[1], quad[2]], n, [-Infinity, high], into);
  }
  const cut = holdsPictures(settings) ? beforeClipping(way) : undefined;
  const process = prepareSteps(cut?.steps ?? way, heap);
  const [low, high] = cut?.ends ?? [0, 1];
  return (quad, n, into) => {
    const mark = heap.mark();
    const copies = [0, 1, 2].map((c) => {
      const at = heap.allocatePlane(n);
      heap.kernels.copyPlane(at, quad[c]!, n);
      return at;
    }) as [number, number, number];
    process(...copies, n);
    countOutside(heap, copies, n, [low - halfCode, high + halfCode], into);
    heap.release(mark);
  };
}

function countOutside(
  heap: Heap,
  planes: readonly number[],
  n: number,
  [low, high]: readonly [low: number, high: number],
  into: Clipping,
): void {
  const [r, g, b] = planes.map((p) => heap.floats(p, n)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < n; i++) {
    const least = Math.min(r[i]!, g[i]!, b[i]!);
    const most = Math.max(r[i]!, g[i]!, b[i]!);
    if (!(least - least === 0 && most - most === 0)) into.notFinite++;
    else if (most > high) into.above++;
    else if (least < low) into.below++;
  }
}
