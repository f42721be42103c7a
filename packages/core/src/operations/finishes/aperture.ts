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

/** Rows of an aperture in the heap, as the kernels read them. */
export interface PlacedSpans {
  readonly at: number;
  readonly count: number;
  /** Farther to each side no row reaches, nor the room that its sums need. */
  readonly reach: number;
  /** Farther up and down none lies. */
  readonly down: number;
}

/** An aperture's rows in the heap, until the caller's mark is released. */
export function placeSpans(heap: Heap, spans: readonly Span[]): PlacedSpans {
  const rows = pairedRows(spans);
  const at = heap.allocate(rows.length * spanBytes);
  const view = new DataView(heap.kernels.memory.buffer as ArrayBuffer, at, rows.length * spanBytes);
  rows.forEach(({ down, half, weight, twice }, k) => {
    const whole = Math.floor(half);
    const outer = weight * (half - whole);
    view.setFloat64(k * spanBytes, weight - outer, true);
    view.setFloat64(k * spanBytes + 8, outer, true);
    [down, whole, Number(twice)].forEach((v, j) => view.setInt32(k * spanBytes + 16 + 4 * j, v, true));
  });
  return {
    at,
    count: rows.length,
    reach: Math.ceil(Math.max(...spans.map((s) => s.half))) + 2,
    down: Math.max(...spans.map((s) => Math.abs(s.down))),
  };
}

/** A row of an aperture as `spreadRow` reads it. */
const spanBytes = 32;

/** An aperture's rows, those that are alike above and below its middle as one. */
function pairedRows(spans: readonly Span[]): readonly (Span & { readonly twice: boolean })[] {
  const above = (s: Span) => spans.find((o) => o.down === -s.down && o.half === s.half && o.weight === s.weight);
  return spans.flatMap((s) => {
    const other = s.down === 0 ? undefined : above(s);
    return other && s.down < 0 ? [] : [{ ...s, twice: other !== undefined }];
  });
}
