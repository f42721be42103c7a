/** What of a frame says whether its depth grows away from the camera. Planes of one size; floats. */
export interface DepthScene {
  readonly width: number;
  readonly height: number;
  readonly depth: Float32Array;
  /** Points in space, three planes. */
  readonly position?: readonly [Float32Array, Float32Array, Float32Array];
  /** Luminance of haze or another volume. */
  readonly haze?: Float32Array;
  readonly alpha?: Float32Array;
}

export interface DepthVerdict {
  readonly reversed: boolean;
  /** What agreed, in words. */
  readonly because: string;
}

/** Beyond it a depth stands for the sky (1e10 and the like; common practice, no source). */
const skyDepth = 1e6;
/** Rank correlations beyond these count as saying something. Our judgement. */
const clear = 0.5;

/**
 * Judges depth by what else the frame holds. Neighbouring pixels lie further apart in space the further away they are, so the spacing of
 * the position pass must grow with depth; haze thickens with it. Undefined when there is nothing to judge by, or it is not clear:
 * a sky at 0, or normalised depth alone, is no fault.
 */
export function judgeDepth(scene: DepthScene): DepthVerdict | undefined {
  const opinions: { far: number; what: string }[] = [];
  if (scene.position) opinions.push({ far: agreement(scene, spacingAt(scene, scene.position)), what: 'position' });
  if (scene.haze) opinions.push({ far: agreement(scene, (i) => scene.haze![i]!), what: 'haze' });
  const reversed = opinions.filter((o) => o.far < -clear);
  const right = opinions.filter((o) => o.far > clear);
  if (reversed.length && !right.length) return { reversed: true, because: reversed.map((o) => o.what).join(' and ') };
  if (right.length && !reversed.length) return { reversed: false, because: right.map((o) => o.what).join(' and ') };
  return undefined;
}

/** The distance in space to the nearer of two neighbours: proportional to distance from the camera on surfaces that face it. */
function spacingAt({ width }: DepthScene, [x, y, z]: NonNullable<DepthScene['position']>): (i: number) => number {
  const between = (i: number, j: number) => {
    const [a, b, c] = [x[i]! - x[j]!, y[i]! - y[j]!, z[i]! - z[j]!];
    return Math.sqrt(a * a + b * b + c * c);
  };
  return (i) => Math.min(between(i, i + 1), between(i, i + width));
}

/** Rank correlation (Spearman) of depth with another measure, over a grid of pixels that have both. 0 when there are too few. */
function agreement(scene: DepthScene, measure: (i: number) => number): number {
  const { width, height, depth, alpha } = scene;
  const stride = Math.max(1, Math.floor(Math.sqrt((width * height) / 20_000)));
  const depths: number[] = [];
  const measures: number[] = [];
  for (let y = 0; y < height - 1; y += stride) {
    for (let x = 0; x < width - 1; x += stride) {
      const i = y * width + x;
      const d = depth[i]!;
      const m = measure(i);
      if (!(Math.abs(d) < skyDepth) || d === 0 || !Number.isFinite(m) || m === 0) continue;
      if (alpha && !(alpha[i]! > 0.5)) continue;
      depths.push(d);
      measures.push(m);
    }
  }
  return depths.length < 200 ? 0 : correlation(ranks(depths), ranks(measures));
}

/** Ranks with ties sharing their mean rank. */
function ranks(values: readonly number[]): Float64Array {
  const order = Array.from(values.keys()).sort((a, b) => values[a]! - values[b]!);
  const found = new Float64Array(values.length);
  for (let i = 0; i < order.length;) {
    let j = i;
    while (j + 1 < order.length && values[order[j + 1]!] === values[order[i]!]) j++;
    for (let k = i; k <= j; k++) found[order[k]!] = (i + j) / 2;
    i = j + 1;
  }
  return found;
}

function correlation(a: Float64Array, b: Float64Array): number {
  const mean = (a.length - 1) / 2;
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    const [p, q] = [a[i]! - mean, b[i]! - mean];
    ab += p * q;
    aa += p * p;
    bb += q * q;
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}
