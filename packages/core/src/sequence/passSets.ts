import type { FrameSequence } from './names.ts';
import { guessRole, knownRole } from './passes.ts';
import { pathWords, type PathWords } from './tokens.ts';

/** One render whose passes lie in files of their own: their paths differ in one token, before the frame number. */
export interface PassSet {
  /** With `{pass}` where the names differ: `landing_{pass}.####.exr`, `{pass}/landing.####.exr`. */
  readonly pattern: string;
  readonly members: readonly { readonly pass: string; readonly sequence: FrameSequence }[];
}

/** A way to read a path: some of its words are the pass, the rest (`key`) is common to the set. */
interface Reading {
  readonly pass: string;
  readonly key: string;
}

/** Words that name an eye or a version, never a pass. */
const neverPass = /^(left|right|l|r|v\d+|\d+)$/i;
/** Words of files that lie beside a render and are none of its passes. Common practice, no source. */
const besides = /plate|approved|reference|^ref$|grade|comp|slate|thumb|proxy|preview|clean|chart|sky/i;
/** A pass's name has at most this many words. */
const longestPass = 4;

/**
 * Finds sets of one file per pass. Every sequence whose name holds a word that means a pass votes for the rest of its path; sequences
 * of the same frames that fit such a rest join it whatever their word (`landing_rim` beside `landing_beauty`), and so does the
 * one without any word, which is then the beauty. A set needs two members with different roles, most of them known. A single
 * frame of a pass (a still matte) is a member too.
 */
export function findPassSets(sequences: readonly FrameSequence[]): PassSet[] {
  const paths = new Map(sequences.map((s) => [s, pathWords(s)]));
  const votes = new Map<string, Map<FrameSequence, string>>();
  for (const [sequence, words] of paths) {
    const reading = ownReading(words);
    if (reading) votes.set(reading.key, (votes.get(reading.key) ?? new Map()).set(sequence, reading.pass));
  }
  const place = new Map(sequences.map((s, i) => [s, i]));
  const taken = new Set<FrameSequence>();
  const sets: PassSet[] = [];
  const ranked = [...votes].sort(([a, x], [b, y]) => y.size - x.size || b.indexOf('{') - a.indexOf('{'));
  for (const [key, voters] of ranked) {
    const free = [...voters].filter(([s]) => !taken.has(s));
    if (!free.length) continue;
    const members = [...free, ...joining(key, free, paths, taken)].map(([sequence, pass]) => ({ pass, sequence }));
    const roles = members.map((m) => guessRole(m.pass));
    if (members.length < 2 || (new Set(roles).size < 2 && roles[0] !== 'light-group')) continue;
    members.forEach((m) => taken.add(m.sequence));
    sets.push({
      pattern: setPattern(members),
      members: members.sort((a, b) => place.get(a.sequence)! - place.get(b.sequence)!),
    });
  }
  return sets;
}

/** Where a word run stands within one folder name or file name. */
function runsOf({ words, separators }: PathWords, longest: number): (readonly [from: number, to: number])[] {
  const runs: [number, number][] = [];
  for (let from = 0; from < words.length; from++) {
    for (let to = from + 1; to <= Math.min(words.length, from + longest); to++) {
      if (neverPass.test(words[to - 1]!) || (to - 1 > from && separators[to - 2]!.includes('/'))) break;
      runs.push([from, to]);
    }
  }
  return runs;
}

function textOf({ words, separators }: PathWords, from: number, to: number): string {
  return words
    .slice(from, to)
    .map((w, i) => w + (i < to - from - 1 ? separators[from + i]! : ''))
    .join('');
}

/** The path with every occurrence of a run of words left open. */
function keyOf(path: PathWords, from: number, to: number): string {
  const wanted = path.words.slice(from, to).map((w) => w.toLowerCase());
  let key = '';
  for (let i = 0; i < path.words.length;) {
    const here = wanted.every((w, k) => path.words[i + k]?.toLowerCase() === w);
    key += here ? '{pass}' : path.words[i]!;
    i += here ? wanted.length : 1;
    key += path.separators[i - 1] ?? '';
  }
  return key + path.extension;
}

/** The words that mean a pass: the longest run says which, the shortest run that means the same is its name. */
function ownReading(path: PathWords): Reading | undefined {
  // A word further back says more: `depth/landing_depth`, `sun/landing_diffuse`.
  const known = runsOf(path, longestPass)
    // A file's name begins with the shot's: beside the whole picture's word it would look like a light's.
    .map(([from, to]) => ({ from, to, role: knownRole(textOf(path, from, to)) }))
    .filter((r) => r.role !== undefined);
  const last = Math.max(...known.map((r) => r.to));
  const ending = known.filter((r) => r.to === last).sort((a, b) => a.from - b.from);
  const role = ending[0]?.role;
  const shortest = ending.filter((r) => r.role === role).at(-1);
  if (!shortest) return undefined;
  return { pass: textOf(path, shortest.from, shortest.to), key: keyOf(path, shortest.from, shortest.to) };
}

/** Sequences that fit a key though their word means nothing by itself, or that have no word at all where the pass would stand. */
function joining(
  key: string,
  voters: readonly (readonly [FrameSequence, string])[],
  paths: ReadonlyMap<FrameSequence, PathWords>,
  taken: ReadonlySet<FrameSequence>,
): [FrameSequence, string][] {
  const found: [FrameSequence, string][] = [];
  const inside = new Set(voters.map(([s]) => s));
  const constant = key.slice(key.lastIndexOf('/') + 1).replace(/\{pass\}|\.[^.]*$|[._\- ]/g, '');
  const beauty = voters.some(([, pass]) => guessRole(pass) === 'beauty');
  const bare = key.replace(/[._\- ]\{pass\}|\{pass\}[._\- ]/g, '');
  for (const [sequence, path] of paths) {
    if (inside.has(sequence) || taken.has(sequence)) continue;
    const whole = textOf(path, 0, path.words.length) + path.extension;
    if (!beauty && constant && whole === bare && !found.some(([, p]) => p === 'beauty')) {
      found.push([sequence, 'beauty']);
      continue;
    }
    if (!constant || !sameFrames(sequence, voters)) continue;
    const run = runsOf(path, longestPass).find(([from, to]) => keyOf(path, from, to) === key);
    const pass = run && textOf(path, ...run);
    if (pass !== undefined && !besides.test(pass)) found.push([sequence, pass]);
  }
  return found.filter(([, pass]) => guessRole(pass) !== 'other' || found.length <= voters.length);
}

/** Whether a sequence runs as those do: a stranger beside a render seldom has its frames. */
function sameFrames(sequence: FrameSequence, voters: readonly (readonly [FrameSequence, string])[]): boolean {
  return voters.some(
    ([v]) => v.frames.length > 0 && v.frames[0] === sequence.frames[0] && v.frames.at(-1) === sequence.frames.at(-1),
  );
}

/** The pattern that most members follow, with the pass left open. */
function setPattern(members: readonly { pass: string; sequence: FrameSequence }[]): string {
  const counts = new Map<string, number>();
  for (const { pass, sequence } of members) {
    const literal = pass.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
    const pattern = sequence.pattern.replace(
      new RegExp(`(?<=^|[._\\-/ ])${literal}(?=$|[._\\-/ #\\d])`, 'gi'),
      '{pass}',
    );
    const weight = sequence.frames.length ? 2 : 1;
    if (pattern.includes('{pass}')) counts.set(pattern, (counts.get(pattern) ?? 0) + weight);
  }
  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? members[0]!.sequence.pattern;
}
