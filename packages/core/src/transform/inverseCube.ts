import { CubeBoxes } from './cubeBoxes.ts';
import { ColourMemory } from './colourMemory.ts';
import { CubeShell } from './cubeShell.ts';

/**
 * The six tetrahedra of a cell: the corners walked from (0,0,0) to (1,1,1), as bits r = 1, g = 2, b = 4. Where several hold a colour, the
 * first of this order answers, so that the choice is the reference library's.
 */
const paths = Int32Array.of(1, 3, 2, 3, 2, 6, 4, 6, 4, 5, 1, 5);

/** Below this a pivot counts as zero: the tetrahedron is flat in that direction. Weights may miss their limits by as much. */
const tiny = 1e-9;

/**
 * The inverse of a cube: for a colour, the place in the cube that holds it, found exactly in the tetrahedra between points.
 * The cube is widened by one shell, four times as far from the middle as its faces, so that colours outside are met; their places
 * are limited to the cube. Boxes keep the search among cells short, directions that among the shell's; a colour that was sought before,
 * as clipped white is, comes from memory.
 */
export function cubeSearch(size: number, values: Float32Array): (p: [number, number, number]) => void {
  const search = new CubeSearch(size, values);
  const memory = new ColourMemory();
  const out = new Float64Array(3);
  return (p) => {
    const x = unit(p[0]);
    const y = unit(p[1]);
    const z = unit(p[2]);
    if (memory.recall(x, y, z, p)) return;
    search.find(x, y, z, out);
    p[0] = out[0]!;
    p[1] = out[1]!;
    p[2] = out[2]!;
    memory.keep(x, y, z, p);
  };
}

/** Colours are looked for within 0 … 1, as the reference does. */
function unit(x: number): number {
  return Math.min(Math.max(x, 0), 1);
}

class CubeSearch {
  /** Points a side, shell included. */
  private readonly wide: number;
  private readonly size: number;
  private readonly points: Float64Array;
  private readonly inner: CubeBoxes;
  private readonly shell: CubeShell;
  private readonly columns = new Float64Array(12);
  private readonly weights = new Float64Array(3);
  /** The colour sought, where it was found, and the order of that cell among all. */
  private x = 0;
  private y = 0;
  private z = 0;
  private out: Float64Array = new Float64Array(3);
  private first = Infinity;

  constructor(size: number, values: Float32Array) {
    this.size = size;
    this.wide = size + 2;
    this.points = widen(size, values);
    const { wide } = this;
    const side = wide - 1;
    const corner = (r: number, g: number, b: number, k: number) =>
      (((b + (k >> 2)) * wide + g + ((k >> 1) & 1)) * wide + r + (k & 1)) * 3;
    const onShell = (r: number, g: number, b: number) =>
      r === 0 || g === 0 || b === 0 || r === side - 1 || g === side - 1 || b === side - 1;
    const shell: [number, number, number][] = [];
    for (let b = 0; b < side; b++)
      for (let g = 0; g < side; g++) for (let r = 0; r < side; r++) if (onShell(r, g, b)) shell.push([r, g, b]);
    shell.sort((p, q) => orderOf(...p) - orderOf(...q));
    this.inner = new CubeBoxes(side, this.points, corner, onShell);
    this.shell = new CubeShell(shell.flat(), this.points, corner);
  }

  /** Place of a colour in 0 … 1; (0, 0, 0) when no tetrahedron holds it. Of several that do, the first in the order of cells answers. */
  find(x: number, y: number, z: number, out: Float64Array): void {
    out.fill(0);
    if (x !== x || y !== y || z !== z) return;
    [this.x, this.y, this.z, this.out, this.first] = [x, y, z, out, Infinity];
    this.inner.find(x, y, z, this.tryInner);
    this.shell.find(x, y, z, this.tryShell);
  }

  private readonly tryInner = (r: number, g: number, b: number): boolean => {
    if (!this.inCell(r, g, b)) return false;
    this.first = orderOf(r, g, b);
    return true;
  };

  /** What comes behind the inner cell that holds the colour ends the search. */
  private readonly tryShell = (r: number, g: number, b: number): boolean =>
    orderOf(r, g, b) > this.first || this.inCell(r, g, b);

  private inCell(r: number, g: number, b: number): boolean {
    const { wide, points: p, columns: m, weights } = this;
    const p0 = ((b * wide + g) * wide + r) * 3;
    const last = p0 + ((wide + 1) * wide + 1) * 3;
    const o0 = p[p0]!;
    const o1 = p[p0 + 1]!;
    const o2 = p[p0 + 2]!;
    const a0 = p[last]! - o0;
    const a1 = p[last + 1]! - o1;
    const a2 = p[last + 2]! - o2;
    const d0 = this.x - o0;
    const d1 = this.y - o1;
    const d2 = this.z - o2;
    for (let t = 0; t < paths.length; t += 2) {
      const k1 = paths[t]!;
      const k2 = paths[t + 1]!;
      // Colour = p0 + a (last − p0) + b (second − p0) + c (first − p0), a, b, c >= 0, a + b + c <= 1. Channel by channel: most that are
      // tried end at the first.
      const first = p0 + (((k1 >> 2) * wide + ((k1 >> 1) & 1)) * wide + (k1 & 1)) * 3;
      const second = p0 + (((k2 >> 2) * wide + ((k2 >> 1) & 1)) * wide + (k2 & 1)) * 3;
      const b0 = p[second]! - o0;
      const c0 = p[first]! - o0;
      if (misses(a0, b0, c0, d0)) continue;
      const b1 = p[second + 1]! - o1;
      const c1 = p[first + 1]! - o1;
      if (misses(a1, b1, c1, d1)) continue;
      const b2 = p[second + 2]! - o2;
      const c2 = p[first + 2]! - o2;
      if (misses(a2, b2, c2, d2)) continue;
      if (isOutside(a0, a1, a2, b0, b1, b2, c0, c1, c2, d0, d1, d2)) continue;
      m[0] = a0;
      m[1] = b0;
      m[2] = c0;
      m[3] = d0;
      m[4] = a1;
      m[5] = b1;
      m[6] = c1;
      m[7] = d1;
      m[8] = a2;
      m[9] = b2;
      m[10] = c2;
      m[11] = d2;
      if (!solveWithin(m, weights)) continue;
      const w = weights[0]!;
      const v = w + weights[1]!;
      const u = v + weights[2]!;
      // Which axis each sum belongs to: the bit added at each step of the path.
      const [i, j] = [axisOf(k1), axisOf(k2 ^ k1)];
      const l = 3 - i - j;
      this.settle(i, i === 0 ? r : i === 1 ? g : b, u);
      this.settle(j, j === 0 ? r : j === 1 ? g : b, v);
      this.settle(l, l === 0 ? r : l === 1 ? g : b, w);
      return true;
    }
    return false;
  }

  private settle(channel: number, cell: number, fraction: number): void {
    const place = (cell + fraction - 1) / (this.size - 1);
    this.out[channel] = Math.min(Math.max(place, 0), 1);
  }
}

/** A cell's number in the order of the search: blocks of 2³ within blocks, red first. */
function orderOf(r: number, g: number, b: number): number {
  let order = 0;
  for (let bit = 9; bit >= 0; bit--) order = order * 8 + ((r >> bit) & 1) + 2 * ((g >> bit) & 1) + 4 * ((b >> bit) & 1);
  return order;
}

/** Whether a number lies outside 0 and three others by more than the exact solution forgives. */
function misses(a: number, b: number, c: number, d: number): boolean {
  let low = a < 0 ? a : 0;
  let high = a > 0 ? a : 0;
  if (b < low) low = b;
  if (b > high) high = b;
  if (c < low) low = c;
  if (c > high) high = c;
  const room = 1e-8 * (1 + high - low);
  return d < low - room || d > high + room;
}

/** Whether a colour lies off the plane with this normal by more than the exact solution forgives. */
function off(x: number, y: number, z: number, d0: number, d1: number, d2: number, thickness: number): boolean {
  const most = Math.max(Math.abs(x), Math.abs(y), Math.abs(z));
  return Math.abs(x * d0 + y * d1 + z * d2) > 1e-8 * most + thickness;
}

/**
 * Whether a tetrahedron of three edges surely does not hold the colour `d`: its weights by Cramer's rule, with far more room than the exact
 * solution leaves; of a flat one, its planes. Nearly all that are tried end here.
 */
function isOutside(
  a0: number,
  a1: number,
  a2: number,
  b0: number,
  b1: number,
  b2: number,
  c0: number,
  c1: number,
  c2: number,
  d0: number,
  d1: number,
  d2: number,
): boolean {
  // The products b × c, c × a and a × b.
  const x0 = b1 * c2 - b2 * c1;
  const x1 = b2 * c0 - b0 * c2;
  const x2 = b0 * c1 - b1 * c0;
  const y0 = c1 * a2 - c2 * a1;
  const y1 = c2 * a0 - c0 * a2;
  const y2 = c0 * a1 - c1 * a0;
  const z0 = a1 * b2 - a2 * b1;
  const z1 = a2 * b0 - a0 * b2;
  const z2 = a0 * b1 - a1 * b0;
  const det = a0 * x0 + a1 * x1 + a2 * x2;
  const most = Math.max(
    Math.max(Math.abs(a0), Math.abs(a1), Math.abs(a2)),
    Math.max(Math.abs(b0), Math.abs(b1), Math.abs(b2)),
    Math.max(Math.abs(c0), Math.abs(c1), Math.abs(c2)),
  );
  if (!(Math.abs(det) > 1e-9 * most * most * most)) {
    const thickness = 1.01 * Math.abs(det);
    return (
      off(x0, x1, x2, d0, d1, d2, thickness) ||
      off(y0, y1, y2, d0, d1, d2, thickness) ||
      off(z0, z1, z2, d0, d1, d2, thickness)
    );
  }
  const room = 1e-3;
  const u = (d0 * x0 + d1 * x1 + d2 * x2) / det;
  if (u < -room || u > 1 + room) return true;
  const v = (d0 * y0 + d1 * y1 + d2 * y2) / det;
  if (v < -room || u + v > 1 + room) return true;
  const w = (d0 * z0 + d1 * z1 + d2 * z2) / det;
  return w < -room || u + v + w > 1 + room;
}

/**
 * Solves three equations (rows of four: coefficients and right side; used up) for weights that are not below 0 and add up to 1 at most.
 * Directions in which the tetrahedron is flat get the weight 0, so that cut-off parts of a cube can be undone. Gauss elimination with
 * pivots sought in the column first.
 */
function solveWithin(m: Float64Array, weights: Float64Array): boolean {
  order[0] = 0;
  order[1] = 1;
  order[2] = 2;
  let rank = 3;
  for (let j = 0; j < 3; j++) {
    let row = pivotRow(m, j, order[j]!);
    for (let h = j + 1; h < 3 && Math.abs(m[row * 4 + order[j]!]!) < tiny; h++) {
      const other = pivotRow(m, j, order[h]!);
      if (Math.abs(m[other * 4 + order[h]!]!) < tiny) continue;
      const column = order[j]!;
      order[j] = order[h]!;
      order[h] = column;
      row = other;
    }
    if (Math.abs(m[row * 4 + order[j]!]!) < tiny) {
      rank = j;
      break;
    }
    for (let k = 0; row !== j && k < 4; k++) {
      const held = m[j * 4 + k]!;
      m[j * 4 + k] = m[row * 4 + k]!;
      m[row * 4 + k] = held;
    }
    for (let h = j + 1; h < 3; h++) {
      const f = m[h * 4 + order[j]!]! / m[j * 4 + order[j]!]!;
      for (let k = 0; k < 4; k++) m[h * 4 + k] = m[h * 4 + k]! - f * m[j * 4 + k]!;
    }
  }
  for (let h = rank; h < 3; h++) if (Math.abs(m[h * 4 + 3]!) > tiny) return false;
  weights.fill(0);
  let sum = 0;
  for (let j = rank - 1; j >= 0; j--) {
    let rest = m[j * 4 + 3]!;
    for (let k = j + 1; k < rank; k++) rest -= m[j * 4 + order[k]!]! * weights[order[k]!]!;
    const weight = rest / m[j * 4 + order[j]!]!;
    sum += weight;
    if (!(weight >= -tiny && sum <= 1 + tiny)) return false;
    weights[order[j]!] = weight;
  }
  return true;
}
/** The columns in the order in which the elimination takes them. */
const order = new Int32Array(3);

function pivotRow(m: Float64Array, from: number, column: number): number {
  let row = from;
  for (let h = from + 1; h < 3; h++) if (Math.abs(m[h * 4 + column]!) > Math.abs(m[row * 4 + column]!)) row = h;
  return row;
}

function axisOf(bit: number): 0 | 1 | 2 {
  return bit === 1 ? 0 : bit === 2 ? 1 : 2;
}

/** The cube with a shell of points around it: those of its faces, moved away from middle grey. */
function widen(size: number, values: Float32Array): Float64Array {
  const wide = size + 2;
  const out = new Float64Array(wide ** 3 * 3);
  const inside = (i: number) => Math.min(Math.max(i - 1, 0), size - 1);
  for (let b = 0, at = 0; b < wide; b++) {
    for (let g = 0; g < wide; g++) {
      for (let r = 0; r < wide; r++, at += 3) {
        const from = ((inside(b) * size + inside(g)) * size + inside(r)) * 3;
        const shell = [r, g, b].some((i) => i === 0 || i === wide - 1);
        for (let c = 0; c < 3; c++) {
          const v = values[from + c]!;
          out[at + c] = shell ? (v - 0.5) * 4 + 0.5 : v;
        }
      }
    }
  }
  return out;
}
