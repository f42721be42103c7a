import type { CodeEncoding } from '../colour/codes.ts';
import { primariesMatrix, type Primaries } from '../colour/primaries.ts';
import { findSpace } from '../colour/spaces.ts';
import type { Heap } from '../kernel/heap.ts';
import { candidatesOf, probed, type CandidateConfig, type SearchedConfig } from './candidates.ts';
import { between, codesOf, decide, type Decided } from './decide.ts';
import { fitness, type Fitness } from './fitness.ts';
import { mistakeWords } from './mistakes.ts';
import { leftOver, type LeftOver } from './leftOver.ts';
import { averagedAfter, register, type Registered, type Registration } from './register.ts';
import { matchSamples, type MatchSamples } from './samples.ts';
import { Leaders, refined, searchView, supposed, type Guess, type ScoredGuess } from './search.ts';
import { thinned, type CodePicture, type LightPicture } from './pictures.ts';
import { confidenceOf, costOf, verdictOf, type MatchRow, type MatchVerdict } from './verdict.ts';
import { lackingColours } from './lacking.ts';

export interface FinderTask {
  readonly light: LightPicture;
  readonly picture: CodePicture;
  readonly configs: readonly SearchedConfig[];
  /** The primaries that the linear file says its numbers have. */
  readonly chromaticities?: Primaries | undefined;
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
  { light, picture, configs, chromaticities }: FinderTask,
  heap: Heap,
): Generator<MatchProgress, MatchResult> {
  const first = register(light, picture);
  const all = configs.map((c) => candidatesOf(c, heap));
  const views = all.flatMap((of) => of.views.map((view) => ({ of, view })));
  if (!views.length) throw new Error('No config offers a view to try.');
  const ways = [first, averagedAfter(light, first)].filter((r) => r !== undefined);
  const samples = matchSamples(first.light, first.picture, first.picture.jpeg !== undefined || ways.length > 1);
  const leaders = new Leaders();
  for (const [tried, { of, view }] of views.entries()) {
    searchView(of, view, samples, heap, leaders);
    yield {
      tried: tried + 1,
      count: views.length,
      rows: leaders
        .all()
        .slice(0, 6)
        .map((g) => ({ guess: g, error: g.error })),
    };
  }
  const decided = yield* decideLeaders(leaders, samples, ways, heap, views.length);
  const tried = all.reduce((n, c) => n + c.views.length * c.spaces.length, 0);
  return resultOf(decided, { registered: first, chromaticities, left: all.flatMap((c) => c.left), tried, heap });
}

interface Placed extends Decided {
  readonly way: Registered;
}

/** Leaders against some rows of the picture, and the best of them against all. */
function* decideLeaders(
  leaders: Leaders,
  samples: MatchSamples,
  ways: readonly Registered[],
  heap: Heap,
  count: number,
): Generator<MatchProgress, Placed[]> {
  const close = distinct(leaders.all().map((g) => refined(g, samples, heap))).sort((a, b) => a.error - b.error);
  const few = keepingClasses(close, toSomePixels);
  const progress = (rows: readonly { guess: Guess; error: number }[]) => ({ tried: count, count, rows });
  yield progress(few.slice(0, 6).map((g) => ({ guess: g, error: g.error })));
  const some: Placed[] = [];
  for (const guess of few) {
    for (const way of ways) {
      const part = thinned(way.light, way.picture, way.averageAfter);
      some.push({
        ...decide(guess, part.light, part.picture, codesOf(part.picture), way.averageAfter, encodingOf(guess), heap),
        way,
      });
    }
    yield progress(
      byCost(some)
        .slice(0, 6)
        .map((d) => ({ guess: d.guess, error: d.difference.meanCode })),
    );
  }
  const full: Placed[] = [];
  for (const { guess, way } of byCost(some).slice(0, toAllPixels)) {
    full.push({
      ...decide(guess, way.light, way.picture, codesOf(way.picture), way.averageAfter, encodingOf(guess), heap),
      way,
    });
    yield progress(
      byCost(full)
        .slice(0, 6)
        .map((d) => ({ guess: d.guess, error: d.difference.meanCode })),
    );
  }
  return byCost(full);
}

/** Each class of guesses keeps its best, so that a plain one is never crowded out by many that are trimmed to fit. */
function keepingClasses(sorted: readonly ScoredGuess[], most: number): ScoredGuess[] {
  const kept = new Set<ScoredGuess>(sorted.slice(0, most / 2));
  for (const g of sorted.filter((s) => supposed(s) === 0).slice(0, most / 4)) kept.add(g);
  for (const g of sorted) if (kept.size < most) kept.add(g);
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
      g.exposure,
      g.gamma,
      g.mistake,
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
  readonly left: CandidateConfig['left'];
  readonly tried: number;
  readonly heap: Heap;
}

function resultOf(decided: readonly Placed[], told: Told): MatchResult {
  const [best, ...others] = decided;
  const { registered, heap } = told;
  const common = {
    registration: best?.way.registration ?? registered.registration,
    left: told.left,
    tried: told.tried,
  };
  if (!best) throw new Error('The pictures have no pixel in common.');
  const rest = leftOver(best.made, codesOf(best.way.picture), best.way.picture);
  const jpeg = best.way.picture.jpeg !== undefined;
  const rivals = others.filter((o) => sameHere(best, o, jpeg));
  const same = rivals.filter((r) => sameForAll(best.guess, r.guess, heap));
  const unlike = rivals.filter((r) => !same.includes(r));
  const judged = verdictOf(best, rest, unlike.length > 0);
  const next = others.find((o) => !rivals.includes(o));
  const rows = decided
    .slice(0, rowsTold)
    .map((d) => rowOf(d, told, d === best ? confidenceOf(best, next, unlike.length) : 0));
  const row = rows[0]!;
  return {
    ...common,
    ...judged,
    reason: judged.verdict === 'cannot-tell' ? lackingColours(best.guess, unlike[0]!.guess, heap) : judged.reason,
    best: row,
    ranking: rows,
    ties: [...aliasRows(row, best.guess), ...same.map((d) => rowOf(d, told, 0))],
    leftOver: rest,
    fitness: fitness(best, rest, registered),
  };
}

const sameHere = (a: Placed, b: Placed, jpeg: boolean): boolean =>
  a.made.length === b.made.length && between(a.made, b.made) <= (jpeg ? apartInJpeg : apart);

/** Whether two guesses give the same codes for all colours that views are told apart by. */
function sameForAll(a: Guess, b: Guess, heap: Heap): boolean {
  if (a.gamma !== b.gamma || a.mistake !== b.mistake || a.of !== b.of) return false;
  const [x, y] = [a, b].map((g) => probed(g.view.steps, heap, g.space.matrix, g.exposure));
  return x!.every((v, i) => Math.abs(v - y![i]!) <= 0.5 / 255);
}

function rowOf(decided: Placed, { chromaticities }: Told, confidence: number): MatchRow {
  const { guess, difference, equal, way } = decided;
  const wrong = guess.mistake === null && chromaticities !== undefined && contradicts(guess.space.name, chromaticities);
  const mistake = wrong ? ('wrong-primaries' as const) : guess.mistake;
  return {
    space: guess.space.name,
    config: guess.of.config.name,
    configId: guess.of.config.id,
    display: guess.view.display,
    view: guess.view.view,
    look: guess.view.look,
    exposure: guess.exposure,
    gamma: guess.gamma,
    mistake,
    registration: way.registration,
    confidence,
    reason: reasonOf(decided, mistake),
    maxCode: difference.maxCode,
    meanCode: difference.meanCode,
    equal,
    at: difference.at,
    deltaE: difference.deltaE,
  };
}

/** What a row means, in words. */
function reasonOf({ guess, difference }: Decided, mistake: MatchRow['mistake']): string {
  const parts = [
    ...(guess.exposure
      ? [`exposure ${guess.exposure > 0 ? '+' : '−'}${Math.abs(guess.exposure).toFixed(2)} stops in the renderer`]
      : []),
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
