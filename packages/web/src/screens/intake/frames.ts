import { dataRoles, framesOfTimecode } from '@june-haze/core';
import type { Source } from '@june-haze/contract';

/** Frames that are missing or damaged. */
export const badFrames = (source: Source): ReadonlySet<number> =>
  new Set([...source.missing, ...source.damaged.map((d) => d.frame)]);

/** A frame whose file is sound, for pictures of the source. */
export function goodFrame(source: Source): number {
  const bad = badFrames(source);
  for (let f = source.firstFrame; f <= source.lastFrame; f += source.step) if (!bad.has(f)) return f;
  return source.firstFrame;
}

/** The pass that stands for the picture. */
export const beautyOf = (source: Source) =>
  source.passes.find((p) => p.role === 'beauty') ??
  source.passes.find((p) => !dataRoles.has(p.role)) ??
  source.passes[0];

/** `1001–1024, 2 bad`; one frame alone is named once. */
export function rangeWords(source: Source): string {
  if (source.still) return 'still';
  const bad = badFrames(source).size;
  const range =
    source.firstFrame === source.lastFrame ? `${source.firstFrame}` : `${source.firstFrame}–${source.lastFrame}`;
  const step = source.step > 1 ? ` by ${source.step}` : '';
  return `${range}${step}${bad ? `, ${bad} bad` : ''}`;
}

/** Frames of the source from first to last, its step counted. */
export const frameCount = (source: Source): number =>
  source.still ? 1 : Math.floor((source.lastFrame - source.firstFrame) / source.step) + 1;

/** The number that a source's first frame gets when its timecode is lined up with another's; undefined when either has none. */
export function linedUp(source: Source, other: Source, rate: number): number | undefined {
  const [a, b] = [source, other].map((s) => (s.timecode === null ? undefined : framesOfTimecode(s.timecode, rate)));
  return a === undefined || b === undefined ? undefined : other.firstFrame + a - b;
}
