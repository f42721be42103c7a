import { arePlainLevels } from '../colour/levels.ts';
import type { CandidateConfig, CandidateView } from './candidates.ts';
import type { Guess } from './search.ts';
import { matchWording, wordingFits, wordingTitle, type WordingRow } from './wording/wording.ts';

/** What a renderer's words mean in each config that is searched: the rows that fit best there. None where nothing fits. */
export type Said = ReadonlyMap<CandidateConfig, readonly WordingRow[]>;

/** Rows whose score is so near to the best one's may be meant as well. */
const asGood = 0.05;
/** Trims are as a renderer shows them: rounded to a tenth, perhaps. */
const trimTolerance = 0.051;

/** Reads a renderer's words against every config that is searched. */
export function saidOf(note: string, configs: readonly CandidateConfig[]): Said {
  if (!note.trim()) return new Map();
  return new Map(
    configs.map((of) => {
      const rows = matchWording(note, of.config.colour).filter((r) => r.score >= wordingFits);
      return [of, rows.filter((r) => r.score >= rows[0]!.score - asGood)];
    }),
  );
}

/** Whether words that say something of a view say this one, by any of its names. */
export function viewIsSaid(said: Said, of: CandidateConfig, view: CandidateView): boolean {
  return (said.get(of) ?? []).some((row) => row.view !== null && saysView(row, view));
}

/** Whether a guess is all that the words say; false where they say nothing that is known. */
export function guessIsSaid(said: Said, { of, space, view, exposure, gamma, ...trims }: Guess): boolean {
  // Words say nothing of levels.
  if (!arePlainLevels(trims)) return false;
  return (said.get(of) ?? []).some(
    (row) =>
      saysView(row, view) &&
      (row.space === null || row.space === space.name || space.same.includes(row.space)) &&
      (row.exposure === null || Math.abs(row.exposure - exposure) < trimTolerance) &&
      (row.gamma === null || Math.abs(row.gamma - gamma) < trimTolerance),
  );
}

const saysView = (row: WordingRow, view: CandidateView): boolean =>
  [view, ...view.same].some(
    (names) =>
      (row.view === null || row.view === names.view) &&
      (row.display === null || row.display === names.display) &&
      (row.look === null || row.look === (names.look ?? '')) &&
      names.lookFile === null,
  );

/** How the words and what was found lie to each other, in a sentence; null where nothing was said. */
export function saidWords(said: Said, best: Guess): string | null {
  if (!said.size) return null;
  if (guessIsSaid(said, best)) return 'It is what the renderer said.';
  const rows = [...said.values()].flat().sort((a, b) => b.score - a.score);
  const [first] = rows;
  if (!first) return 'The words of the renderer fit nothing that was searched.';
  return `It is not what the renderer said, which is taken for ${wordingTitle(first)}.`;
}
