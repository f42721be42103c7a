import type { LogCurve } from '../../colour/curves.ts';

const perStop = Math.log10(2);

/** A film scan's log: 0.002 density a 10-bit code, negative gamma 0.6, white at 685, black at 95 (practice of film scanning since the 1990s). */
export const filmLog = ((): LogCurve => {
  const range = (0.002 * 1023) / 0.6;
  const offset = 10 ** (((95 - 685) * 0.002) / 0.6);
  const scale = 1 - offset;
  return { cut: -Infinity, a: perStop / range, b: scale, c: offset, d: 685 / 1023, e: 1, f: 0 };
})();

/** Academy S-2013-001 (ACESproxy), 10-bit integer form: 50 codes a stop, 425 at 2^-2.5, over 1023. */
export const acesProxy10: LogCurve = {
  cut: -Infinity,
  a: 50 / 1023,
  b: 1,
  c: 0,
  d: (425 + 2.5 * 50) / 1023,
  e: 1,
  f: 0,
};
