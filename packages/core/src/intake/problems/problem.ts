/** What can be wrong with material, by the words of `june survey`. */
export const problemKinds = [
  'missing-frames',
  'unreadable-frame',
  'truncated-frame',
  'foreign-file',
  'size-mismatch',
  'window-mismatch',
  'rate-mismatch',
  'mixed-channels',
  'mixed-types',
  'space-contradiction',
  'integer-linear',
  'encoded-as-linear',
  'linear-as-picture',
  'tone-mapped',
  'half-overflow',
  'non-finite',
  'negative-values',
  'depth-reversed',
  'alpha-mismatch',
  'duplicate-frames',
  'changed-files',
] as const;
export type ProblemKind = (typeof problemKinds)[number];

/** One finding. A fault in headers names every frame it is in; one in pixels says in which sampled frames it was seen. */
export interface Problem {
  readonly kind: ProblemKind;
  /** A source's id; null when it is about none in particular. */
  readonly source: string | null;
  readonly pass: string | null;
  /** The file, when it is one. */
  readonly file: string | null;
  readonly frames: readonly number[];
  /** The frames are those of the sample: there may be more. */
  readonly sampled: boolean;
  readonly text: string;
}

/** `1003`, `1003 and 1007`, `1001–1004, 1009`. */
export function frameWords(frames: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const f of frames) {
    const last = runs.at(-1);
    if (last && f === last[1] + 1) last[1] = f;
    else runs.push([f, f]);
  }
  const words = runs.flatMap(([a, b]) => (a === b ? [`${a}`] : b === a + 1 ? [`${a}`, `${b}`] : [`${a}–${b}`]));
  if (words.length > 12) return `${words.slice(0, 12).join(', ')} and more`;
  return words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : (words[0] ?? '');
}

/** "frame 3" or "frames 3 and 4". */
export const framesText = (frames: readonly number[]): string =>
  `${frames.length === 1 ? 'frame' : 'frames'} ${frameWords(frames)}`;
