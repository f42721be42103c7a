import type { LookFile } from '../operations/parameters.ts';
import type { Figures } from '../proof/differences.ts';
import type { CodeDifference, Decided } from './decide.ts';
import type { LeftOver } from './leftOver.ts';
import type { Mistake } from './mistakes.ts';
import type { Registration } from './register.ts';
import { supposed } from './search.ts';

/** How a picture and what a row makes of the frame lie to each other. */
export const matchVerdicts = ['identical', 'equal', 'close', 'differs', 'cannot-tell'] as const;
export type MatchVerdict = (typeof matchVerdicts)[number];

/** One answer to what made a picture. */
export interface MatchRow {
  /** The space in which the numbers, so taken, give the picture. */
  readonly space: string;
  readonly config: string;
  /** Null for the built-in config. */
  readonly configId: string | null;
  readonly display: string;
  readonly view: string;
  /** Null is the view's own, "" none. */
  readonly look: string | null;
  /** A LUT or CDL of the Library before the view. */
  readonly lookFile: LookFile | null;
  readonly exposure: number;
  /** The codes that became 0 and 1, before the gamma. */
  readonly black: number;
  readonly white: number;
  readonly gamma: number;
  readonly mistake: Mistake | null;
  readonly registration: Registration;
  /** 0 … 1: how far ahead of the next that means something else. */
  readonly confidence: number;
  readonly reason: string;
  /** On the 8-bit scale. */
  readonly maxCode: number;
  readonly meanCode: number;
  /** The share of pixels whose codes are exactly equal. */
  readonly equal: number;
  readonly at: readonly [x: number, y: number];
  /** CIEDE2000: of all pixels for the best row, of some thousands for the others. */
  readonly deltaE: Figures;
}

/** A row that supposes more must explain so much more of the picture: a tenth of the difference, and a fiftieth of a code. */
const [supposedShare, supposedCodes] = [0.1, 0.02];

/** What a guess costs: its mean difference in codes, and what it supposes. */
export function costOf({ guess, difference }: Pick<Decided, 'guess' | 'difference'>): number {
  const n = supposed(guess);
  return difference.meanCode * (1 + supposedShare * n) + supposedCodes * n;
}

/** Differences below this, in mean codes, say nothing of which row is right. */
const leastDifference = 0.02;

/** How far ahead of the next a row lies, 0 … 1; 0 where the picture cannot tell it from another. */
export function confidenceOf(best: Decided, next: Decided | undefined, rivals: number): number {
  if (rivals) return 0;
  if (!next) return 1;
  return Math.max(0, 1 - (costOf(best) + leastDifference) / (costOf(next) + leastDifference));
}

/** CIEDE2000 at the 99th percentile below which pictures are equal to the eye, and close. */
const [equalBelow, closeBelow] = [1, 3];

/** The verdict on the best row. What is left over in a pattern is never called identical or equal: something else was done to it. */
export function verdictOf(
  { maxCode }: CodeDifference,
  deltaE: Figures,
  left: LeftOver,
  cannotTell: boolean,
): { verdict: MatchVerdict; explained: boolean; reason: string } {
  const explained = maxCode <= 1 || !left.patterned;
  const found: MatchVerdict =
    maxCode <= 1 ? 'identical' : deltaE.p99 < equalBelow ? 'equal' : deltaE.p99 < closeBelow ? 'close' : 'differs';
  if (!explained && found !== 'differs') return { verdict: 'close', explained, reason: `Not explained: ${left.words}` };
  if (found === 'differs') return { verdict: found, explained: false, reason: `Not explained: ${left.words}` };
  if (cannotTell) return { verdict: 'cannot-tell', explained, reason: '' };
  const reasons = {
    identical: 'At most 1 code value lies between them, anywhere.',
    equal: 'Equal to the eye: CIEDE2000 stays below 1 for 99 % of the pixels.',
    close: 'Close: CIEDE2000 stays below 3 for 99 % of the pixels.',
  };
  return { verdict: found, explained, reason: reasons[found as keyof typeof reasons] };
}
