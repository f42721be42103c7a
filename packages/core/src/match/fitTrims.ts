import { arePlainLevels, type Levels } from '../colour/levels.ts';
import { plainSaving, type Saving } from './mistakes.ts';
import type { MatchSamples } from './samples.ts';

/** Values nearer to black or white than this say little of a trim, or nothing. */
const [nearBlack, nearWhite] = [0.02, 0.98];

const tells = (v: number): boolean => v >= nearBlack && v <= nearWhite;

/** The gamma that takes values nearest to codes: a line through 0 in their logarithms, by least squares, bright ones weighing more. */
export function gammaBetween(values: Float32Array, { codes, logarithms }: MatchSamples, length = codes.length): number {
  let [top, bottom] = [0, 0];
  for (let i = 0; i < Math.min(length, codes.length); i++) {
    const [v, code] = [values[i]!, codes[i]!];
    if (!tells(v) || !tells(code)) continue;
    const x = Math.log(v);
    const weight = code * code;
    top += weight * x * logarithms[i]!;
    bottom += weight * x * x;
  }
  return bottom > 1e-9 && top > 1e-9 ? bottom / top : 1;
}

/** Levels are found on a grid of a hundredth of the codes' range, as people set them (common practice, no source). */
const levelSteps = 100;
const toLevel = (v: number) => Math.round(v * levelSteps) / levelSteps;
/** Levels such as renderers have. */
const [leastBlack, mostBlack, leastWhite, mostWhite] = [-0.3, 0.3, 0.6, 1.6];
/** A line needs so many values. */
const leastValues = 8;

/** The levels that take values nearest to codes: a line, by least squares. Undefined where too few values tell. */
export function levelsBetween(
  values: Float32Array,
  { codes }: MatchSamples,
  length = codes.length,
): Levels | undefined {
  let [n, x, y, xx, xy] = [0, 0, 0, 0, 0];
  for (let i = 0; i < Math.min(length, codes.length); i++) {
    const [v, code] = [values[i]!, codes[i]!];
    if (!tells(v) || !tells(code)) continue;
    n++;
    x += v;
    y += code;
    xx += v * v;
    xy += v * code;
  }
  const spread = n * xx - x * x;
  if (n < leastValues || spread <= 1e-9) return undefined;
  const gain = (n * xy - x * y) / spread;
  const offset = (y - gain * x) / n;
  return gain > 1e-3 ? { black: -offset / gain, white: (1 - offset) / gain } : undefined;
}

const isTrim = (levels: Levels): boolean =>
  !arePlainLevels(levels) &&
  levels.black >= leastBlack &&
  levels.black <= mostBlack &&
  levels.white >= leastWhite &&
  levels.white <= mostWhite;

/** Levels that fit samples, on their grid; undefined where none are needed, or such as renderers do not have. */
export function levelsSaving(values: Float32Array, samples: MatchSamples, length: number): Saving | undefined {
  const found = levelsBetween(values, samples, length);
  const levels = found && { black: toLevel(found.black), white: toLevel(found.white) };
  return levels && isTrim(levels) ? { ...plainSaving, ...levels } : undefined;
}

/** The eight neighbours of levels on their grid. */
export const levelsBeside = ({ black, white }: Levels): Levels[] =>
  [-1, 0, 1]
    .flatMap((b) => [-1, 0, 1].map((w) => [b, w] as const))
    .filter(([b, w]) => b !== 0 || w !== 0)
    .map(([b, w]) => ({ black: toLevel(black + b / levelSteps), white: toLevel(white + w / levelSteps) }));

/** So many steps over the grid are walked at most. */
const mostSteps = 30;

/**
 * The levels of the grid that take values nearest to the samples' codes: from where a line through those that tell leaves off, step by step to
 * the neighbour that lies nearest. Noise bends the line, since what it pushes to black or white is left out of it; the walk sees all samples.
 */
export function levelsNearest(values: Float32Array, samples: MatchSamples, far: number): Saving | undefined {
  const found = levelsBetween(values, samples);
  if (!found) return undefined;
  let levels = { black: toLevel(found.black), white: toLevel(found.white) };
  let error = levelsError(values, samples, levels, far);
  for (let step = 0; step < mostSteps; step++) {
    const before = error;
    for (const beside of levelsBeside(levels)) {
      const own = levelsError(values, samples, beside, far, error);
      if (own < error) [levels, error] = [beside, own];
    }
    if (error === before) break;
  }
  return isTrim(levels) ? { ...plainSaving, ...levels } : undefined;
}

/** The mean difference between levelled values and the samples' codes, in 8-bit codes, each at most `far`; Infinity as soon as it is beyond `bound`. */
export function levelsError(
  values: Float32Array,
  { codes }: MatchSamples,
  { black, white }: Levels,
  far: number,
  bound = Infinity,
): number {
  const most = bound * codes.length;
  const gain = 1 / (white - black);
  let sum = 0;
  for (let i = 0; i < codes.length && sum <= most; i++) {
    const level = (values[i]! - black) * gain;
    const difference = 255 * Math.abs((level > 0 ? (level < 1 ? level : 1) : 0) - codes[i]!);
    sum += difference < far ? difference : far;
  }
  return sum > most ? Infinity : codes.length ? sum / codes.length : far;
}
