/** Places within a cube's unit and what the cube must give there, colour after colour. */
export interface CubeSamples {
  readonly count: number;
  /** Red, green and blue, 0 … 1. */
  readonly places: Float64Array;
  readonly values: Float64Array;
}

const channels = 3;

/** The eight nodes around each place, by their first value's index, and their weights (trilinear). */
interface Cells {
  readonly nodes: Int32Array;
  readonly weights: Float32Array;
}

const corners = 8;

function cellsOf({ count, places }: CubeSamples, size: number): Cells {
  const nodes = new Int32Array(corners * count);
  const weights = new Float32Array(corners * count);
  const [low, share] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  for (let i = 0; i < count; i++) {
    for (let axis = 0; axis < 3; axis++) {
      const place = Math.min(1, Math.max(0, places[3 * i + axis]!)) * (size - 1);
      low[axis] = Math.min(size - 2, Math.floor(place));
      share[axis] = place - low[axis]!;
    }
    for (let corner = 0; corner < corners; corner++) {
      const [dr, dg, db] = [corner & 1, (corner >> 1) & 1, corner >> 2];
      nodes[corners * i + corner] = channels * (low[0]! + dr + size * (low[1]! + dg + size * (low[2]! + db)));
      weights[corners * i + corner] =
        (dr ? share[0]! : 1 - share[0]!) * (dg ? share[1]! : 1 - share[1]!) * (db ? share[2]! : 1 - share[2]!);
    }
  }
  return { nodes, weights };
}

/** What a cube (red fastest, three values a node) gives at places, trilinear. */
export function throughCube(cube: Float32Array | Float64Array, size: number, samples: CubeSamples): Float64Array {
  const { nodes, weights } = cellsOf(samples, size);
  const out = new Float64Array(channels * samples.count);
  for (let k = 0; k < nodes.length; k++) {
    const to = channels * (k >> 3);
    for (let c = 0; c < channels; c++) out[to + c]! += weights[k]! * cube[nodes[k]! + c]!;
  }
  return out;
}

/** How strongly bends are held against what samples ask for, and how strongly a node without samples stays as it was. */
const [againstBends, stays] = [0.3, 0.002];
const mostTurns = 60;

/**
 * Bends a cube so that it gives what samples ask for, where there are any, and changes smoothly to where there are none: least squares over
 * the samples, with the change's second differences along the axes held small. Solved by conjugate gradients (Hestenes and Stiefel, Journal
 * of Research of the National Bureau of Standards 49, 1952).
 */
export function fittedCube(
  cube: Float32Array,
  size: number,
  samples: CubeSamples,
): { cube: Float32Array; seen: Uint8Array } {
  const { nodes, weights } = cellsOf(samples, size);
  const count = size ** 3;
  const seen = new Uint8Array(count);
  const weight = count / Math.max(1, samples.count) / corners;
  const given = throughCube(cube, size, samples);
  const want = new Float64Array(channels * count);
  for (let k = 0; k < nodes.length; k++) {
    const from = channels * (k >> 3);
    if (weights[k]! > leastSeen) seen[nodes[k]! / channels] = 1;
    for (let c = 0; c < channels; c++)
      want[nodes[k]! + c]! += weight * weights[k]! * (samples.values[from + c]! - given[from + c]!);
  }
  const at = new Float64Array(channels * samples.count);
  const change = conjugateGradients(want, (x, out) => {
    smoothness(x, out, size);
    at.fill(0);
    for (let k = 0; k < nodes.length; k++) {
      const to = channels * (k >> 3);
      for (let c = 0; c < channels; c++) at[to + c]! += weights[k]! * x[nodes[k]! + c]!;
    }
    for (let k = 0; k < nodes.length; k++) {
      const from = channels * (k >> 3);
      const own = weight * weights[k]!;
      for (let c = 0; c < channels; c++) out[nodes[k]! + c]! += own * at[from + c]!;
    }
  });
  return { cube: cube.map((v, i) => v + change[i]!), seen };
}

/** A node with less of a sample's weight has not seen it. */
const leastSeen = 0.02;

/** Second differences along the three axes, twice: what holds bends small. */
function smoothness(x: Float64Array, out: Float64Array, size: number): void {
  for (let i = 0; i < x.length; i++) out[i] = stays * x[i]!;
  const step = [3, 3 * size, 3 * size * size];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) {
        const at = channels * (r + size * (g + size * b));
        for (let axis = 0; axis < 3; axis++) {
          const place = axis === 0 ? r : axis === 1 ? g : b;
          if (place === 0 || place === size - 1) continue;
          const by = step[axis]!;
          for (let c = at; c < at + channels; c++) {
            const bend = againstBends * (2 * x[c]! - x[c - by]! - x[c + by]!);
            out[c]! += 2 * bend;
            out[c - by]! -= bend;
            out[c + by]! -= bend;
          }
        }
      }
}

function conjugateGradients(want: Float64Array, apply: (x: Float64Array, out: Float64Array) => void): Float64Array {
  const n = want.length;
  const [x, rest, along, applied] = [new Float64Array(n), want.slice(), want.slice(), new Float64Array(n)];
  let size = dot(rest, rest);
  const enough = size * 1e-8;
  for (let turn = 0; turn < mostTurns && size > enough; turn++) {
    apply(along, applied);
    const far = size / dot(along, applied);
    for (let i = 0; i < n; i++) {
      x[i]! += far * along[i]!;
      rest[i]! -= far * applied[i]!;
    }
    const next = dot(rest, rest);
    const share = next / size;
    for (let i = 0; i < n; i++) along[i] = rest[i]! + share * along[i]!;
    size = next;
  }
  return x;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
