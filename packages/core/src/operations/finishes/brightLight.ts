import type { Heap } from '../../kernel/heap.ts';
import type { Vector3 } from '../../colour/matrix.ts';
import type { Quad } from '../blend.ts';
import type { FinishBlock, WholePicture } from '../finish.ts';
import { placesOf } from './places.ts';

const f = Math.fround;

/** Leaves of a block, in place, the light above a threshold of luminance; its colour stays. */
export function keepAbove(heap: Heap, total: Quad, n: number, threshold: number, [wr, wg, wb]: Vector3): void {
  for (const p of total) heap.kernels.keepFinite(p, n);
  const [r, g, b] = total.map((p) => heap.floats(p, n)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < n; i++) {
    const y = wr * r[i]! + wg * g[i]! + wb * b[i]!;
    const kept = y > threshold ? f((y - threshold) / y) : 0;
    r[i] = r[i]! * kept;
    g[i] = g[i]! * kept;
    b[i] = b[i]! * kept;
  }
}

/** Moves colour towards its luminance: 1 leaves it, 0 makes it grey. */
export function saturate(planes: readonly Float32Array[], saturation: number, [wr, wg, wb]: Vector3): void {
  if (saturation === 1) return;
  const [r, g, b] = planes as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < r.length; i++) {
    const y = wr * r[i]! + wg * g[i]! + wb * b[i]!;
    r[i] = y + saturation * (r[i]! - y);
    g[i] = y + saturation * (g[i]! - y);
    b[i] = y + saturation * (b[i]! - y);
  }
}

type SpreadBlock = Pick<FinishBlock<never>, 'heap' | 'width' | 'from' | 'fromTop' | 'to' | 'top' | 'end' | 'whole'>;

/** The total's rows with what was gathered and spread added to their colour; alpha stays. */
export function addSpread({ heap, width, from, fromTop, to, top, end, whole }: SpreadBlock, amount: number): void {
  const n = (end - top) * width;
  for (let c = 0; c < 4; c++) {
    heap.kernels.copyPlane(to[c]!, from[c]! + (top - fromTop) * width * 4, n);
    if (c < 3 && whole) addEnlarged(heap.floats(to[c]!, n), whole.planes[c]!, whole, { width, top, amount });
  }
}

/** Adds a halved plane, enlarged by straight lines between its samples, to rows of the full one. */
function addEnlarged(
  to: Float32Array,
  small: Float32Array,
  whole: WholePicture,
  { width, top, amount }: { readonly width: number; readonly top: number; readonly amount: number },
): void {
  const side = 2 ** whole.halved;
  const rows = to.length / width;
  const columns = placesOf(width, whole.width, (x) => (x + 0.5) / side - 0.5);
  const lines = placesOf(rows, whole.height, (y) => (top + y + 0.5) / side - 0.5);
  // A row of the small plane's height, times the amount, and the change to its next sample.
  const [line, step] = [new Float32Array(whole.width), new Float32Array(whole.width)];
  const s = f(amount);
  for (let y = 0, i = 0; y < rows; y++) {
    const [upper, lower, part] = [lines.first[y]! * whole.width, lines.next[y]! * whole.width, lines.share[y]!];
    for (let x = 0; x < line.length; x++)
      line[x] = f(s * f(small[upper + x]! + f(part * f(small[lower + x]! - small[upper + x]!))));
    for (let x = 0; x < line.length - 1; x++) step[x] = f(line[x + 1]! - line[x]!);
    for (let x = 0; x < width; x++, i++) {
      const first = columns.first[x]!;
      to[i] = to[i]! + f(line[first]! + f(columns.share[x]! * step[first]!));
    }
  }
}
