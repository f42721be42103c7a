import type { FrameSequence } from './names.ts';

/** The words of a sequence's path without its number and extension, with what stands between them. */
export interface PathWords {
  readonly words: readonly string[];
  /** What follows each word: a separator, or nothing after the last. */
  readonly separators: readonly string[];
  /** Lower case, with its dot. */
  readonly extension: string;
}

/** Cuts a sequence's pattern (which may hold folders) into words. */
export function pathWords(sequence: FrameSequence): PathWords {
  const { pattern } = sequence;
  const extension = /\.[^./]*$/.exec(pattern)?.[0] ?? '';
  let stem = pattern.slice(0, pattern.length - extension.length);
  if (sequence.frames.length) stem = stem.replace(/[._-]?#+(?=[^#]*$)/, '');
  else if (sequence.number !== undefined)
    stem = stem.replace(/[._-]?-?\d+(?=\D*$)/, (digits, at: number) => (at === 0 ? digits : ''));
  const pieces = stem.split(/([._\-/ ]+)/);
  return {
    words: pieces.filter((_, i) => i % 2 === 0),
    separators: pieces.filter((_, i) => i % 2 === 1),
    extension: extension.toLowerCase(),
  };
}

const eyes: Readonly<Record<string, 'left' | 'right'>> = { left: 'left', right: 'right' };
const letters: Readonly<Record<string, 'left' | 'right'>> = { l: 'left', r: 'right' };

/**
 * The stereo view that each sequence's name says: `left` and `right` as words of their own; `l` and `r` only where the other
 * eye lies beside it under the same name. Common practice, no source.
 */
export function findViews(sequences: readonly FrameSequence[]): Map<FrameSequence, 'left' | 'right'> {
  const views = new Map<FrameSequence, 'left' | 'right'>();
  const cuts = sequences.map((sequence) => ({ sequence, ...pathWords(sequence) }));
  const named = (words: readonly string[], extension: string) => [...words, extension].join('/').toLowerCase();
  const all = new Set(cuts.map((c) => named(c.words, c.extension)));
  for (const { sequence, words, extension } of cuts) {
    words.forEach((word, i) => {
      const lower = word.toLowerCase();
      const other = [...words.slice(0, i), lower === 'l' ? 'r' : 'l', ...words.slice(i + 1)];
      const view = eyes[lower] ?? (all.has(named(other, extension)) ? letters[lower] : undefined);
      if (view && !views.has(sequence)) views.set(sequence, view);
    });
  }
  return views;
}

/** The version that a name says, `v003` as a word of its own or at a word's end; undefined when it says none. */
export function versionOf(sequence: FrameSequence): number | undefined {
  const found = pathWords(sequence).words.flatMap((w) => {
    const match = /(?:^|[^a-z])v(\d{1,5})$/i.exec(w);
    return match ? [Number(match[1])] : [];
  });
  return found.at(-1);
}

/** A sequence's path with its version left open: the same for all versions of one thing. */
export function withoutVersion(pattern: string): string {
  return pattern.replace(/(^|[^a-z])v\d{1,5}(?=$|[._\-/ ])/gi, '$1v{version}');
}
