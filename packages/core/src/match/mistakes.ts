import { codeOfLight, lightOfCode } from '../colour/codes.ts';

/** What may have gone wrong as a picture was saved; `null` is nothing. */
export const savingMistakes = ['encoded-twice', 'not-encoded', 'gamma-2.2', 'legal-range'] as const;
export type SavingMistake = (typeof savingMistakes)[number];
/** Besides, a file may say other primaries than its numbers have. */
export type Mistake = SavingMistake | 'wrong-primaries';

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

/** So fine that lines between entries are within a hundredth of a code but for the first few. */
const tableSize = 4096;
const tables = new Map<SavingMistake, Float32Array>();

/** The saving curve of a mistake as a table over 0 … 1, for many values. */
export function savingTable(mistake: SavingMistake): Float32Array {
  const known = tables.get(mistake);
  if (known) return known;
  const made = Float32Array.from({ length: tableSize + 2 }, (_, i) => saved(Math.min(1, i / tableSize), mistake));
  tables.set(mistake, made);
  return made;
}

/** Looks a value 0 … 1 up in a saving table, on a line between its entries. */
export function looked(table: Float32Array, v: number): number {
  const at = v * tableSize;
  const i = Math.floor(at);
  return table[i]! + (at - i) * (table[i + 1]! - table[i]!);
}

/** What each means, for a person. */
export const mistakeWords: Readonly<Record<Mistake, string>> = {
  'encoded-twice': 'the sRGB curve was applied once more as the picture was saved: it is too light',
  'not-encoded': 'the picture was saved without the sRGB curve: it is too dark',
  'gamma-2.2': 'a plain gamma of 2.2 stands where the piecewise sRGB curve should: shadows differ',
  'legal-range': 'the picture was saved in legal range, 16 to 235: black is grey and white is dull',
  'wrong-primaries': 'the linear file says other primaries than its numbers have: reds and greens differ',
};
