import type { Heap } from '../kernel/heap.ts';

/**
 * A curve over the floats of some doublings as a table, straight between entries. A doubling has 2^9 entries, so that a curve whose
 * x² · f'' stays near its own size is met to 2^-21 of it (h²/8 · f'' with h = x · 2^-9): under 5e-7.
 */
export interface CurveTable {
  readonly entries: Float32Array;
  readonly first: number;
  readonly shift: number;
  readonly low: number;
  readonly high: number;
  /** Below `low`: `held`, or `held` times x and `offset`. */
  readonly straight: boolean;
  readonly held: number;
  readonly offset: number;
}

/** Mantissa bits of a float that are not in an entry's place: 23 less the 9 of entries a doubling. */
const shift = 23 - 9;

/** What a curve is below its table: one value, or a straight line up to a cut, which is the line's. */
export type Below =
  { readonly held: number } | { readonly slope: number; readonly cut: number; readonly offset?: number };

const bitsOf = new Int32Array(1);
const floatOf = new Float32Array(bitsOf.buffer);

const known = new Map<string, CurveTable>();
const mostKnown = 64;

/** The next float above a positive one. */
function above(x: number): number {
  floatOf[0] = x;
  bitsOf[0]! += 1;
  return floatOf[0]!;
}

/**
 * The table of a curve from 2^from to 2^to. `run` is the curve over a plane of the heap, its bent part alone where it begins straight;
 * `key` tells one curve from another, so that each is worked out once a thread.
 */
export function curveTable(
  key: string,
  [from, to]: readonly [number, number],
  below: Below,
  heap: Heap,
  run: (plane: number, n: number) => void,
): CurveTable {
  const found = known.get(key);
  if (found) return found;
  const high = 2 ** to;
  floatOf[0] = 2 ** from;
  const first = bitsOf[0]!;
  const low = 'cut' in below ? above(below.cut) : 2 ** from;
  // One further behind the last, which is read with no weight.
  const count = (to - from) * 2 ** (23 - shift) + 2;
  const mark = heap.mark();
  const plane = heap.allocatePlane(count);
  const bits = new Int32Array(heap.kernels.memory.buffer, plane, count);
  for (let i = 0; i < count; i++) bits[i] = first + i * 2 ** shift;
  run(plane, count);
  const entries = heap.floats(plane, count).slice();
  heap.release(mark);
  const rest =
    'slope' in below
      ? { straight: true, held: below.slope, offset: below.offset ?? 0 }
      : { straight: false, held: below.held, offset: 0 };
  const made: CurveTable = { entries, first, shift, low, high, ...rest };
  if (known.size >= mostKnown) known.delete(known.keys().next().value!);
  known.set(key, made);
  return made;
}

/** A plane through a curve's table; what lies above it, through the curve itself. Each sample's result depends on it alone. */
export function prepareTable(
  table: CurveTable,
  heap: Heap,
  run: (plane: number, n: number) => void,
): (plane: number, n: number) => void {
  const at = heap.placeFloats(table.entries);
  const { first, shift: bits, low, high, straight, held, offset } = table;
  const k = heap.kernels;
  return (plane, n) => {
    if (!k.anyAbove(plane, n, high)) {
      k.curveTable(plane, n, at, first, bits, low, high, straight ? 1 : 0, held, offset);
      return;
    }
    const mark = heap.mark();
    const [before, exact] = [heap.allocatePlane(n), heap.allocatePlane(n)];
    k.copyPlane(before, plane, n);
    k.copyPlane(exact, plane, n);
    run(exact, n);
    k.curveTable(plane, n, at, first, bits, low, high, straight ? 1 : 0, held, offset);
    const [own, was, by] = [heap.floats(plane, n), heap.floats(before, n), heap.floats(exact, n)];
    for (let i = 0; i < n; i++) if (!(was[i]! <= high)) own[i] = by[i]!;
    heap.release(mark);
  };
}
