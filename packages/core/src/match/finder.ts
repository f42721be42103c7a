import type { CodeEncoding } from '../colour/displayCodes.ts';
import { arePlainLevels } from '../colour/levels.ts';
import { primariesMatrix, type Primaries } from '../colour/primaries.ts';
import { findSpace } from '../colour/spaces.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Figures } from '../proof/differences.ts';
import { probed, type CandidateConfig } from './candidates.ts';
import { alphaMistakes, isPartlyCovered, withAlphaMistake, type AlphaMistake } from './alphaMistakes.ts';
import { between, codesOf, holdAgainst, makingOf, seenDifference, type Decided } from './decide.ts';
import { fitness, type Fitness } from './fitness.ts';
import { mistakeWords, savedBy, savingKey } from './mistakes.ts';
import { leftOver, type LeftOver } from './leftOver.ts';
import { averagedAfter, register, type Registered, type Registration } from './register.ts';
import { guessIsSaid, saidOf, saidWords, viewIsSaid, type Said } from './said.ts';
import { matchSamples } from './samples.ts';
import {
  Leaders,
  refined,
  searchView,
  supposed,
  searchedOf,
  trimsBeside,
  type Guess,
  type ScoredGuess,
  type Searched,
} from './search.ts';
import { thinned, type CodePicture, type LightPicture } from './pictures.ts';
import { confidenceOf, costOf, verdictOf, type MatchRow, type MatchVerdict } from './verdict.ts';
import { lackingColours } from './lacking.ts';

export interface FinderTask {
  readonly light: LightPicture;
  readonly picture: CodePicture;
  /** What is searched; see `candidatesOf`. */
  readonly configs: readonly CandidateConfig[];
  /** The primaries that the linear file says its numbers have. */
  readonly chromaticities?: Primaries | undefined;
  /** What a person read off the renderer: a first guess, and what decides where the picture cannot. */
  readonly note?: string | undefined;
}

export interface MatchResult {
  readonly verdict: MatchVerdict;
  /** No row makes the picture: something else than these views was done to it. */
  readonly explained: boolean;
  /** One sentence for a person. */
  readonly reason: string;
  readonly best: MatchRow | undefined;
  readonly ranking: readonly MatchRow[];
  /** Rows that give the same as the best for every colour. */
  readonly ties: readonly MatchRow[];
  /** What lies between the picture and the best row, by brightness and place. */
  readonly leftOver: LeftOver | undefined;
  readonly fitness: Fitness;
  /** How the renderer's words and the best row lie to each other; null where none were said. */
  readonly said: string | null;
  readonly registration: Registration;
  /** Views that could not be tried, with the reason. */
  readonly left: CandidateConfig['left'];
  readonly tried: number;
}

/** How far a search has come; `rows` are the best so far, judged by samples. */
export interface MatchProgress {
  readonly tried: number;
  readonly count: number;
  readonly rows: readonly { readonly guess: Guess; readonly error: number }[];
}

/** So many go from the samples to all pixels of some rows, and from those to all pixels. */
const [toSomePixels, toAllPixels] = [28, 8];
/** So many are tried with mistakes of alpha as well. */
const toAlpha = 6;
/** Rows that are told while it goes on. */
const leadersTold = 6;
/** Rows of the answer. */
const rowsTold = 12;
/** Predictions that lie closer than this, in mean codes, cannot be told apart by a picture. */
const [apart, apartInJpeg] = [0.01, 0.05];

/**
 * Finds what made a picture of linear light: the space of its numbers, a view and look, trims, and what went wrong as it was saved.
 * Yields as it goes, after each view: whoever runs it may stop there, or let others go first. Throws a RegistrationError for pictures of
 * sizes that do not fit, and an Error where no config offers anything to try.
 */
export function* findMatch(
  { light, picture, configs, chromaticities, note = '' }: FinderTask,
  heap: Heap,
): Generator<MatchProgress, MatchResult> {
  const first = register(light, picture);
  const said = saidOf(note, configs);
  const all = configs.flatMap((of) => of.views.map((view) => ({ of, view, first: viewIsSaid(said, of, view) })));
  const views = [...all.filter((v) => v.first), ...all.filter((v) => !v.first)];
  if (!views.length) throw new Error('No config offers a view to try.');
  const ways = [first, averagedAfter(light, first)].filter((r) => r !== undefined).map(wayOf);
  const samples = matchSamples(first.light, first.picture, first.picture.jpeg !== undefined || ways.length > 1);
  const searched = searchedOf(samples, heap);
  const leaders = new Leaders();
  for (const [tried, { of, view }] of views.entries()) {
    searchView(of, view, searched, heap, leaders);
    yield {
      tried: tried + 1,
      count: views.length,
      rows: leaders
        .all()
        .slice(0, leadersTold)
        .map((g) => ({ guess: g, error: g.error })),
    };
  }
  const decided = yield* decideLeaders(leaders, searched, ways, heap, views.length);
  const tried = all.reduce((n, { of, view }) => n + searched.spacesOf(of, view).length, 0);
  return resultOf(decided, {
    registered: first,
    chromaticities,
    said,
    left: configs.flatMap((c) => c.left),
    tried,
    heap,
  });
}

/** A way in which both pictures lie on each other, with some rows of them and all. */
interface Way {
  readonly registered: Registered;
  readonly some: Pair;
  readonly all: Pair;
}

interface Pair {
  readonly light: LightPicture;
  /** The same with each mistake with alpha; none where alpha is 0 or 1 everywhere. */
  readonly mistaken: ReadonlyMap<AlphaMistake, LightPicture>;
  readonly picture: CodePicture;
  /** The picture as RGBA8. */
  readonly codes: Uint8ClampedArray;
}

function wayOf(registered: Registered): Way {
  const { light, picture, averageAfter } = registered;
  const seen = isPartlyCovered(light) ? alphaMistakes : [];
  const pair = (own: { light: LightPicture; picture: CodePicture }): Pair => ({
    ...own,
    mistaken: new Map(seen.map((mistake) => [mistake, withAlphaMistake(own.light, mistake)])),
    codes: codesOf(own.picture),
  });
  return { registered, some: pair(thinned(light, picture, averageAfter)), all: pair({ light, picture }) };
}

interface Placed extends Decided {
  readonly way: Way;
}

/** Leaders against some rows of the picture, and the best of them against all. */
function* decideLeaders(
  leaders: Leaders,
  searched: Searched,
  ways: readonly Way[],
  heap: Heap,
  count: number,
): Generator<MatchProgress, Placed[]> {
  const close = distinct(leaders.all().map((g) => refined(g, searched, heap))).sort((a, b) => a.error - b.error);
  const decided = (guess: Guess, way: Way, { light, mistaken, picture, codes }: Pair): Placed => {
    const shown = (guess.alpha && mistaken.get(guess.alpha)) ?? light;
    return { guess, ...holdAgainst(makingOf(guess), shown, picture, codes, way.registered.averageAfter, heap), way };
  };
  const progress = (placed: readonly Placed[]): MatchProgress => ({
    tried: count,
    count,
    rows: byCost(placed)
      .slice(0, leadersTold)
      .map((d) => ({ guess: d.guess, error: d.difference.meanCode })),
  });
  const some: Placed[] = [];
  for (const guess of keepingClasses(close, toSomePixels)) {
    for (const way of ways) some.push(decided(guess, way, way.some));
    yield progress(some);
  }
  for (const best of byCost(some).slice(0, toWalk)) {
    if (!trimsBeside(best.guess).length) continue;
    some.push(walkedTrims(best, (guess) => decided(guess, best.way, best.way.some)));
    yield progress(some);
  }
  // Calm pixels found the view; what went wrong with alpha shows at soft edges.
  const plain = byCost(some).filter((d) => d.guess.mistake === null);
  for (const own of plain.slice(0, toAlpha))
    for (const alpha of own.way.some.mistaken.keys()) {
      const mistaken = decided({ ...own.guess, alpha }, own.way, own.way.some);
      if (costOf(mistaken) < costOf(own)) some.push(mistaken);
    }
  const full: Placed[] = [];
  for (const { guess, way } of byCost(some).slice(0, toAllPixels)) {
    full.push(decided(guess, way, way.all));
    yield progress(full);
  }
  return byCost(full);
}

/** So many of the best have their trims walked on pixels, in so many rounds at most. */
const toWalk = 3;
const trimRounds = 8;

/** A guess whose trims are walked over their grids to where pixels themselves lie nearest: a JPEG's blocks, and what levels cut off, bend what samples tell. */
function walkedTrims(from: Placed, decide: (guess: Guess) => Placed): Placed {
  let best = from;
  for (let round = 0; round < trimRounds; round++) {
    const before = best;
    for (const beside of trimsBeside(before.guess)) {
      const own = decide({ ...before.guess, ...beside });
      if (own.difference.meanCode < best.difference.meanCode) best = own;
    }
    if (best === before) break;
  }
  return best;
}

/** A guess so much farther off than the best, on the samples, is not held against pixels: so many times, and so many codes. */
const [farTimes, farCodes] = [3, 5];
/** So many plain ones go on however far off they are: the answer says how far. */
const plainKept = 3;

/** Each class of guesses keeps its best, so that a plain one is never crowded out by many that are trimmed to fit. */
function keepingClasses(sorted: readonly ScoredGuess[], most: number): ScoredGuess[] {
  const limit = (sorted[0]?.error ?? 0) * farTimes + farCodes;
  const near = sorted.filter((s) => s.error <= limit);
  const kept = new Set<ScoredGuess>(near.slice(0, most / 2));
  for (const g of sorted.filter((s) => supposed(s) === 0).slice(0, plainKept)) kept.add(g);
  for (const g of near.filter((s) => supposed(s) === 0).slice(0, most / 4)) kept.add(g);
  for (const g of near) if (kept.size < most) kept.add(g);
  return [...kept];
}

function distinct(guesses: readonly ScoredGuess[]): ScoredGuess[] {
  const known = new Map<string, ScoredGuess>();
  for (const g of guesses) {
    const key = JSON.stringify([
      g.of.config.id,
      g.space.name,
      g.view.display,
      g.view.view,
      g.view.look,
      g.view.lookFile?.id,
      g.exposure,
      savingKey(g),
    ]);
    if (!known.has(key)) known.set(key, g);
  }
  return [...known.values()];
}

const byCost = (decided: readonly Placed[]): Placed[] => [...decided].sort((a, b) => costOf(a) - costOf(b));

const encodingOf = ({ of, view }: Guess): CodeEncoding =>
  of.config.colour.displayEncoding(view.display, view.view) ?? 'srgb';

interface Told {
  readonly registered: Registered;
  readonly chromaticities: Primaries | undefined;
  readonly said: Said;
  readonly left: CandidateConfig['left'];
  readonly tried: number;
  readonly heap: Heap;
}

function resultOf(found: readonly Placed[], told: Told): MatchResult {
  const decided = saidFirst(found, told.said);
  const [best, ...others] = decided;
  const { registered, heap } = told;
  const common = {
    registration: best?.way.registered.registration ?? registered.registration,
    left: told.left,
    tried: told.tried,
  };
  if (!best) throw new Error('The pictures have no pixel in common.');
  const rest = leftOver(best.made, best.way.all.codes, best.way.all.picture);
  const jpeg = best.way.all.picture.jpeg !== undefined;
  const rivals = others.filter((o) => sameHere(best, o, jpeg));
  const same = rivals.filter((r) => sameForAll(best.guess, r.guess, heap));
  const unlike = rivals.filter((r) => !same.includes(r));
  const seen = seenOf(best, true);
  const judged = verdictOf(best.difference, seen, rest, unlike.length > 0);
  const next = others.find((o) => !rivals.includes(o));
  const rows = decided
    .slice(0, rowsTold)
    .map((d) =>
      rowOf(d, told, d === best ? seen : seenOf(d, false), d === best ? confidenceOf(best, next, unlike.length) : 0),
    );
  const row = rows[0]!;
  const isSaid = guessIsSaid(told.said, best.guess);
  const lacking = () =>
    lackingColours(best.guess, unlike[0]!.guess, heap) + (isSaid ? ' The first is what the renderer said.' : '');
  return {
    ...common,
    ...judged,
    reason: judged.verdict === 'cannot-tell' ? lacking() : judged.reason,
    said: saidWords(told.said, best.guess),
    best: row,
    ranking: rows,
    ties: [
      ...aliasRows(row, best.guess),
      ...same.flatMap((d) => {
        const own = rowOf(d, told, seenOf(d, false), 0);
        return [own, ...aliasRows(own, d.guess)];
      }),
    ],
    leftOver: rest,
    fitness: fitness(best, best.way.all, rest, registered, heap),
  };
}

/** Of rows that the picture cannot tell apart, the one that the renderer's words say comes first. */
function saidFirst(decided: readonly Placed[], said: Said): readonly Placed[] {
  const [best] = decided;
  if (!best || guessIsSaid(said, best.guess)) return decided;
  const jpeg = best.way.all.picture.jpeg !== undefined;
  const meant = decided.find((d) => guessIsSaid(said, d.guess) && sameHere(best, d, jpeg));
  return meant ? [meant, ...decided.filter((d) => d !== meant)] : decided;
}

const sameHere = (a: Placed, b: Placed, jpeg: boolean): boolean =>
  a.made.length === b.made.length && between(a.made, b.made) <= (jpeg ? apartInJpeg : apart);

/** Whether two guesses give the same codes for all colours that views are told apart by: half a code lies between them at most. */
function sameForAll(a: Guess, b: Guess, heap: Heap): boolean {
  const [x, y] = [a, b].map((g) => probed(g.view.steps, heap, g.space.toBase, g.exposure));
  return x!.every((v, i) => Math.abs(savedBy(a, v) - savedBy(b, y![i]!)) <= 0.5 / 255);
}

function rowOf(decided: Placed, { chromaticities }: Told, deltaE: Figures, confidence: number): MatchRow {
  const { guess, difference, way } = decided;
  const wrong =
    guess.mistake === null &&
    !guess.alpha &&
    chromaticities !== undefined &&
    contradicts(guess.space.name, chromaticities);
  const mistake = wrong ? ('wrong-primaries' as const) : (guess.alpha ?? guess.mistake);
  return {
    space: guess.space.name,
    config: guess.of.config.name,
    configId: guess.of.config.id,
    display: guess.view.display,
    view: guess.view.view,
    look: guess.view.look,
    lookFile: guess.view.lookFile,
    exposure: guess.exposure,
    black: guess.black,
    white: guess.white,
    gamma: guess.gamma,
    mistake,
    registration: way.registered.registration,
    confidence,
    reason: reasonOf(decided, mistake),
    ...difference,
    deltaE,
  };
}

const seenOf = ({ guess, made, way }: Placed, whole: boolean): Figures =>
  seenDifference(way.all.codes, made, way.all.picture.width, encodingOf(guess), whole);

/** What a row means, in words. */
function reasonOf({ guess, difference }: Decided, mistake: MatchRow['mistake']): string {
  const parts = [
    ...(guess.exposure
      ? [`exposure ${guess.exposure > 0 ? '+' : '−'}${Math.abs(guess.exposure).toFixed(2)} stops in the renderer`]
      : []),
    ...(arePlainLevels(guess) ? [] : [`levels ${guess.black.toFixed(2)} to ${guess.white.toFixed(2)} in the renderer`]),
    ...(guess.gamma !== 1 ? [`gamma ${guess.gamma.toFixed(2)} in the renderer`] : []),
    ...(mistake ? [mistakeWords[mistake]] : []),
  ];
  const far =
    difference.maxCode <= 1
      ? 'at most 1 code value anywhere'
      : `up to ${difference.maxCode} code values, ${difference.meanCode.toFixed(2)} on average`;
  return [...parts, far].join('; ');
}

/** Whether a built-in linear space has other primaries than a file says. */
function contradicts(space: string, chromaticities: Primaries): boolean {
  const known = findSpace(space);
  if (!known || known.encoding !== 'linear') return false;
  const identity = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  return primariesMatrix(known.primaries, chromaticities).some((v, i) => Math.abs(v - identity[i]!) > 0.01);
}

/** Rows for the other names of the best one's space and view. */
function aliasRows(row: MatchRow, { space, view }: Guess): MatchRow[] {
  const alias = { ...row, confidence: 0, reason: 'gives the same for every colour' };
  return [
    ...space.same.map((name) => ({ ...alias, space: name })),
    ...view.same.map((names) => ({ ...alias, ...names })),
  ];
}
