import { apply3 } from '../colour/matrix.ts';
import type { Heap } from '../kernel/heap.ts';
import { throughSteps, type CandidateConfig, type CandidateSpace, type CandidateView } from './candidates.ts';
import { looked, savingMistakes, savingTable, type SavingMistake } from './mistakes.ts';
import type { MatchSamples } from './samples.ts';

/** What may have made a picture: the space of its numbers, a view, trims in the renderer, and what went wrong as it was saved. */
export interface Guess {
  readonly of: CandidateConfig;
  readonly space: CandidateSpace;
  readonly view: CandidateView;
  /** Stops. */
  readonly exposure: number;
  /** Codes to the power of 1 / gamma. */
  readonly gamma: number;
  readonly mistake: SavingMistake | null;
}

/** How many things a guess supposes besides space and view: of two that explain as much, the one that supposes less is right. */
export const supposed = ({ exposure, gamma, mistake }: Pick<Guess, 'exposure' | 'gamma' | 'mistake'>): number =>
  Number(exposure !== 0) + Number(gamma !== 1) + Number(mistake !== null);

export interface ScoredGuess extends Guess {
  /** The mean difference of samples, in 8-bit codes; far ones count as `farCodes`. */
  readonly error: number;
}

/** Exposures that every view is evaluated at, in stops; between them it is read off a curve. */
const grid = Float64Array.of(-6, -5, -4, -3.5, -3, -2.5, -2, -1.5, -1, -0.5, 0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4, 5, 6);
const unexposed = grid.indexOf(0);
/** The others, the nearest first: likely ones come early, and later ones are given up sooner. */
const outwards = Array.from(grid.keys())
  .filter((e) => e !== unexposed)
  .sort((a, b) => Math.abs(a - unexposed) - Math.abs(b - unexposed));
/** Trims are found on a grid of a twentieth, as people set them (common practice, no source). */
const trimStep = 0.05;
const toTrim = (v: number) => Math.round(v / trimStep) / Math.round(1 / trimStep);
const [leastGamma, mostGamma] = [0.4, 3];
/** What lies farther than this many codes lies there for another reason than colour: an overlay, another frame. */
const farCodes = 32;

/** How many of each class go on: plain ones, trimmed ones, those with each mistake. */
const quota = { plain: 6, exposure: 6, gamma: 6, both: 8, mistake: 3, trimmedMistake: 3 };
type Class = keyof typeof quota;

/** The best guesses of each class so far. Guesses of one view and different spaces each have their own place. */
export class Leaders {
  private readonly lists = new Map<string, ScoredGuess[]>();

  offer(guess: ScoredGuess): void {
    const [key, most] = classOf(guess);
    const list = this.lists.get(key) ?? this.lists.set(key, []).get(key)!;
    if (list.length === most && list[most - 1]!.error <= guess.error) return;
    list.push(guess);
    list.sort((a, b) => a.error - b.error);
    list.length = Math.min(list.length, most);
  }

  /** The error that a guess of a class must stay below to be kept; Infinity while there is room. */
  bound(guess: Pick<Guess, 'exposure' | 'gamma' | 'mistake'>): number {
    const [key, most] = classOf(guess);
    const list = this.lists.get(key);
    return list?.length === most ? list[most - 1]!.error : Infinity;
  }

  /** All, best first. */
  all(): ScoredGuess[] {
    return [...this.lists.values()].flat().sort((a, b) => a.error - b.error);
  }
}

function classOf({
  exposure,
  gamma,
  mistake,
}: Pick<Guess, 'exposure' | 'gamma' | 'mistake'>): [key: string, most: number] {
  const trimmed = exposure !== 0 || gamma !== 1;
  if (mistake) return trimmed ? [`${mistake} trimmed`, quota.trimmedMistake] : [mistake, quota.mistake];
  const found: Class = !trimmed ? 'plain' : gamma === 1 ? 'exposure' : exposure === 0 ? 'gamma' : 'both';
  return [found, quota[found]];
}

/** Scores a view with every space of its config over the whole grid of exposures, and offers the best of each class. */
export function searchView(
  of: CandidateConfig,
  view: CandidateView,
  samples: MatchSamples,
  heap: Heap,
  leaders: Leaders,
): void {
  const spaces = view.spaces ?? of.spaces;
  const values = valuesOverGrid(spaces, view, samples, heap);
  const each = 3 * samples.count;
  const between = new Float32Array(each);
  spaces.forEach((space, s) => {
    const at = (e: number) => values.subarray(each * (s * grid.length + e), each * (s * grid.length + e + 1));
    for (const mistake of [null, ...savingMistakes]) {
      const offer = (exposure: number, gamma: number, error: number) =>
        leaders.offer({ of, space, view, exposure, gamma, mistake, error });
      const { plain, best } = exposureOf(at, samples, mistake, between, leaders);
      offer(0, 1, plain);
      if (best.error < Infinity) offer(best.exposure, 1, best.error);
      if (mistake === null) offerGammas(at, samples, offer, leaders);
    }
  });
}

/** The samples of each space at each exposure, through the view in one go: by space, then exposure, then sample, then channel. */
function valuesOverGrid(
  spaces: readonly CandidateSpace[],
  view: CandidateView,
  { count, light }: MatchSamples,
  heap: Heap,
): Float32Array {
  const inBase = spaces.map(({ matrix }) => {
    const out = new Float64Array(3 * count);
    for (let i = 0; i < count; i++)
      out.set(apply3(matrix, [light[3 * i]!, light[3 * i + 1]!, light[3 * i + 2]!]), 3 * i);
    return out;
  });
  const gains = grid.map((stops) => 2 ** stops);
  return throughSteps(view.steps, heap, spaces.length * grid.length * count, (n) => {
    const i = n % count;
    const e = Math.floor(n / count) % grid.length;
    const own = inBase[Math.floor(n / (count * grid.length))]!;
    const gain = gains[e]!;
    return [gain * own[3 * i]!, gain * own[3 * i + 1]!, gain * own[3 * i + 2]!];
  });
}

type ValuesAt = (exposure: number) => Float32Array;

/** Between two exposures of the grid a guess may lie so many codes nearer than at them. */
const mostGained = 12;
/** Red, green and blue of so many samples tell roughly. */
const fewSamples = 3 * 32;
/** Where between two exposures of the grid others are tried: there values lie nearly on a line. */
const shares = [0.25, 0.5, 0.75] as const;

/** The error without an exposure, and that of the best one; between the grid's, values are read off lines. */
function exposureOf(
  at: ValuesAt,
  { codes }: MatchSamples,
  mistake: SavingMistake | null,
  between: Float32Array,
  leaders: Leaders,
): { plain: number; best: { exposure: number; error: number } } {
  const plain = errorOf(at(unexposed), codes, 1, mistake);
  const bound = leaders.bound({ exposure: 1, gamma: 1, mistake });
  // The calmest third tells which exposure is nearest.
  const few = Math.min(codes.length, fewSamples);
  let nearest = { e: unexposed, error: errorOf(at(unexposed), codes, 1, mistake, Infinity, few) };
  let other = { e: unexposed, error: Infinity };
  for (const e of outwards) {
    const error = errorOf(at(e), codes, 1, mistake, Math.min(other.error, bound + mostGained), few);
    if (error < nearest.error) nearest = { e, error };
    if (error < other.error) other = { e, error };
  }
  let best = { exposure: 0, error: Infinity };
  if (other.error > bound + mostGained) return { plain, best };
  best = { exposure: grid[other.e]!, error: errorOf(at(other.e), codes, 1, mistake) };
  for (const e of [nearest.e - 1, nearest.e].filter((g) => g >= 0 && g + 1 < grid.length))
    for (const share of shares) {
      const [a, b] = [at(e), at(e + 1)];
      for (let i = 0; i < between.length; i++) between[i] = a[i]! + share * (b[i]! - a[i]!);
      const error = errorOf(between, codes, 1, mistake, best.error);
      if (error < best.error) best = { exposure: grid[e]! + share * (grid[e + 1]! - grid[e]!), error };
    }
  return { plain, best };
}

function offerGammas(
  at: ValuesAt,
  samples: MatchSamples,
  offer: (exposure: number, gamma: number, error: number) => void,
  leaders: Leaders,
): void {
  const bound = leaders.bound({ exposure: 1, gamma: 2, mistake: null }) + mostGained / 2;
  let best: { exposure: number; gamma: number; error: number } | undefined;
  for (const e of [unexposed, ...outwards]) {
    const gamma = toTrim(gammaBetween(at(e), samples));
    if (gamma === 1 || gamma < leastGamma || gamma > mostGamma) continue;
    const error = errorOf(
      at(e),
      samples.codes,
      gamma,
      null,
      e === unexposed ? Infinity : Math.min(bound, best?.error ?? bound),
    );
    if (e === unexposed) offer(0, gamma, error);
    else if (error < (best?.error ?? Infinity)) best = { exposure: grid[e]!, gamma, error };
  }
  if (best) offer(best.exposure, best.gamma, best.error);
}

/** Values nearer to black or white than this say little of a gamma, or nothing. */
const [nearBlack, nearWhite] = [0.02, 0.98];

/** The gamma that takes values nearest to codes: a line through 0 in their logarithms, by least squares, bright ones weighing more. */
export function gammaBetween(values: Float32Array, { codes, logarithms }: MatchSamples): number {
  let [top, bottom] = [0, 0];
  for (let i = 0; i < codes.length; i++) {
    const [v, code] = [values[i]!, codes[i]!];
    if (v < nearBlack || v > nearWhite || code < nearBlack || code > nearWhite) continue;
    const x = Math.log(v);
    const weight = code * code;
    top += weight * x * logarithms[i]!;
    bottom += weight * x * x;
  }
  return bottom > 1e-9 && top > 1e-9 ? bottom / top : 1;
}

/** So many values are added before it is seen whether the error is beyond its bound already. */
const looksEvery = 48;

/** The mean difference between values saved so and codes, in 8-bit codes; Infinity as soon as it is beyond `bound`. The first `length` values count. */
export function errorOf(
  values: Float32Array,
  codes: Float64Array,
  gamma: number,
  mistake: SavingMistake | null,
  bound = Infinity,
  length = codes.length,
): number {
  const table = savingTable({ gamma, mistake });
  const most = bound * length;
  let sum = 0;
  for (let i = 0; i < length; i++) {
    const v = table ? looked(table, values[i]!) : values[i]!;
    const difference = 255 * Math.abs(v - codes[i]!);
    sum += difference < farCodes ? difference : farCodes;
    if (sum > most && i % looksEvery === 0) return Infinity;
  }
  return length ? sum / length : farCodes;
}

/** A guess with its trims as near as the grid of trims lets them be, evaluated anew. One that has none is left alone. */
export function refined(guess: ScoredGuess, samples: MatchSamples, heap: Heap): ScoredGuess {
  if (guess.exposure === 0 && guess.gamma === 1) return guess;
  const exposures = guess.exposure === 0 ? [0] : around(guess.exposure, reach);
  const all = throughSteps(guess.view.steps, heap, exposures.length * samples.count, (n) => {
    const i = n % samples.count;
    const gain = 2 ** exposures[Math.floor(n / samples.count)]!;
    const { light } = samples;
    return apply3(guess.space.matrix, [gain * light[3 * i]!, gain * light[3 * i + 1]!, gain * light[3 * i + 2]!]);
  });
  let best: ScoredGuess | undefined;
  exposures.forEach((exposure, e) => {
    const values = all.subarray(3 * samples.count * e, 3 * samples.count * (e + 1));
    for (const gamma of gammasFor(guess, values, samples)) {
      const error = errorOf(values, samples.codes, gamma, guess.mistake, best?.error);
      if (!best || error < best.error) best = { ...guess, exposure, gamma, error };
    }
  });
  return best!;
}

/** So far from where it was found an exposure is looked for, in stops. */
const reach = 0.5;

const around = (middle: number, by: number): number[] => {
  const steps = Math.round(by / trimStep);
  return Array.from({ length: 2 * steps + 1 }, (_, i) => toTrim(middle + (i - steps) * trimStep)).filter(
    (v) => v !== 0,
  );
};

function gammasFor({ gamma }: Guess, values: Float32Array, samples: MatchSamples): number[] {
  if (gamma === 1) return [1];
  const middle = toTrim(gammaBetween(values, samples));
  return [middle - trimStep, middle, middle + trimStep]
    .map(toTrim)
    .filter((g) => g !== 1 && g >= leastGamma && g <= mostGamma);
}
