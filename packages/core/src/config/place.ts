/** Where something stands in a text file: 1-based line and column. */
export interface Place {
  readonly file: string;
  readonly line: number;
  readonly column?: number;
}

/** A fault in a colour config or a LUT file: one clear sentence, with the file and the line where it is known. */
export class ColourFileError extends Error {
  readonly place: Place | undefined;
  /** `missing-file` faults let a look fall back to its next option. */
  readonly kind: 'format' | 'missing-file' | 'missing-name' | 'cycle' | 'unsupported';

  constructor(message: string, place?: Place, kind: ColourFileError['kind'] = 'format') {
    super(place ? `${place.file}${place.line > 0 ? `, line ${place.line}` : ''}: ${message}` : message);
    this.name = 'ColourFileError';
    this.place = place;
    this.kind = kind;
  }
}
