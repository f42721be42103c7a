/** Offsets of the six tetrahedra of a cell: the corners walked from (0,0,0) to (1,1,1), as bits r = 1, g = 2, b = 4. */
const paths = [
  [1, 3],
  [1, 5],
  [4, 5],
  [2, 3],
  [2, 6],
  [4, 6],
] as const;

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
    const { wide, points: p } = this;
    const corner = (k: number) => (((b + (k >> 2)) * wide + g + ((k >> 1) & 1)) * wide + r + (k & 1)) * 3;
    const p0 = corner(0);
    const p3 = corner(7);
    for (const [k1, k2] of paths) {
      const p1 = corner(k1);
      const p2 = corner(k2);
      // Colour = p0 + a (p1 − p0) + b (p2 − p1) + c (p3 − p2) with 1 >= a >= b >= c >= 0.
      const [ax, ay, az] = [p[p1]! - p[p0]!, p[p1 + 1]! - p[p0 + 1]!, p[p1 + 2]! - p[p0 + 2]!];
      const [bx, by, bz] = [p[p2]! - p[p1]!, p[p2 + 1]! - p[p1 + 1]!, p[p2 + 2]! - p[p1 + 2]!];
      const [cx, cy, cz] = [p[p3]! - p[p2]!, p[p3 + 1]! - p[p2 + 1]!, p[p3 + 2]! - p[p2 + 2]!];
      const det = ax * (by * cz - bz * cy) - bx * (ay * cz - az * cy) + cx * (ay * bz - az * by);
      if (det === 0) continue;
      const [dx, dy, dz] = [x - p[p0]!, y - p[p0 + 1]!, z - p[p0 + 2]!];
      const u = (dx * (by * cz - bz * cy) - bx * (dy * cz - dz * cy) + cx * (dy * bz - dz * by)) / det;
      const v = (ax * (dy * cz - dz * cy) - dx * (ay * cz - az * cy) + cx * (ay * dz - az * dy)) / det;
      const w = (ax * (by * dz - bz * dy) - bx * (ay * dz - az * dy) + dx * (ay * bz - az * by)) / det;
      const slack = 1e-5;
      if (u > 1 + slack || v > u + slack || w > v + slack || w < -slack) continue;
      // Which axis each weight belongs to: the bit added at each step of the path.
      const fraction = [0, 0, 0];
      fraction[axisOf(k1)] = u;
      fraction[axisOf(k2 ^ k1)] = v;
      fraction[axisOf(7 ^ k2)] = w;
      const cell = [r, g, b];
      for (let c = 0; c < 3; c++) {
        const place = (cell[c]! + fraction[c]! - 1) / (this.size - 1);
        out[c] = Math.min(Math.max(place, 0), 1);
      }
      return true;
    }
    return false;
  }
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
