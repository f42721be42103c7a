import type { Heap } from '../kernel/heap.ts';
import {
  filledThroughSteps,
  throughSteps,
  type CandidateConfig,
  type CandidateSpace,
  type CandidateView,
} from './candidates.ts';
import type { AlphaMistake } from './alphaMistakes.ts';
import { arePlainLevels } from '../colour/levels.ts';
import { gammaBetween, levelsBeside, levelsError, levelsNearest, levelsSaving } from './fitTrims.ts';
import { plainSaving, savedBy, savingKey, savingMistakes, unsavedBy, type Saving } from './mistakes.ts';
import type { MatchSamples } from './samples.ts';

/** What may have made a picture: the space of its numbers, a view, trims in the renderer, and what went wrong as it was saved. */
export interface Guess extends Saving {
  readonly of: CandidateConfig;
  readonly space: CandidateSpace;
  readonly view: CandidateView;
  /** Stops. */
  readonly exposure: number;
  /** What went wrong with alpha, where something did. */
  readonly alpha?: AlphaMistake | undefined;
}

type Trims = Saving & Pick<Guess, 'exposure' | 'alpha'>;

/** How many things a guess supposes besides space and view: of two that explain as much, the one that supposes less is right. */
export const supposed = ({ exposure, alpha, black, white, gamma, mistake }: Trims): number =>
  [exposure !== 0, alpha, black !== 0, white !== 1, gamma !== 1, mistake !== null].filter(Boolean).length;

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
const quota = { plain: 6, exposure: 6, gamma: 6, both: 8, levels: 4, exposedLevels: 4, mistake: 3, trimmedMistake: 3 };

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
  bound(guess: Trims): number {
    const [key, most] = classOf(guess);
    const list = this.lists.get(key);
    return list?.length === most ? list[most - 1]!.error : Infinity;
  }

  /** All, best first. */
  all(): ScoredGuess[] {
    return [...this.lists.values()].flat().sort((a, b) => a.error - b.error);
  }
}

function classOf({ exposure, gamma, mistake, ...levels }: Trims): [key: string, most: number] {
  const trimmed = exposure !== 0 || gamma !== 1;
  if (mistake) return trimmed ? [`${mistake} trimmed`, quota.trimmedMistake] : [mistake, quota.mistake];
  const found = !arePlainLevels(levels)
    ? exposure === 0
      ? 'levels'
      : 'exposedLevels'
    : gamma === 1
      ? exposure === 0
        ? 'plain'
        : 'exposure'
      : exposure === 0
        ? 'gamma'
        : 'both';
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

/** So many targets are kept. */
const mostTargets = 400;

/** Codes turned round, once for each way of saving, so that a view's values are compared as they are, however the picture was saved. */
function targetsOf({ codes }: MatchSamples): Searched['target'] {
  const made = new Map<string, Target>();
  return (saving) => {
    const key = savingKey(saving);
    const known = made.get(key);
    if (known) return known;
    const values = codes.map((code) => unsavedBy(saving, code));
    const slopes = values.map((v) => {
      const [low, high] = [Math.max(0, v - slopeStep), Math.min(1, v + slopeStep)];
      return (255 * (savedBy(saving, high) - savedBy(saving, low))) / (high - low);
    });
    const target = { values, slopes };
    if (made.size >= mostTargets) made.clear();
    made.set(key, target);
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
      const saving = { ...plainSaving, mistake };
      const offer = (trims: Trims, error: number) => leaders.offer({ of, space, view, ...trims, error });
      const bound = leaders.bound({ ...saving, exposure: 1 });
      const { plain, best } = exposureOf(grids, searched.target(saving), between, bound);
      offer({ ...saving, exposure: 0 }, plain);
      if (best.error < Infinity) offer({ ...saving, exposure: best.exposure }, best.error);
      if (mistake === null) for (const fit of fits) offerFits(fit, grids, searched, offer, leaders);
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

/** Trims of the codes that are fitted to the samples at an exposure; undefined where none are needed, or such as renderers do not have. */
type Fit = (values: Float32Array, samples: MatchSamples, length: number) => Saving | undefined;
const fits: readonly Fit[] = [gammaSaving, levelsSaving];

function gammaSaving(values: Float32Array, samples: MatchSamples, length: number): Saving | undefined {
  const gamma = toTrim(gammaBetween(values, samples, length));
  return isGamma(gamma) ? { ...plainSaving, gamma } : undefined;
}

const isGamma = (gamma: number): boolean => gamma !== 1 && gamma >= leastGamma && gamma <= mostGamma;

/** Offers a view with what fits it best without an exposure, and with the best one. */
function offerFits(
  fit: Fit,
  grids: readonly Float32Array[],
  searched: Searched,
  offer: (trims: Trims, error: number) => void,
  leaders: Leaders,
): void {
  let best: (Trims & { error: number }) | undefined;
  for (const e of [unexposed, ...outwards]) {
    const values = grids[e]!;
    const saving = fit(values, searched.samples, e === unexposed ? values.length : fewSamples);
    if (!saving) continue;
    const exposure = grid[e]!;
    const bound = leaders.bound({ ...saving, exposure: 1 }) + mostGained / 2;
    const most = e === unexposed ? Infinity : Math.min(bound, best?.error ?? bound);
    const error = savedError(values, saving, searched, most);
    if (e === unexposed) offer({ ...saving, exposure }, error);
    else if (error < (best?.error ?? Infinity)) best = { ...saving, exposure, error };
  }
  if (best) offer(best, best.error);
}

/** The error of values that are saved in a way. Levels have too many places on their grid for targets to be kept. */
const savedError = (values: Float32Array, saving: Saving, { samples, target }: Searched, bound?: number): number =>
  arePlainLevels(saving)
    ? errorTo(values, target(saving), bound)
    : levelsError(values, samples, saving, farCodes, bound);

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

/** A guess with its trims as near as the grids of trims let them be, evaluated anew. One that has none is left alone. */
export function refined(guess: ScoredGuess, searched: Searched, heap: Heap): ScoredGuess {
  const { exposure: rough } = guess;
  if (rough === 0 && guess.gamma === 1 && arePlainLevels(guess)) return guess;
  const exposures = rough === 0 ? [0] : around(rough, reach);
  const all = valuesOver(exposures, [guess.space], guess.view, searched, heap);
  let best: ScoredGuess | undefined;
  exposures.forEach((exposure, e) => {
    const values = all.subarray(3 * searched.count * e, 3 * searched.count * (e + 1));
    for (const saving of savingsNear(guess, values, searched.samples)) {
      const error = savedError(values, saving, searched, best?.error);
      if (!best || error < best.error) best = { ...guess, ...saving, exposure, error };
    }
  });
  // On all samples its trims may lie beyond what renderers have: they stay as they were found.
  return best ?? guess;
}

/** So far from where it was found an exposure is looked for, in stops. */
const reach = 0.5;

const around = (rough: number, by: number): number[] => {
  const steps = Math.round(by / trimStep);
  // Steps of the grid from a place on it: half steps would leave some out.
  const middle = toTrim(rough);
  return Array.from({ length: 2 * steps + 1 }, (_, i) => toTrim(middle + (i - steps) * trimStep)).filter(
    (v) => v !== 0,
  );
};

/** Ways of saving beside what fits all samples, of the kind that a guess has. */
function savingsNear(guess: Guess, values: Float32Array, samples: MatchSamples): Saving[] {
  const { gamma, mistake } = guess;
  if (!arePlainLevels(guess)) return [levelsNearest(values, samples, farCodes) ?? []].flat();
  if (gamma === 1) return [{ ...plainSaving, mistake }];
  const middle = toTrim(gammaBetween(values, samples));
  return [middle - trimStep, middle, middle + trimStep]
    .map(toTrim)
    .filter(isGamma)
    .map((g) => ({ ...plainSaving, gamma: g, mistake }));
}

/** The neighbours of a guess's trims on their grids, of those that it has; none for a guess without trims. */
export function trimsBeside(guess: Guess): Partial<Guess>[] {
  const { exposure, gamma } = guess;
  const steps = [-trimStep, 0, trimStep];
  const exposures = exposure === 0 ? [0] : steps.map((s) => toTrim(exposure + s)).filter((v) => v !== 0);
  const gammas = gamma === 1 ? [1] : steps.map((s) => toTrim(gamma + s)).filter(isGamma);
  const trims = exposures.flatMap((e) => gammas.map((g) => ({ exposure: e, gamma: g })));
  const beside = trims.filter((t) => t.exposure !== exposure || t.gamma !== gamma);
  return arePlainLevels(guess) ? beside : [...beside, ...levelsBeside(guess)];
}
