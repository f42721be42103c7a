import { nameOfFrame, type FrameSequence } from '../sequence/names.ts';
import { findPassSets } from '../sequence/passSets.ts';
import { findViews, versionOf, withoutVersion } from '../sequence/tokens.ts';

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

/** The frame numbers of a sequence; a still's own number, or 1 when it has none. */
export function framesOf(sequence: FrameSequence): readonly number[] {
  return sequence.frames.length ? sequence.frames : [sequence.number ?? 1];
}

/** The path of a frame's file, as the sequence's pattern has it. */
export function fileOfFrame(sequence: FrameSequence, frame: number): string {
  return sequence.frames.length ? nameOfFrame(sequence.pattern, frame) : sequence.pattern;
}
