import { ColourFileError, type Place } from '../config/place.ts';
import { parseNumber } from '../config/fields.ts';

/** Most entries of a table and most points of a cube's side that files may ask for. */
export const longestTable = 1_048_576;

/** A line of a text LUT. A cube has hundreds of thousands: words and place are made when they are asked for. */
export class TextLine {
  readonly text: string;
  private readonly file: string;
  private readonly number: number;

  constructor(text: string, file: string, number: number) {
    this.text = text;
    this.file = file;
    this.number = number;
  }

  get words(): readonly string[] {
    return this.text.split(space);
  }

  get place(): Place {
    return { file: this.file, line: this.number };
  }
}

const space = /\s+/;

/** Splits a LUT file into lines; blank ones and comments are left out. `comment` starts a comment line. Bytes that are no text are a fault. */
export function textLines(bytes: Uint8Array, file: string, comment: string | undefined = '#'): TextLine[] {
  const text = new TextDecoder('utf-8').decode(bytes);
  if (text.includes('\0')) throw new ColourFileError('this is no text file.', { file, line: 1 });
  const lines: TextLine[] = [];
  text.split(/\r\n|\n|\r/).forEach((raw, i) => {
    const trimmed = raw.trim();
    if (trimmed === '' || (comment && trimmed.startsWith(comment))) return;
    lines.push(new TextLine(trimmed, file, i + 1));
  });
  return lines;
}

/** The numbers of a line, from word `from` on. Throws with the line when one is none, or when there are not `count`. */
export function numbersOf(line: TextLine, from = 0, count?: number): number[] {
  const words = from === 0 ? line.words : line.words.slice(from);
  if (count !== undefined && words.length !== count)
    throw new ColourFileError(`${count} numbers were expected here, not ${words.length}.`, line.place);
  return words.map((word) => {
    // Plain decimals at once; words such as 0x10, which JavaScript takes and a LUT may not have, have a letter second.
    const plain = Number(word);
    if (Number.isFinite(plain) && !(word.charCodeAt(1) > 57)) return plain;
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
