/**
 * Directions that boxes are measured along: the three channels, their sum and their differences. Cells near the grey axis, and cells of a
 * cube that is cut off, are thin and lie aslant; the channels alone would make them look thick.
 */
const boxAxes = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [1, -1, 0],
  [0, 1, -1],
  [1, 0, -1],
  [1, 1, 1],
] as const;
/** Numbers a box: low and high along each direction. */
export const boxAcross = boxAxes.length * 2;

const along = new Float64Array(boxAxes.length);
/** A colour along each direction; holds until the next is asked for. */
export function soughtAlong(x: number, y: number, z: number): Float64Array {
  boxAxes.forEach(([i, j, k], a) => (along[a] = i * x + j * y + k * z));
  return along;
}

/** Whether a box holds what is sought. */
export function holds(boxes: Float32Array, at: number, sought: Float64Array): boolean {
  for (let a = 0; a < boxAxes.length; a++) {
    const v = sought[a]!;
    if (v < boxes[at + 2 * a]! || v > boxes[at + 2 * a + 1]!) return false;
  }
  return true;
}

/** What single floats and the tolerance of the search may miss, as a share of the numbers. */
const slack = 2e-7;

/** Boxes of cells, boxes of 2³ boxes, and so on up to one: what keeps the search for a colour's cell short. */
export class CubeBoxes {
  private readonly levels: { side: number; boxes: Float32Array }[] = [];
  /** The colour sought, along each axis. */
  private readonly sought = new Float64Array(boxAxes.length);

  /** `corner` gives a cell's corner k (bits r = 1, g = 2, b = 4) as an index into `points`; cells that are left out are never found. */
  constructor(
    side: number,
    points: Float64Array,
    corner: (r: number, g: number, b: number, k: number) => number,
    leftOut: (r: number, g: number, b: number) => boolean,
  ) {
    let boxes = new Float32Array(side ** 3 * boxAcross);
    const corners = new Int32Array(8);
    for (let b = 0, at = 0; b < side; b++)
      for (let g = 0; g < side; g++)
        for (let r = 0; r < side; r++, at += boxAcross) {
          if (leftOut(r, g, b)) emptyBox(boxes, at);
          else {
            for (let k = 0; k < 8; k++) corners[k] = corner(r, g, b, k);
            measureBox(boxes, at, points, corners);
          }
        }
    this.levels.push({ side, boxes });
    while (side > 1) {
      boxes = join(boxes, side);
      side = Math.ceil(side / 2);
      this.levels.push({ side, boxes });
    }
  }

  /** Tries cells whose boxes hold a colour, in a fixed order (blocks of 2³, red first), until `inCell` says yes. */
  find(x: number, y: number, z: number, inCell: (r: number, g: number, b: number) => boolean): boolean {
    this.sought.set(soughtAlong(x, y, z));
    return this.descend(this.levels.length - 1, 0, 0, 0, inCell);
  }

  private descend(
    level: number,
    r: number,
    g: number,
    b: number,
    inCell: (r: number, g: number, b: number) => boolean,
  ): boolean {
    const { side, boxes } = this.levels[level]!;
    if (r >= side || g >= side || b >= side) return false;
    const at = ((b * side + g) * side + r) * boxAcross;
    if (!holds(boxes, at, this.sought)) return false;
    if (level === 0) return inCell(r, g, b);
    for (let k = 0; k < 8; k++)
      if (this.descend(level - 1, r * 2 + (k & 1), g * 2 + ((k >> 1) & 1), b * 2 + (k >> 2), inCell)) return true;
    return false;
  }
}

function emptyBox(boxes: Float32Array, at: number): void {
  for (let a = 0; a < boxAcross; a += 2) {
    boxes[at + a] = Infinity;
    boxes[at + a + 1] = -Infinity;
  }
}

/** The box around eight corners (indices into `points`), widened by what may be missed. */
export function measureBox(boxes: Float32Array, at: number, points: Float64Array, corners: Int32Array): void {
  for (let a = 0; a < boxAxes.length; a++) {
    const [i, j, l] = boxAxes[a]!;
    let low = Infinity;
    let high = -Infinity;
    for (let k = 0; k < 8; k++) {
      const from = corners[k]!;
      const v = i * points[from]! + j * points[from + 1]! + l * points[from + 2]!;
      if (v < low) low = v;
      if (v > high) high = v;
    }
    const more = slack * (1 + Math.abs(low) + Math.abs(high));
    boxes[at + 2 * a] = low - more;
    boxes[at + 2 * a + 1] = high + more;
  }
}

function join(boxes: Float32Array, side: number): Float32Array<ArrayBuffer> {
  const upper = Math.ceil(side / 2);
  const joined = new Float32Array(upper ** 3 * boxAcross);
  for (let i = 0; i < joined.length; i += boxAcross) emptyBox(joined, i);
  for (let b = 0; b < side; b++)
    for (let g = 0; g < side; g++)
      for (let r = 0; r < side; r++) {
        const from = ((b * side + g) * side + r) * boxAcross;
        const to = (((b >> 1) * upper + (g >> 1)) * upper + (r >> 1)) * boxAcross;
        for (let c = 0; c < boxAcross; c += 2) {
          if (boxes[from + c]! < joined[to + c]!) joined[to + c] = boxes[from + c]!;
          if (boxes[from + c + 1]! > joined[to + c + 1]!) joined[to + c + 1] = boxes[from + c + 1]!;
        }
      }
  return joined;
}
