/**
 * The six tetrahedra of a cell: the corners walked from (0,0,0) to (1,1,1), as bits r = 1, g = 2, b = 4. Where several hold a colour, the
 * first of this order answers, so that the choice is the reference library's.
 */
const paths = [
  [1, 3],
  [2, 3],
  [2, 6],
  [4, 6],
  [4, 5],
  [1, 5],
] as const;

/** Below this a pivot counts as zero: the tetrahedron is flat in that direction. Weights may miss their limits by as much. */
const tiny = 1e-9;

/**
 * The inverse of a cube: for a colour, the place in the cube that holds it, found exactly in the tetrahedra between points.
 * The cube is widened by one shell, four times as far from the middle as its faces, so that colours outside are met; their places
 * are limited to the cube. Boxes of boxes of cells keep the search short.
 */
export function cubeSearch(size: number, values: Float32Array): (p: [number, number, number]) => void {
  const search = new CubeSearch(size, values);
  const out = new Float64Array(3);
  return (p) => {
    search.find(unit(p[0]), unit(p[1]), unit(p[2]), out);
    p[0] = out[0]!;
    p[1] = out[1]!;
    p[2] = out[2]!;
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
  /** Level 0: one box per cell; each further level joins 2³. Six floats a box: low and high of each channel. */
  private readonly levels: { side: number; boxes: Float32Array }[] = [];
  private readonly columns = new Float64Array(12);
  private readonly weights = new Float64Array(3);

  constructor(size: number, values: Float32Array) {
    this.size = size;
    this.wide = size + 2;
    this.points = widen(size, values);
    this.build();
  }

  private build(): void {
    const { wide, points } = this;
    let side = wide - 1;
    let boxes = new Float32Array(side ** 3 * 6);
    for (let b = 0, at = 0; b < side; b++) {
      for (let g = 0; g < side; g++) {
        for (let r = 0; r < side; r++, at += 6) {
          for (let c = 0; c < 3; c++) {
            let low = Infinity;
            let high = -Infinity;
            for (let k = 0; k < 8; k++) {
              const p = points[(((b + (k >> 2)) * wide + g + ((k >> 1) & 1)) * wide + r + (k & 1)) * 3 + c]!;
              if (p < low) low = p;
              if (p > high) high = p;
            }
            const slack = 1e-6 * (1 + Math.abs(low) + Math.abs(high));
            boxes[at + c * 2] = low - slack;
            boxes[at + c * 2 + 1] = high + slack;
          }
        }
      }
    }
    this.levels.push({ side, boxes });
    while (side > 1) {
      const upper = Math.ceil(side / 2);
      const joined = new Float32Array(upper ** 3 * 6);
      for (let i = 0; i < joined.length; i += 2) {
        joined[i] = Infinity;
        joined[i + 1] = -Infinity;
      }
      for (let b = 0; b < side; b++) {
        for (let g = 0; g < side; g++) {
          for (let r = 0; r < side; r++) {
            const from = ((b * side + g) * side + r) * 6;
            const to = (((b >> 1) * upper + (g >> 1)) * upper + (r >> 1)) * 6;
            for (let c = 0; c < 6; c += 2) {
              joined[to + c] = Math.min(joined[to + c]!, boxes[from + c]!);
              joined[to + c + 1] = Math.max(joined[to + c + 1]!, boxes[from + c + 1]!);
            }
          }
        }
      }
      side = upper;
      boxes = joined;
      this.levels.push({ side, boxes });
    }
  }

  /** Place of a colour in 0 … 1; (0, 0, 0) when no tetrahedron holds it. */
  find(x: number, y: number, z: number, out: Float64Array): void {
    out.fill(0);
    if (x !== x || y !== y || z !== z) return;
    this.descend(this.levels.length - 1, 0, 0, 0, x, y, z, out);
  }

  private descend(
    level: number,
    r: number,
    g: number,
    b: number,
    x: number,
    y: number,
    z: number,
    out: Float64Array,
  ): boolean {
    const { side, boxes } = this.levels[level]!;
    if (r >= side || g >= side || b >= side) return false;
    const at = ((b * side + g) * side + r) * 6;
    if (x < boxes[at]! || x > boxes[at + 1]! || y < boxes[at + 2]! || y > boxes[at + 3]!) return false;
    if (z < boxes[at + 4]! || z > boxes[at + 5]!) return false;
    if (level === 0) return this.inCell(r, g, b, x, y, z, out);
    for (let k = 0; k < 8; k++) {
      if (this.descend(level - 1, r * 2 + (k & 1), g * 2 + ((k >> 1) & 1), b * 2 + (k >> 2), x, y, z, out)) return true;
    }
    return false;
  }

  private inCell(r: number, g: number, b: number, x: number, y: number, z: number, out: Float64Array): boolean {
    const { wide, points: p, columns, weights } = this;
    const corner = (k: number) => (((b + (k >> 2)) * wide + g + ((k >> 1) & 1)) * wide + r + (k & 1)) * 3;
    const p0 = corner(0);
    const last = corner(7);
    const cell = [r, g, b];
    for (const [k1, k2] of paths) {
      // Colour = p0 + a (last − p0) + b (second − p0) + c (first − p0), a, b, c >= 0, a + b + c <= 1.
      const first = corner(k1);
      const second = corner(k2);
      for (let c = 0; c < 3; c++) {
        columns[c * 4] = p[last + c]! - p[p0 + c]!;
        columns[c * 4 + 1] = p[second + c]! - p[p0 + c]!;
        columns[c * 4 + 2] = p[first + c]! - p[p0 + c]!;
        columns[c * 4 + 3] = (c === 0 ? x : c === 1 ? y : z) - p[p0 + c]!;
      }
      if (!solveWithin(columns, weights)) continue;
      const w = weights[0]!;
      const v = w + weights[1]!;
      const u = v + weights[2]!;
      // Which axis each sum belongs to: the bit added at each step of the path.
      const fraction = [0, 0, 0];
      fraction[axisOf(k1)] = u;
      fraction[axisOf(k2 ^ k1)] = v;
      fraction[axisOf(7 ^ k2)] = w;
      for (let c = 0; c < 3; c++) {
        const place = (cell[c]! + fraction[c]! - 1) / (this.size - 1);
        out[c] = Math.min(Math.max(place, 0), 1);
      }
      return true;
    }
    return false;
  }
}

/**
 * Solves three equations (rows of four: coefficients and right side; used up) for weights that are not below 0 and add up to 1 at most.
 * Directions in which the tetrahedron is flat get the weight 0, so that cut-off parts of a cube can be undone. Gauss elimination with
 * pivots sought in the column first.
 */
function solveWithin(m: Float64Array, weights: Float64Array): boolean {
  const order = [0, 1, 2];
  let rank = 3;
  for (let j = 0; j < 3; j++) {
    let row = pivotRow(m, j, order[j]!);
    if (Math.abs(m[row * 4 + order[j]!]!) < tiny) {
      const other = [j + 1, j + 2].find(
        (h) => h < 3 && Math.abs(m[pivotRow(m, j, order[h]!) * 4 + order[h]!]!) >= tiny,
      );
      if (other === undefined) {
        rank = j;
        break;
      }
      [order[j], order[other]] = [order[other]!, order[j]!];
      row = pivotRow(m, j, order[j]!);
    }
    for (let k = 0; row !== j && k < 4; k++) [m[j * 4 + k], m[row * 4 + k]] = [m[row * 4 + k]!, m[j * 4 + k]!];
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
