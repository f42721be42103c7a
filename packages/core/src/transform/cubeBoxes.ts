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
/** A colour along each of `boxAxes`; holds until the next is asked for. */
export function soughtAlong(x: number, y: number, z: number): Float64Array {
  along[0] = x;
  along[1] = y;
  along[2] = z;
  along[3] = x - y;
  along[4] = y - z;
  along[5] = x - z;
  along[6] = x + y + z;
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
  private inCell: (r: number, g: number, b: number) => boolean = () => false;
  /** The colour sought, along each axis. */
  private readonly sought = new Float64Array(boxAxes.length);

  /** `corner` gives a cell's corner k (bits r = 1, g = 2, b = 4) as an index into `points`; cells that are left out are never found. */
  constructor(
    side: number,
    points: Float64Array,
    corner: (r: number, g: number, b: number, k: number) => number,
    leftOut: (r: number, g: number, b: number) => boolean,
  ) {
    let boxes = emptyBoxes(side);
    const corners = new Int32Array(8);
    for (let b = 0; b < side; b++)
      for (let g = 0; g < side; g++)
        for (let r = 0; r < side; r++) {
          const at = placeOf(side, r, g, b);
          if (leftOut(r, g, b)) continue;
          for (let k = 0; k < 8; k++) corners[k] = corner(r, g, b, k);
          measureBox(boxes, at, points, corners);
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
    this.inCell = inCell;
    const top = this.levels.length - 1;
    return holds(this.levels[top]!.boxes, 0, this.sought) && this.descend(top, 0, 0, 0);
  }

  /** Goes down into a box that holds what is sought. Places that the cube does not have are empty boxes. */
  private descend(level: number, r: number, g: number, b: number): boolean {
    if (level === 0) return this.inCell(r, g, b);
    const { side } = this.levels[level]!;
    const { boxes } = this.levels[level - 1]!;
    const at = ((b * side + g) * side + r) * 8 * boxAcross;
    for (let k = 0; k < 8; k++)
      if (
        holds(boxes, at + k * boxAcross, this.sought) &&
        this.descend(level - 1, r * 2 + (k & 1), g * 2 + ((k >> 1) & 1), b * 2 + (k >> 2))
      )
        return true;
    return false;
  }
}

/** Where a box of a level lies among its boxes: the eight of a block beside each other, as they are looked at together. */
function placeOf(side: number, r: number, g: number, b: number): number {
  const blocks = Math.ceil(side / 2);
  const block = ((b >> 1) * blocks + (g >> 1)) * blocks + (r >> 1);
  return (block * 8 + (r & 1) + 2 * (g & 1) + 4 * (b & 1)) * boxAcross;
}

/** Room for a level's boxes, each empty: nothing is in it. */
function emptyBoxes(side: number): Float32Array<ArrayBuffer> {
  const boxes = new Float32Array(Math.ceil(side / 2) ** 3 * 8 * boxAcross);
  for (let at = 0; at < boxes.length; at += 2) {
    boxes[at] = Infinity;
    boxes[at + 1] = -Infinity;
  }
  return boxes;
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
  const joined = emptyBoxes(upper);
  for (let b = 0; b < side; b++)
    for (let g = 0; g < side; g++)
      for (let r = 0; r < side; r++) {
        const from = placeOf(side, r, g, b);
        const to = placeOf(upper, r >> 1, g >> 1, b >> 1);
        for (let c = 0; c < boxAcross; c += 2) {
          if (boxes[from + c]! < joined[to + c]!) joined[to + c] = boxes[from + c]!;
          if (boxes[from + c + 1]! > joined[to + c + 1]!) joined[to + c + 1] = boxes[from + c + 1]!;
        }
      }
  return joined;
}
