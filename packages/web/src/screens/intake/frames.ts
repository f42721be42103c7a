import { dataRoles } from '@june-haze/core';
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

/** Hours, minutes, seconds and frames of a count of frames at a rate, without drop (SMPTE ST 12-1). */
export function timecodeOf(frames: number, rate: number): string {
  const base = Math.max(1, Math.round(rate));
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(frames / base);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}:${two(frames % base)}`;
}
