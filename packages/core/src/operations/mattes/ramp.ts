import { choice } from '../parameters.ts';

/** How a matte rises between its ends. */
export const soft = choice(
  'Between',
  [
    ['linear', 'Straight'],
    ['smooth', 'Smooth'],
  ],
  'linear',
);

/** 0 up to 0, 1 from 1 on, and between them straight or as 3t² − 2t³; what is no number gives 0. */
export function ramp(t: number, between: 'linear' | 'smooth'): number {
  const held = t > 0 ? (t < 1 ? t : 1) : 0;
  return between === 'smooth' ? held * held * (3 - 2 * held) : held;
}

/** The same from one value to another, which may be equal: a step. */
export const rampBetween = (v: number, low: number, high: number, between: 'linear' | 'smooth'): number =>
  high > low ? ramp((v - low) / (high - low), between) : v >= high ? 1 : 0;
