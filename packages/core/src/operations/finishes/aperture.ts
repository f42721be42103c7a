import type { Heap } from '../../kernel/heap.ts';

/** A row of an aperture's shape about its middle: how far below it lies, half its width in pixels beside the one in the middle, and how much it counts. */
export interface Span {
  readonly down: number;
  readonly half: number;
  readonly weight: number;
}

/** The rows of a round aperture, or of one with straight blades, from the top to the bottom; those at its rim count as far as it covers them. */
export function spansOf(radius: number, blades: 'disc' | 'six' | 'five'): Span[] {
  if (radius < 0.5) return [{ down: 0, half: 0, weight: 1 }];
  const reach = Math.ceil(radius + 0.5) - 1;
  const halfAt = (down: number): number =>
    blades === 'disc'
      ? Math.sqrt(Math.max(0, radius * radius - down * down))
      : halfOfPolygon(blades === 'six' ? 6 : 5, radius, down);
  const span = (down: number): Span => {
    const covered = Math.min(1, radius + 0.5 - Math.abs(down));
    // The middle of what of the row is covered.
    const middle = Math.sign(down) * Math.max(0, Math.abs(down) - (1 - covered) / 2);
    const chord = 2 * Math.max(0, halfAt(middle));
    return { down, half: Math.max(0, chord / 2 - 0.5), weight: covered * Math.min(1, chord) };
  };
  return Array.from({ length: 2 * reach + 1 }, (_, k) => span(k - reach)).filter((s) => s.weight > 0);
}

/** The sum of an aperture's weights, in pixels. */
export const areaOf = (spans: readonly Span[]): number =>
  spans.reduce((sum, s) => sum + s.weight * (2 * s.half + 1), 0);

/** Half the width of a regular polygon of a radius at some height, a corner up; below 0 outside. */
function halfOfPolygon(sides: number, radius: number, down: number): number {
  let half = Infinity;
  const off = radius * Math.cos(Math.PI / sides);
  for (let k = 0; k < sides; k++) {
    // The outward direction of each side; all lie equally far from the middle.
    const angle = (2 * Math.PI * (k + 0.5)) / sides - Math.PI / 2;
    const [nx, ny] = [Math.cos(angle), Math.sin(angle)];
    if (Math.abs(nx) < 1e-9) {
      if (ny * down > off) return -1;
    } else if (nx > 0) half = Math.min(half, (off - ny * down) / nx);
  }
  return half;
}

/** Where a row's pixels count, and how much (a plane of the heap, from `left` on); good until the next row is asked for. */
export interface LayerRow {
  readonly left: number;
  readonly right: number;
  readonly shares: number;
}
export type LayerRows = (y: number) => LayerRow;

/** Doubles in the heap. */
export const doubles = (heap: Heap, at: number, n: number) => new Float64Array(heap.kernels.memory.buffer, at, n);

/**
 * Spreads shares of planes (of 1, where one is 0) over an aperture's shape: each result is the sum over the shape's mirror image about its
 * pixel. Rows `from` to before `to` are spread; results are doubles of rows `first` to before `last`, in the heap until the caller's mark is
 * released. What is no finite number counts as 0.
 */
export function spread(
  heap: Heap,
  planes: readonly number[],
  rowAt: LayerRows,
  { width, from: fromRow, to: toRow }: { readonly width: number; readonly from: number; readonly to: number },
  spans: readonly Span[],
  first: number,
  last: number,
): number[] {
  const { kernels } = heap;
  const n = Math.max(0, last - first) * width;
  const out = planes.map(() => heap.allocate(n * 8));
  const reach = Math.ceil(Math.max(...spans.map((s) => s.half))) + 2;
  // Sums along a row from its first pixel on, with room at both ends: a span is the difference of two of them.
  const room = width + 1 + 2 * reach;
  const sumsAt = heap.allocate(room * 8);
  for (const at of out) doubles(heap, at, n).fill(0);
  const sums = doubles(heap, sumsAt, room);
  const rows = pairedRows(spans);
  for (let y = fromRow; y < toRow; y++) {
    const { left, right, shares } = rowAt(y);
    if (left === right) continue;
    for (let c = 0; c < planes.length; c++) {
      // No span reaches farther than that beside the row.
      sums.fill(0, Math.max(0, left - reach), reach + left + 1);
      const plane = planes[c] === 0 ? 0 : planes[c]! + (y * width + left) * 4;
      kernels.shareSums(sumsAt + (reach + left) * 8, plane, shares, right - left);
      sums.fill(sums[reach + right]!, reach + right + 1, 3 * reach + right + 1);
      for (const { down, half, weight, twice } of rows) {
        const whole = Math.floor(half);
        const outer = weight * (half - whole);
        const begin = Math.max(0, left - whole - 1);
        const end = Math.min(width, right + whole + 1);
        const at = (target: number) =>
          target < first || target >= last ? 0 : out[c]! + ((target - first) * width + begin) * 8;
        const [to, other] = [at(y + down), twice ? at(y - down) : 0];
        if (to || other)
          kernels.addSpan(
            to || other,
            to ? other : 0,
            sumsAt + (reach + begin) * 8,
            end - begin,
            whole,
            weight - outer,
            outer,
          );
      }
    }
  }
  return out;
}

/** An aperture's rows, those that are alike above and below its middle as one. */
function pairedRows(spans: readonly Span[]): readonly (Span & { readonly twice: boolean })[] {
  const above = (s: Span) => spans.find((o) => o.down === -s.down && o.half === s.half && o.weight === s.weight);
  return spans.flatMap((s) => {
    const other = s.down === 0 ? undefined : above(s);
    return other && s.down < 0 ? [] : [{ ...s, twice: other !== undefined }];
  });
}
