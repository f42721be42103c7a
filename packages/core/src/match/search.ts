import { apply3 } from '../colour/matrix.ts';
import type { Heap } from '../kernel/heap.ts';
import { throughSteps, type CandidateConfig, type CandidateSpace, type CandidateView } from './candidates.ts';
import { looked, saved, savingMistakes, savingTable, type SavingMistake } from './mistakes.ts';
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
const grid = Float64Array.from({ length: 25 }, (_, i) => (i - 12) * 0.5);
const unexposed = 12;
/** Trims are found on a grid of a twentieth, as people set them (common practice, no source). */
const trimStep = 0.05;
const toTrim = (v: number) => Math.round(v / trimStep) / Math.round(1 / trimStep);
const [leastGamma, mostGamma] = [0.4, 3];
/** What lies farther than this many codes lies there for another reason than colour: an overlay, another frame. */
const farCodes = 32;

/** How many of each class go on: plain ones, trimmed ones, those with each mistake. */
const quota = { plain: 6, exposure: 6, gamma: 4, both: 4, mistake: 3, trimmedMistake: 3 };
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

  /** All, best first. */
  all(): ScoredGuess[] {
    return [...this.lists.values()].flat().sort((a, b) => a.error - b.error);
  }
}

function classOf({ exposure, gamma, mistake }: Guess): [key: string, most: number] {
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
  const values = valuesOverGrid(of, view, samples, heap);
  of.spaces.forEach((space, s) => {
    const at = (e: number) =>
      values.subarray(3 * samples.count * (s * grid.length + e), 3 * samples.count * (s * grid.length + e + 1));
    const offer = (e: number, gamma: number, mistake: SavingMistake | null, error: number) =>
      leaders.offer({ of, space, view, exposure: grid[e]!, gamma, mistake, error });
    const plain = bestExposure(at, samples, null);
    offer(unexposed, 1, null, plain.unexposed);
    if (plain.at !== unexposed) offer(plain.at, 1, null, plain.error);
    for (const mistake of savingMistakes) {
      const best = bestExposure(at, samples, mistake);
      offer(unexposed, 1, mistake, best.unexposed);
      if (best.at !== unexposed) offer(best.at, 1, mistake, best.error);
    }
    offerGammas(at, samples, offer);
  });
}

/** The samples of each space at each exposure, through the view in one go: by space, then exposure, then sample, then channel. */
function valuesOverGrid(
  { spaces }: CandidateConfig,
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

function bestExposure(
  at: ValuesAt,
  samples: MatchSamples,
  mistake: SavingMistake | null,
): { at: number; error: number; unexposed: number } {
  const none = errorOf(at(unexposed), samples.codes, 1, mistake);
  let best = { at: unexposed, error: none, unexposed: none };
  for (let e = 0; e < grid.length; e++) {
    if (e === unexposed) continue;
    const error = errorOf(at(e), samples.codes, 1, mistake);
    if (error < best.error) best = { ...best, at: e, error };
  }
  return best;
}

function offerGammas(
  at: ValuesAt,
  samples: MatchSamples,
  offer: (e: number, gamma: number, mistake: null, error: number) => void,
): void {
  let best: { e: number; gamma: number; error: number } | undefined;
  for (let e = 0; e < grid.length; e++) {
    const gamma = toTrim(gammaBetween(at(e), samples.codes));
    if (gamma === 1 || gamma < leastGamma || gamma > mostGamma) continue;
    const error = errorOf(at(e), samples.codes, gamma, null);
    if (e === unexposed) offer(e, gamma, null, error);
    else if (!best || error < best.error) best = { e, gamma, error };
  }
  if (best) offer(best.e, best.gamma, null, best.error);
}

/** The gamma that takes values nearest to codes: a line through 0 in their logarithms, by least squares, bright ones weighing more. */
export function gammaBetween(values: Float32Array, codes: Float64Array): number {
  let [top, bottom] = [0, 0];
  for (let i = 0; i < codes.length; i++) {
    const [v, code] = [values[i]!, codes[i]!];
    if (v < 0.02 || v > 0.98 || code < 0.02 || code > 0.98) continue;
    const [x, y] = [Math.log(v), Math.log(code)];
    const weight = code * code;
    top += weight * x * y;
    bottom += weight * x * x;
  }
  return bottom > 1e-9 && top > 1e-9 ? bottom / top : 1;
}

/** The mean difference between values saved so and codes, in 8-bit codes. */
export function errorOf(
  values: Float32Array,
  codes: Float64Array,
  gamma: number,
  mistake: SavingMistake | null,
): number {
  const table = mistake ? savingTable(mistake) : undefined;
  let sum = 0;
  for (let i = 0; i < codes.length; i++) {
    let v = values[i]!;
    if (gamma !== 1) v = v ** (1 / gamma);
    if (table) v = looked(table, v);
    const difference = 255 * Math.abs(v - codes[i]!);
    sum += difference < farCodes ? difference : farCodes;
  }
  return codes.length ? sum / codes.length : farCodes;
}

/** A guess with its trims as near as the grid of trims lets them be, evaluated anew. One that has none is left alone. */
export function refined(guess: ScoredGuess, samples: MatchSamples, heap: Heap): ScoredGuess {
  if (guess.exposure === 0 && guess.gamma === 1) return guess;
  const exposures = guess.exposure === 0 ? [0] : around(guess.exposure, 0.5);
  const all = throughSteps(guess.view.steps, heap, exposures.length * samples.count, (n) => {
    const i = n % samples.count;
    const gain = 2 ** exposures[Math.floor(n / samples.count)]!;
    const { light } = samples;
    return apply3(guess.space.matrix, [gain * light[3 * i]!, gain * light[3 * i + 1]!, gain * light[3 * i + 2]!]);
  });
  let best: ScoredGuess | undefined;
  exposures.forEach((exposure, e) => {
    const values = all.subarray(3 * samples.count * e, 3 * samples.count * (e + 1));
    for (const gamma of gammasFor(guess, values, samples.codes)) {
      const error = errorOf(values, samples.codes, gamma, guess.mistake);
      if (!best || error < best.error) best = { ...guess, exposure, gamma, error };
    }
  });
  return best!;
}

const around = (middle: number, reach: number): number[] => {
  const steps = Math.round(reach / trimStep);
  return Array.from({ length: 2 * steps + 1 }, (_, i) => toTrim(middle + (i - steps) * trimStep)).filter(
    (v) => v !== 0,
  );
};

function gammasFor({ gamma }: Guess, values: Float32Array, codes: Float64Array): number[] {
  if (gamma === 1) return [1];
  const middle = toTrim(gammaBetween(values, codes));
  return [middle - trimStep, middle, middle + trimStep]
    .map(toTrim)
    .filter((g) => g !== 1 && g >= leastGamma && g <= mostGamma);
}

/** A display value as the guess saved it: gamma, then what went wrong. */
export const savedBy = ({ gamma, mistake }: Pick<Guess, 'gamma' | 'mistake'>, v: number): number =>
  saved(gamma === 1 ? v : v ** (1 / gamma), mistake);
