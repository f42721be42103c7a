import type { Heap } from '../kernel/heap.ts';
import {
  filledThroughSteps,
  throughSteps,
  type CandidateConfig,
  type CandidateSpace,
  type CandidateView,
} from './candidates.ts';
import { savedBy, savingMistakes, unsaved, type Saving, type SavingMistake } from './mistakes.ts';
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

/** What display values must be so that, saved with a mistake, they become the samples' codes; and how many codes a small step of each is worth. */
interface Target {
  readonly values: Float64Array;
  readonly slopes: Float64Array;
}
/** What a search compares, made as it is asked for: the samples' light in a config's base, and the targets of their codes. */
export interface Searched {
  readonly count: number;
  readonly samples: MatchSamples;
  readonly spacesOf: (of: CandidateConfig, view: CandidateView) => readonly CandidateSpace[];
  /** Red, green and blue, sample after sample. */
  readonly inBase: (space: CandidateSpace) => Float32Array;
  readonly target: (saving: Saving) => Target;
}

/** Numbers beyond these are in no encoded space. */
const [leastEncoded, mostEncoded] = [-0.1, 1.1];

export function searchedOf(samples: MatchSamples, heap: Heap): Searched {
  const { count, light } = samples;
  const inBase = new Map<CandidateSpace, Float32Array>();
  const mayBeEncoded = light.every((v) => v >= leastEncoded && v <= mostEncoded);
  return {
    count,
    samples,
    spacesOf: (of, view) => view.spaces ?? (mayBeEncoded ? [...of.spaces, ...of.encoded()] : of.spaces),
    inBase: (space) => {
      const known = inBase.get(space);
      if (known) return known;
      const at = (i: number) => [light[3 * i]!, light[3 * i + 1]!, light[3 * i + 2]!] as const;
      const made = throughSteps(space.toBase, heap, count, at);
      inBase.set(space, made);
      return made;
    },
    target: targetsOf(samples),
  };
}

/** Half a code: slopes are taken between a target and this much to both sides. */
const slopeStep = 0.5 / 255;

/** Codes turned round, once for each way of saving, so that a view's values are compared as they are, however the picture was saved. */
function targetsOf({ codes }: MatchSamples): Searched['target'] {
  const made = new Map<SavingMistake | null, Map<number, Target>>([null, ...savingMistakes].map((m) => [m, new Map()]));
  return (saving) => {
    const ofMistake = made.get(saving.mistake)!;
    const known = ofMistake.get(saving.gamma);
    if (known) return known;
    const values = codes.map((code) => unsaved(code, saving.mistake) ** saving.gamma);
    const slopes = values.map((v) => {
      const [low, high] = [Math.max(0, v - slopeStep), Math.min(1, v + slopeStep)];
      return (255 * (savedBy(saving, high) - savedBy(saving, low))) / (high - low);
    });
    const target = { values, slopes };
    ofMistake.set(saving.gamma, target);
    return target;
  };
}

/** Scores a view with every space of its config over the whole grid of exposures, and offers the best of each class. */
export function searchView(
  of: CandidateConfig,
  view: CandidateView,
  searched: Searched,
  heap: Heap,
  leaders: Leaders,
): void {
  const spaces = searched.spacesOf(of, view);
  const values = valuesOver(grid, spaces, view, searched, heap);
  const each = 3 * searched.count;
  const between = new Float32Array(each);
  spaces.forEach((space, s) => {
    const grids = Array.from(grid, (_, e) =>
      values.subarray(each * (s * grid.length + e), each * (s * grid.length + e + 1)),
    );
    for (const mistake of [null, ...savingMistakes]) {
      const offer = (exposure: number, gamma: number, error: number) =>
        leaders.offer({ of, space, view, exposure, gamma, mistake, error });
      const bound = leaders.bound({ exposure: 1, gamma: 1, mistake });
      const { plain, best } = exposureOf(grids, searched.target({ gamma: 1, mistake }), between, bound);
      offer(0, 1, plain);
      if (best.error < Infinity) offer(best.exposure, 1, best.error);
      if (mistake === null) offerGammas(grids, searched, offer, leaders);
    }
  });
}

/** The samples of each space at each exposure, through the view in one go: by space, then exposure, then sample, then channel. */
function valuesOver(
  exposures: ArrayLike<number> & Iterable<number>,
  spaces: readonly CandidateSpace[],
  view: CandidateView,
  { count, inBase }: Searched,
  heap: Heap,
): Float32Array {
  const gains = Array.from(exposures, (stops) => 2 ** stops);
  const light = spaces.map(inBase);
  return filledThroughSteps(view.steps, heap, spaces.length * gains.length * count, (planes) => {
    let at = 0;
    for (const own of light)
      for (const gain of gains)
        for (let i = 0; i < count; i++, at++) for (let c = 0; c < 3; c++) planes[c]![at] = gain * own[3 * i + c]!;
  });
}

/** Between two exposures of the grid a guess may lie so many codes nearer than at them. */
const mostGained = 12;
/** Red, green and blue of so many samples tell roughly. */
const fewSamples = 3 * 32;
/** Where between two exposures of the grid others are tried: there values lie nearly on a line. */
const shares = [0.25, 0.5, 0.75] as const;

/** The error without an exposure, and that of the best one, if it may stay below `bound`; between the grid's, values are read off lines. */
function exposureOf(
  grids: readonly Float32Array[],
  target: Target,
  between: Float32Array,
  bound: number,
): { plain: number; best: { exposure: number; error: number } } {
  const plain = errorTo(grids[unexposed]!, target);
  // The calmest third tells which exposure is nearest.
  const few = Math.min(between.length, fewSamples);
  let nearest = { e: unexposed, error: errorTo(grids[unexposed]!, target, Infinity, few) };
  let other = { e: unexposed, error: Infinity };
  for (const e of outwards) {
    const error = errorTo(grids[e]!, target, Math.min(other.error, bound + mostGained), few);
    if (error < nearest.error) nearest = { e, error };
    if (error < other.error) other = { e, error };
  }
  let best = { exposure: 0, error: Infinity };
  if (other.error > bound + mostGained) return { plain, best };
  best = { exposure: grid[other.e]!, error: errorTo(grids[other.e]!, target) };
  for (const e of [nearest.e - 1, nearest.e].filter((g) => g >= 0 && g + 1 < grid.length))
    for (const share of shares) {
      const [a, b] = [grids[e]!, grids[e + 1]!];
      for (let i = 0; i < between.length; i++) between[i] = a[i]! + share * (b[i]! - a[i]!);
      const error = errorTo(between, target, best.error);
      if (error < best.error) best = { exposure: grid[e]! + share * (grid[e + 1]! - grid[e]!), error };
    }
  return { plain, best };
}

function offerGammas(
  grids: readonly Float32Array[],
  { samples, target }: Searched,
  offer: (exposure: number, gamma: number, error: number) => void,
  leaders: Leaders,
): void {
  const bound = leaders.bound({ exposure: 1, gamma: 2, mistake: null }) + mostGained / 2;
  let best: { exposure: number; gamma: number; error: number } | undefined;
  for (const e of [unexposed, ...outwards]) {
    const values = grids[e]!;
    const gamma = toTrim(gammaBetween(values, samples, e === unexposed ? samples.codes.length : fewSamples));
    if (gamma === 1 || gamma < leastGamma || gamma > mostGamma) continue;
    const most = e === unexposed ? Infinity : Math.min(bound, best?.error ?? bound);
    const error = errorTo(values, target({ gamma, mistake: null }), most);
    if (e === unexposed) offer(0, gamma, error);
    else if (error < (best?.error ?? Infinity)) best = { exposure: grid[e]!, gamma, error };
  }
  if (best) offer(best.exposure, best.gamma, best.error);
}

/** Values nearer to black or white than this say little of a gamma, or nothing. */
const [nearBlack, nearWhite] = [0.02, 0.98];

/** The gamma that takes values nearest to codes: a line through 0 in their logarithms, by least squares, bright ones weighing more. */
export function gammaBetween(values: Float32Array, { codes, logarithms }: MatchSamples, length = codes.length): number {
  let [top, bottom] = [0, 0];
  for (let i = 0; i < Math.min(length, codes.length); i++) {
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

/** The mean difference between display values and a target, in 8-bit codes; Infinity as soon as it is beyond `bound`. The first `length` values count. */
function errorTo(
  values: Float32Array,
  { values: wanted, slopes }: Target,
  bound = Infinity,
  length = wanted.length,
): number {
  const most = bound * length;
  let sum = 0;
  for (let from = 0; from < length; from += looksEvery) {
    const to = Math.min(length, from + looksEvery);
    for (let i = from; i < to; i++) {
      const difference = slopes[i]! * Math.abs(values[i]! - wanted[i]!);
      sum += difference < farCodes ? difference : farCodes;
    }
    if (sum > most) return Infinity;
  }
  return length ? sum / length : farCodes;
}

/** A guess with its trims as near as the grid of trims lets them be, evaluated anew. One that has none is left alone. */
export function refined(guess: ScoredGuess, searched: Searched, heap: Heap): ScoredGuess {
  if (guess.exposure === 0 && guess.gamma === 1) return guess;
  const exposures = guess.exposure === 0 ? [0] : around(guess.exposure, reach);
  const all = valuesOver(exposures, [guess.space], guess.view, searched, heap);
  let best: ScoredGuess | undefined;
  exposures.forEach((exposure, e) => {
    const values = all.subarray(3 * searched.count * e, 3 * searched.count * (e + 1));
    for (const gamma of gammasFor(guess, values, searched.samples)) {
      const error = errorTo(values, searched.target({ gamma, mistake: guess.mistake }), best?.error);
      if (!best || error < best.error) best = { ...guess, exposure, gamma, error };
    }
  });
  // On all samples its gamma may lie beyond what renderers have: it stays as it was found.
  return best ?? guess;
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
