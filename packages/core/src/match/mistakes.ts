import type { AlphaMistake } from './alphaMistakes.ts';
import { codeOfLight, lightOfCode } from '../colour/displayCodes.ts';
import { arePlainLevels, plainLevels, type Levels } from '../colour/levels.ts';

/** What may have gone wrong as a picture was saved; `null` is nothing. */
export const savingMistakes = ['encoded-twice', 'not-encoded', 'gamma-2.2', 'legal-range'] as const;
export type SavingMistake = (typeof savingMistakes)[number];
/** Besides, a file may say other primaries than its numbers have. */
export type Mistake = SavingMistake | AlphaMistake | 'wrong-primaries';

const within = (v: number) => Math.min(1, Math.max(0, v));

/**
 * A display value 0 … 1 as a picture has it that was saved with a mistake. The curves are those of IEC 61966-2-1, the range that of
 * ITU-R BT.709-6, item 5.6, on eight bits: 16 black, 235 white.
 */
export function saved(v: number, mistake: SavingMistake | null): number {
  switch (mistake) {
    case null:
      return v;
    case 'encoded-twice':
      return codeOfLight(v, 'srgb');
    case 'not-encoded':
      return lightOfCode(v, 'srgb');
    case 'gamma-2.2':
      return lightOfCode(v, 'srgb') ** (1 / 2.2);
    case 'legal-range':
      return (16 + 219 * v) / 255;
  }
}

/** The display value that a saved one came from. */
export function unsaved(code: number, mistake: SavingMistake | null): number {
  switch (mistake) {
    case null:
      return code;
    case 'encoded-twice':
      return lightOfCode(code, 'srgb');
    case 'not-encoded':
      return codeOfLight(code, 'srgb');
    case 'gamma-2.2':
      return codeOfLight(code ** 2.2, 'srgb');
    case 'legal-range':
      return within((255 * code - 16) / 219);
  }
}

/** How display values are saved: through levels, to the power of 1 / gamma, then with what went wrong. */
export interface Saving extends Levels {
  readonly gamma: number;
  readonly mistake: SavingMistake | null;
}

/** Display values as they are. */
export const plainSaving: Saving = { ...plainLevels, gamma: 1, mistake: null };

/** A display value 0 … 1 as it is saved. */
export function savedBy({ black, white, gamma, mistake }: Saving, v: number): number {
  const within01 = within((v - black) / (white - black));
  return saved(gamma === 1 ? within01 : within01 ** (1 / gamma), mistake);
}

/** The display value that a saved one came from, cut off by nothing but its mistake. */
export const unsavedBy = ({ black, white, gamma, mistake }: Saving, code: number): number =>
  black + (white - black) * unsaved(code, mistake) ** gamma;

/** So fine that lines between entries are within a hundredth of a code; below `exactBelow` curves may be too steep for that. */
const tableSize = 16384;
const exactBelow = 1 / 512;
/** Gammas and levels lie on grids: so many tables are all that is asked for at a time, with room. */
const mostTables = 400;

/** A way of saving, for many values. */
export interface SavingTable {
  readonly saving: Saving;
  readonly values: Float32Array;
}

/** A way of saving as a text. */
export const savingKey = ({ black, white, gamma, mistake }: Saving): string => `${black} ${white} ${gamma} ${mistake}`;

const tables = new Map<string, SavingTable>();

/** The table of a way of saving; undefined for the one that leaves values alone. */
export function savingTable(saving: Saving): SavingTable | undefined {
  const { black, white, gamma, mistake } = saving;
  if (gamma === 1 && mistake === null && arePlainLevels(saving)) return undefined;
  const key = savingKey(saving);
  const known = tables.get(key);
  if (known) return known;
  const values = Float32Array.from({ length: tableSize + 2 }, (_, i) => savedBy(saving, Math.min(1, i / tableSize)));
  if (tables.size >= mostTables) tables.clear();
  const table = { saving: { black, white, gamma, mistake }, values };
  tables.set(key, table);
  return table;
}

/** A value 0 … 1 as it is saved, read off a line between the table's entries. */
export function looked({ saving, values }: SavingTable, v: number): number {
  if (v < exactBelow) return savedBy(saving, v);
  const at = v * tableSize;
  const i = Math.floor(at);
  return values[i]! + (at - i) * (values[i + 1]! - values[i]!);
}

/** What each means, for a person. */
export const mistakeWords: Readonly<Record<Mistake, string>> = {
  'encoded-twice': 'the sRGB curve was applied once more as the picture was saved: it is too light',
  'not-encoded': 'the picture was saved without the sRGB curve: it is too dark',
  'gamma-2.2': 'a plain gamma of 2.2 stands where the piecewise sRGB curve should: shadows differ',
  'legal-range': 'the picture was saved in legal range, 16 to 235: black is grey and white is dull',
  'divided-by-alpha': 'the picture was divided by its alpha: soft edges are as bright as what they are edges of',
  'multiplied-by-alpha':
    'the picture was multiplied by its alpha once more than the frame is, or the frame is straight: read it so at Intake',
  'wrong-primaries': 'the linear file says other primaries than its numbers have: reds and greens differ',
};
