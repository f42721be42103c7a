import { halfSpacing } from '../ledger/statistics.ts';

/** Red, green and blue of some pixels, in the working space, premultiplied. */
export type LightSamples = readonly [Float32Array, Float32Array, Float32Array];

export interface SampledPart {
  readonly pass: string;
  /** How often the total has it. */
  readonly count: number;
  /** A colour that light is multiplied by (an albedo), rather than light. */
  readonly factor: boolean;
  readonly samples: LightSamples;
}

export interface SampledBalance {
  readonly total: LightSamples;
  readonly beauty: LightSamples;
  readonly parts: readonly SampledPart[];
}

/** What keeps a total from its beauty. `by`: the pass is to be multiplied by that one. */
export type BalanceFault =
  | { readonly kind: 'missing'; readonly pass: string; readonly by?: string | undefined }
  | { readonly kind: 'twice'; readonly pass: string }
  | { readonly kind: 'exposure'; readonly pass: string; readonly stops: number };

export interface FaultsFound {
  readonly faults: readonly BalanceFault[];
  /** How much of the difference they explain, 0 … 1, by its squares. */
  readonly explained: number;
  /** Whether nothing is left but what rounding to half leaves. */
  readonly whole: boolean;
}

/** A part, or a product of two, with its products with all others. */
interface Candidate {
  readonly pass: string;
  readonly by?: string | undefined;
  readonly count: number;
  readonly samples: LightSamples;
}

/**
 * Which passes are missing, doubled or in another exposure. Light adds, so the difference is a sum of passes with whole factors: the
 * smallest set of passes (at most three) that, added once or taken away once, leaves no more than rounding. Only when there is none, one
 * pass, and then one pass beside a whole one, is given a factor of its own by least squares (an exposure). Differences count relative to
 * the beauty's brightness, so that dark parts tell as much as bright ones. Our own method, no source.
 */
export function balanceFaults({ total, beauty, parts }: SampledBalance): FaultsFound {
  const weights = weightsOf(beauty);
  const residual = [0, 1, 2].map((c) => beauty[c]!.map((b, i) => b - total[c]![i]!)) as unknown as LightSamples;
  const candidates = candidatesOf(parts);
  const whole = product(residual, residual, weights);
  const floor = roundingOf(beauty, parts.filter((p) => p.count > 0).length + 1, weights);
  if (whole <= floor) return { faults: [], explained: 1, whole: true };
  const sums: Sums = {
    whole,
    toResidual: candidates.map((c) => product(residual, c.samples, weights)),
    among: candidates.map(() => new Array<number>(candidates.length).fill(0)),
  };
  for (let i = 0; i < candidates.length; i++)
    for (let j = i; j < candidates.length; j++)
      sums.among[i]![j] = sums.among[j]![i] = product(candidates[i]!.samples, candidates[j]!.samples, weights);
  const found = search(candidates, sums, Math.max(floor, 1e-5 * whole));
  if (!found) return { faults: [], explained: 0, whole: false };
  return {
    faults: found.deltas.map(([i, delta]) => faultOf(candidates[i]!, delta)),
    explained: 1 - Math.max(0, found.left) / whole,
    whole: found.left <= floor,
  };
}

interface Sums {
  readonly whole: number;
  readonly toResidual: number[];
  readonly among: number[][];
}

/** Changes of candidates' counts, and what they leave of the difference. */
interface Found {
  readonly deltas: readonly (readonly [candidate: number, delta: number])[];
  readonly left: number;
}

function search(candidates: readonly Candidate[], sums: Sums, enough: number): Found | undefined {
  // A light that was multiplied by nothing is one step of two: taken away as it is, added as a product.
  const steps = candidates.map((c, i): [number, number] => [i, c.count > 0 ? -1 : 1]);
  let best: Found = { deltas: [], left: sums.whole };
  for (const size of [1, 2, 3]) {
    const found = bestOf(steps, size, sums);
    if (found.left < best.left) best = found;
    if (best.left <= enough) return best;
  }
  const factors = [...withFactor([], candidates, sums), ...steps.flatMap((s) => withFactor([s], candidates, sums))];
  const scaled = factors.reduce((a, b) => (b.left < a.left * (b.deltas.length > a.deltas.length ? 0.5 : 1) ? b : a), {
    deltas: [],
    left: sums.whole,
  } as Found);
  // Whole factors are believed first: a pass in another exposure must explain far more.
  if (scaled.left <= Math.max(enough, 1e-3 * sums.whole) || scaled.left < 0.1 * best.left) best = scaled;
  return best.left < 0.5 * sums.whole ? best : undefined;
}

function leftAfter(deltas: Found['deltas'], { whole, toResidual, among }: Sums): number {
  let left = whole;
  for (const [i, d] of deltas) {
    left -= 2 * d * toResidual[i]!;
    for (const [j, e] of deltas) left += d * e * among[i]![j]!;
  }
  return left;
}

/** The best of all sets of so many steps. */
function bestOf(steps: readonly (readonly [number, number])[], size: number, sums: Sums): Found {
  let best: Found = { deltas: [], left: sums.whole };
  const visit = (from: number, chosen: Found['deltas']) => {
    if (chosen.length === size) {
      const left = leftAfter(chosen, sums);
      if (left < best.left) best = { deltas: chosen, left };
      return;
    }
    for (let i = from; i < steps.length; i++) visit(i + 1, [...chosen, steps[i]!]);
  };
  visit(0, []);
  return best;
}

/** Beside whole steps, each other candidate with the factor that fits best; only what leaves it a positive one. */
function withFactor(steps: Found['deltas'], candidates: readonly Candidate[], sums: Sums): Found[] {
  return candidates.flatMap((c, i) => {
    if (steps.some(([s]) => s === i) || c.by !== undefined || !(sums.among[i]![i]! > 0)) return [];
    const rest = steps.reduce((n, [s, d]) => n - d * sums.among[s]![i]!, sums.toResidual[i]!);
    const delta = rest / sums.among[i]![i]!;
    if (c.count + delta <= 0.001) return [];
    const deltas = [...steps, [i, delta] as const];
    return [{ deltas, left: leftAfter(deltas, sums) }];
  });
}

function faultOf({ pass, by, count }: Candidate, delta: number): BalanceFault {
  if (count > 0 && delta === -1) return { kind: 'twice', pass };
  if (count <= 0 && delta === 1) return { kind: 'missing', pass, by };
  return { kind: 'exposure', pass, stops: Number(Math.log2((count + delta) / Math.max(1, count)).toFixed(3)) };
}

/** The parts, and each light multiplied by each colour. */
function candidatesOf(parts: readonly SampledPart[]): Candidate[] {
  const factors = parts.filter((p) => p.factor);
  const lights = parts.filter((p) => !p.factor);
  return [
    ...lights,
    ...factors.flatMap((f) =>
      lights.map((l) => ({
        pass: l.pass,
        by: f.pass,
        count: 0,
        samples: l.samples.map((p, c) => p.map((v, i) => v * f.samples[c]![i]!)) as unknown as LightSamples,
      })),
    ),
  ];
}

/** One over the square of a pixel's size, with a twentieth of the mean beneath. */
function weightsOf(beauty: LightSamples): Float32Array {
  const n = beauty[0].length;
  let sum = 0;
  const size = beauty[0].map((_, i) => {
    const s = Math.max(Math.abs(beauty[0][i]!), Math.abs(beauty[1][i]!), Math.abs(beauty[2][i]!));
    if (Number.isFinite(s)) sum += s;
    return s;
  });
  const floor = (0.05 * sum) / n || 1;
  return size.map((s) => (Number.isFinite(s) ? 1 / (s * s + floor * floor) : 0));
}

function product(a: LightSamples, b: LightSamples, weights: Float32Array): number {
  let sum = 0;
  for (let c = 0; c < 3; c++) {
    const [p, q] = [a[c]!, b[c]!];
    for (let i = 0; i < weights.length; i++) {
      const v = p[i]! * q[i]! * weights[i]!;
      if (Number.isFinite(v)) sum += v;
    }
  }
  return sum;
}

/** The difference that rounding of so many passes to half can leave, at most; see `balanceRow`. */
function roundingOf(beauty: LightSamples, roundings: number, weights: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < weights.length; i++) {
    const size = Math.max(Math.abs(beauty[0][i]!), Math.abs(beauty[1][i]!), Math.abs(beauty[2][i]!));
    if (Number.isFinite(size)) sum += 3 * weights[i]! * (roundings * halfSpacing(size)) ** 2;
  }
  return sum;
}
