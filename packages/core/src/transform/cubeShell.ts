import { boxAcross, holds, measureBox, soughtAlong } from './cubeBoxes.ts';

/** A field of directions with more cells than this is divided into four, down to this half side. */
const crowd = 16;
const smallest = 2 ** -14;
const quarters = [
  [-1, -1],
  [1, -1],
  [-1, 1],
  [1, 1],
] as const;
/** A cell seen under a wider angle than this is tried for every colour. */
const widest = 1;

/** A square on a face of the cube of directions: four smaller ones, or the cells that are seen in it, in the order of trying. */
interface Field {
  readonly quarters?: readonly Field[];
  readonly cells?: Uint32Array;
}

/** Six numbers a cell: the axis of the cone that it is seen in, the cosine of its half angle, and how far off it lies along the axis. */
const across = 6;

/**
 * The cells of a cube's shell by the direction in which they lie from middle grey: they are long and radial, so that boxes tell little
 * of them, and narrow as seen from there.
 */
export class CubeShell {
  private readonly faces: readonly Field[];
  /** The half angle of each cell's cone. */
  private readonly angles: Float64Array;
  /** Three coordinates a cell. */
  private readonly cells: readonly number[];
  private readonly cones: Float64Array;
  private readonly boxes: Float32Array;
  private readonly corners = new Float64Array(24);

  /** `cells`: coordinates, three a cell, in the order of trying. `corner` gives a cell's corner k as an index into `points`. */
  constructor(
    cells: readonly number[],
    points: Float64Array,
    corner: (r: number, g: number, b: number, k: number) => number,
  ) {
    this.cells = cells;
    const count = cells.length / 3;
    this.cones = new Float64Array(count * across);
    this.angles = new Float64Array(count);
    const seen = new Set<string>();
    const distinct: number[] = [];
    const places = new Int32Array(8);
    this.boxes = new Float32Array(count * boxAcross);
    for (let c = 0; c < count; c++) {
      const [r, g, b] = [cells[c * 3]!, cells[c * 3 + 1]!, cells[c * 3 + 2]!];
      for (let k = 0; k < 8; k++) {
        const from = (places[k] = corner(r, g, b, k));
        for (let i = 0; i < 3; i++) this.corners[k * 3 + i] = points[from + i]! - 0.5;
      }
      measureBox(this.boxes, c * boxAcross, points, places);
      this.angles[c] = this.measure(c * across);
      // Of cells with the same corners, as a cut-off cube has by thousands, the first answers for all.
      const shape = this.corners.join();
      if (!seen.has(shape)) distinct.push(c);
      seen.add(shape);
    }
    const all = Uint32Array.from(distinct);
    this.faces = [0, 1, 2, 3, 4, 5].map((face) => this.divide(face, 0, 0, 1, this.seenIn(face, 0, 0, 1, all)));
  }

  /** The cells of a list that are seen in a field with the middle (u, v) and half its side. */
  private seenIn(face: number, u: number, v: number, half: number, cells: Uint32Array): Uint32Array {
    const [x, y, z] = direction(face, u, v);
    // A point of the field is no further than √2 times half a side from its middle, at a distance of 1 or more.
    const reach = Math.SQRT2 * half + 1e-6;
    const { cones, angles } = this;
    return cells.filter((c) => {
      const at = c * across;
      const cosine = x * cones[at]! + y * cones[at + 1]! + z * cones[at + 2]!;
      return cosine >= Math.cos(Math.min(Math.PI, angles[c]! + reach));
    });
  }

  /** Divides a field while that leaves each part much less than the whole. */
  private divide(face: number, u: number, v: number, half: number, cells: Uint32Array): Field {
    if (cells.length <= crowd || half < smallest) return { cells };
    const h = half / 2;
    const parts = quarters.map(([du, dv]) => this.seenIn(face, u + du * h, v + dv * h, h, cells));
    if (parts.reduce((n, p) => n + p.length, 0) > 2.5 * cells.length) return { cells };
    return {
      quarters: parts.map((part, i) => this.divide(face, u + quarters[i]![0] * h, v + quarters[i]![1] * h, h, part)),
    };
  }

  private seenAlong(x: number, y: number, z: number): Uint32Array {
    const [ax, ay, az] = [Math.abs(x), Math.abs(y), Math.abs(z)];
    const most = Math.max(ax, ay, az) || 1;
    const axis = ax >= ay && ax >= az ? 0 : ay >= az ? 1 : 2;
    const face = axis * 2 + ((axis === 0 ? x : axis === 1 ? y : z) < 0 ? 1 : 0);
    let u = (axis === 0 ? y : x) / most;
    let v = (axis === 2 ? y : z) / most;
    let field = this.faces[face]!;
    while (field.quarters) {
      field = field.quarters[(u >= 0 ? 1 : 0) + (v >= 0 ? 2 : 0)]!;
      // The quarter's own coordinates, -1 … 1.
      u = 2 * u + (u >= 0 ? -1 : 1);
      v = 2 * v + (v >= 0 ? -1 : 1);
    }
    return field.cells!;
  }

  /** The cone around the corners at hand; returns its half angle, π when it is too wide to be one. */
  private measure(at: number): number {
    const { corners, cones } = this;
    const axis: [number, number, number] = [0, 0, 0];
    const lengths = new Float64Array(8);
    for (let k = 0; k < 8; k++) {
      const [x, y, z] = [corners[k * 3]!, corners[k * 3 + 1]!, corners[k * 3 + 2]!];
      lengths[k] = Math.sqrt(x * x + y * y + z * z);
      for (let i = 0; i < 3; i++) axis[i] = axis[i]! + corners[k * 3 + i]! / lengths[k]!;
    }
    const length = Math.sqrt(axis[0] * axis[0] + axis[1] * axis[1] + axis[2] * axis[2]);
    let cosine = 1;
    let [near, far] = [Infinity, -Infinity];
    for (let k = 0; k < 8; k++) {
      const along =
        (corners[k * 3]! * axis[0] + corners[k * 3 + 1]! * axis[1] + corners[k * 3 + 2]! * axis[2]) / length;
      near = Math.min(near, along);
      far = Math.max(far, along);
      cosine = Math.min(cosine, along / lengths[k]!);
    }
    // A corner at middle grey itself, or corners all around it, make NaN or a wide angle.
    const angle = Math.acos(Math.max(-1, cosine));
    if (!(angle <= widest)) {
      cones.set([0, 0, 0, -1, -Infinity, Infinity], at);
      return Math.PI;
    }
    const room = 1e-7 * (1 + far);
    cones.set(
      axis.map((a) => a / length),
      at,
    );
    cones.set([Math.cos(angle + 1e-6), near - room, far + room], at + 3);
    return angle;
  }

  /** Tries the cells that a colour may lie in, in order, until `inCell` says yes. */
  find(x: number, y: number, z: number, inCell: (r: number, g: number, b: number) => boolean): boolean {
    const [dx, dy, dz] = [x - 0.5, y - 0.5, z - 0.5];
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz) - 1e-9;
    const { cones, cells } = this;
    const sought = soughtAlong(x, y, z);
    const seen = this.seenAlong(dx, dy, dz);
    for (let i = 0; i < seen.length; i++) {
      const c = seen[i]!;
      const at = c * across;
      const along = dx * cones[at]! + dy * cones[at + 1]! + dz * cones[at + 2]!;
      if (along < cones[at + 4]! || along > cones[at + 5]! || along < cones[at + 3]! * length) continue;
      if (!holds(this.boxes, c * boxAcross, sought)) continue;
      if (inCell(cells[c * 3]!, cells[c * 3 + 1]!, cells[c * 3 + 2]!)) return true;
    }
    return false;
  }
}

/** The direction of a point of a face: +x, -x, +y, -y, +z, -z, the other two coordinates u and v. */
function direction(face: number, u: number, v: number): [number, number, number] {
  const main = face % 2 ? -1 : 1;
  const length = Math.sqrt(1 + u * u + v * v);
  const [a, b, c] = [main / length, u / length, v / length];
  return face < 2 ? [a, b, c] : face < 4 ? [b, a, c] : [b, c, a];
}
