import type { ColourStep } from './steps.ts';

/** The codes that become 0 and 1. */
export interface Levels {
  readonly black: number;
  readonly white: number;
}

/** Codes as they are. */
export const plainLevels: Levels = { black: 0, white: 1 };

export const arePlainLevels = ({ black, white }: Levels): boolean => black === 0 && white === 1;

/** Levels as a step over codes, which may leave 0 … 1. Throws a RangeError unless white lies above black. */
export function levelled({ black, white }: Levels): ColourStep {
  if (!(white > black)) throw new RangeError('White must lie above black.');
  const gain = 1 / (white - black);
  const offset = -black * gain;
  return { kind: 'matrix', matrix: [gain, 0, 0, 0, gain, 0, 0, 0, gain], offset: [offset, offset, offset] };
}
