import { nameOfFrame, type FrameSequence } from '../sequence/names.ts';
import { findPassSets } from '../sequence/passSets.ts';
import { findViews, pathWords, versionOf, withoutVersion } from '../sequence/tokens.ts';

/** What belongs together as one source, before any file was opened. Patterns may hold folders. */
export interface Material {
  /** Its pattern, with `{pass}` where passes lie in files of their own; unique among the material found together. */
  readonly pattern: string;
  readonly view: 'left' | 'right' | null;
  readonly version: number | null;
  /** The pattern with the version left open: the same for all versions of one thing. */
  readonly versions: string;
  /** Files of one frame number each; one member without a pass, or one for each pass. */
  readonly members: readonly MaterialMember[];
}

export interface MaterialMember {
  readonly pass: string | null;
  readonly sequence: FrameSequence;
}

/** Gathers sequences into sources: sets of one file per pass first, then each by itself. */
export function gatherMaterial(sequences: readonly FrameSequence[]): Material[] {
  const views = findViews(sequences);
  const describe = (pattern: string, members: readonly MaterialMember[]): Material => {
    const first = members[0]!.sequence;
    return {
      pattern,
      view: views.get(first) ?? null,
      version: versionOf(first) ?? null,
      versions: withoutVersion(pattern),
      members,
    };
  };
  const sets = findPassSets(sequences);
  const inSets = new Set(sets.flatMap((s) => s.members.map((m) => m.sequence)));
  return [
    ...sets.map((s) => describe(s.pattern, s.members)),
    ...sequences.filter((s) => !inSets.has(s)).map((s) => describe(s.pattern, [{ pass: null, sequence: s }])),
  ].sort((a, b) => (a.pattern < b.pattern ? -1 : a.pattern > b.pattern ? 1 : 0));
}

/** What stands between the patterns of sequences that a person joined. */
const joint = ' + ';

/** The pattern of a source that a person made of several sequences. */
export const joinedPattern = (patterns: readonly string[]): string => patterns.join(joint);

/**
 * The material that a pattern means: as it was gathered, else one sequence of a set by itself, else several sequences joined by hand, each a
 * pass by its own name. Undefined when there is none.
 */
export function findMaterial(sequences: readonly FrameSequence[], pattern: string): Material | undefined {
  const gathered = gatherMaterial(sequences).find((m) => m.pattern === pattern);
  if (gathered) return gathered;
  const alone = sequences.find((s) => s.pattern === pattern);
  if (alone) return gatherMaterial([alone])[0];
  const members = pattern.split(joint).map((p) => sequences.find((s) => s.pattern === p));
  if (members.length < 2 || members.some((m) => m === undefined)) return undefined;
  const joined = members as FrameSequence[];
  const own = joined.map((s) => pathWords(s).words.join('_').split('/').at(-1)!);
  const beginning = commonWords(own);
  return {
    pattern,
    view: null,
    version: null,
    versions: pattern,
    members: joined.map((sequence, i) => ({ pass: own[i]!.slice(beginning) || own[i]!, sequence })),
  };
}

/** The length of the words that all names begin with, as far as something is left of each. */
function commonWords(names: readonly string[]): number {
  const first = names[0]!.split('_');
  let length = 0;
  for (let i = 1; i < first.length; i++) {
    const beginning = `${first.slice(0, i).join('_')}_`;
    if (names.every((n) => n.startsWith(beginning) && n.length > beginning.length)) length = beginning.length;
  }
  return length;
}

/** The frame numbers of a sequence; a still's own number, or 1 when it has none. */
export function framesOf(sequence: FrameSequence): readonly number[] {
  return sequence.frames.length ? sequence.frames : [sequence.number ?? 1];
}

/** The path of a frame's file, as the sequence's pattern has it. */
export function fileOfFrame(sequence: FrameSequence, frame: number): string {
  return sequence.frames.length ? nameOfFrame(sequence.pattern, frame) : sequence.pattern;
}
