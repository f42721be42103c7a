import type { FrameSequence } from './names.ts';
import { guessRole } from './passes.ts';

/** One render whose passes lie in files of their own: their names differ in one token, before the frame number. */
export interface PassSet {
  /** With `{pass}` where the names differ: `landing_{pass}.####.exr`. */
  readonly pattern: string;
  readonly members: readonly { readonly pass: string; readonly sequence: FrameSequence }[];
}

const parts = /^(.*?)(\.?#+\.[^.]+|\.[^.]+)$/;

/**
 * Finds sets of one file per pass among the sequences of a folder. A set needs two members and mostly names that mean a pass; of
 * several ways to cut the names, the one with most members wins, then the one with the longest common beginning.
 */
export function findPassSets(sequences: readonly FrameSequence[]): PassSet[] {
  const groups = new Map<string, { pass: string; sequence: FrameSequence }[]>();
  for (const sequence of sequences) {
    const [, stem, end] = parts.exec(sequence.pattern) ?? [];
    if (stem === undefined || end === undefined) continue;
    const cuts = [0, ...Array.from(stem.matchAll(/[._-]/g), (m) => m.index + 1)];
    for (const cut of cuts.filter((c) => c < stem.length)) {
      const key = `${stem.slice(0, cut)}{pass}${end}`;
      groups.set(key, [...(groups.get(key) ?? []), { pass: stem.slice(cut), sequence }]);
    }
  }
  const known = (pass: string) => guessRole(pass) !== 'other';
  const ranked = [...groups]
    .filter(([, members]) => members.length > 1 && members.filter((m) => known(m.pass)).length * 2 >= members.length)
    .sort(([a, x], [b, y]) => y.length - x.length || b.indexOf('{') - a.indexOf('{'));
  const taken = new Set<FrameSequence>();
  const sets: PassSet[] = [];
  for (const [pattern, members] of ranked) {
    if (members.some((m) => taken.has(m.sequence))) continue;
    members.forEach((m) => taken.add(m.sequence));
    sets.push({ pattern, members });
  }
  return sets;
}
