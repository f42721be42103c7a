import { ColourFileError, type Place } from '../config/place.ts';
import { parseNumber } from '../config/fields.ts';

/** Most entries of a table and most points of a cube's side that files may ask for. */
export const longestTable = 1_048_576;

/** Lines of a text LUT, with their numbers; blank lines and comments left out. */
export interface TextLine {
  readonly text: string;
  readonly words: readonly string[];
  readonly place: Place;
}

/** Splits a LUT file into lines. `comment` starts a comment line. Bytes that are no text are a fault. */
export function textLines(bytes: Uint8Array, file: string, comment: string | undefined = '#'): TextLine[] {
  const text = new TextDecoder('utf-8').decode(bytes);
  if (text.includes('\0')) throw new ColourFileError('this is no text file.', { file, line: 1 });
  const lines: TextLine[] = [];
  text.split(/\r\n|\n|\r/).forEach((raw, i) => {
    const trimmed = raw.trim();
    if (trimmed === '' || (comment && trimmed.startsWith(comment))) return;
    lines.push({ text: trimmed, words: trimmed.split(/\s+/), place: { file, line: i + 1 } });
  });
  return lines;
}

/** The numbers of a line, from word `from` on. Throws with the line when one is none, or when there are not `count`. */
export function numbersOf(line: TextLine, from = 0, count?: number): number[] {
  const words = line.words.slice(from);
  if (count !== undefined && words.length !== count)
    throw new ColourFileError(`${count} numbers were expected here, not ${words.length}.`, line.place);
  return words.map((word) => {
    const value = parseNumber(word);
    if (Number.isNaN(value) && !/^[+-]?nan$/i.test(word))
      throw new ColourFileError(`"${word}" is not a number.`, line.place);
    return value;
  });
}

/** A whole number of a line's words within limits. */
export function sizeOf(line: TextLine, at: number, least: number, most: number, what: string): number {
  const value = Number(line.words[at]);
  if (!Number.isInteger(value) || value < least || value > most)
    throw new ColourFileError(
      `${what} "${line.words[at] ?? ''}" must be a whole number from ${least} to ${most}.`,
      line.place,
    );
  return value;
}

/** A fault at the end of a file. */
export function endFault(file: string, message: string): ColourFileError {
  return new ColourFileError(message, { file, line: 0 });
}
