import type { SourceFacts } from '../database/tables.ts';

export interface SourceWithFiles {
  readonly pattern: string;
  readonly facts: Pick<SourceFacts, 'files'>;
}

/**
 * Which file of a source holds a part. Parts are counted through: a source of one file per pass is like one file of many parts.
 * `firstPart` is the number of the file's own part 0.
 */
export function fileOfPart(source: SourceWithFiles, part: number): { pattern: string; firstPart: number } {
  let first = 0;
  for (const file of source.facts.files ?? []) {
    if (part < first + file.parts) return { pattern: file.pattern, firstPart: first };
    first += file.parts;
  }
  return { pattern: source.pattern, firstPart: 0 };
}
