import { mergeSteps } from '../colour/merge.ts';
import type { Vector3 } from '../colour/matrix.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { ShotColour } from '../config/shotColour.ts';
import { valueAt, type Keyed } from '../operations/keyed.ts';
import { acts, adjustmentsOf, isKeyed, type Entry, type LedgerDocument } from './document.ts';
import { adjustmentSteps } from './orders.ts';

/** What of a ledger is colour alone, the same for every pixel, and what is not. */
export interface ColourPart {
  /** Grades of the whole total, in order. */
  readonly grades: readonly Entry[];
  /** What no LUT and no CDL can hold, row by row, with why. */
  readonly leftOut: readonly { readonly name: string; readonly why: string }[];
}

/** What of a ledger can go out as a LUT or CDL: the grades of the whole total. All else is named with why it cannot. */
export function colourPart({ entries }: Pick<LedgerDocument, 'entries'>, frame: number): ColourPart {
  const grades: Entry[] = [];
  const leftOut: ColourPart['leftOut'][number][] = [];
  for (const e of entries.filter((each) => acts(each, frame))) {
    const why = whyNot(e, frame);
    if (why === undefined) grades.push(e);
    else leftOut.push({ name: e.name, why });
  }
  return { grades, leftOut };
}

function whyNot(e: Entry, frame: number): string | undefined {
  if (e.kind !== 'finish') return 'it brings a picture of its own';
  if (e.finish !== 'grade') return 'it looks at places or at neighbours';
  if (e.matte) return `it acts only where the matte ${e.matte} is`;
  if (valueAt(e.mix, frame) !== 1) return 'it is mixed in by a part';
  const limited = adjustmentsOf(e).find((a) => a.enabled && a.matte);
  if (limited) return `its ${limited.kind} acts only where the matte ${limited.matte!} is`;
  if (isKeyed(e)) return 'it changes over frames';
  return undefined;
}

/** The grades as steps from the working space to itself. */
export const colourPartSteps = (
  { grades }: ColourPart,
  colour: ShotColour,
  working: string,
  frame: number,
): ColourStep[] => mergeSteps(grades.flatMap((e) => adjustmentSteps(e, colour, working, frame)));

/** Numbers of an ASC CDL 1.2 correction. */
export interface CdlNumbers {
  readonly slope: Vector3;
  readonly offset: Vector3;
  readonly power: Vector3;
  readonly saturation: number;
}

/** The grades as one CDL in the working space, exactly; undefined where they are none. `steps` are those of `colourPartSteps`. */
export function cdlOf({ grades }: ColourPart, steps: readonly ColourStep[], working: string): CdlNumbers | undefined {
  const [only, ...more] = grades.flatMap((e) => adjustmentsOf(e).filter((a) => a.enabled));
  if (only?.kind === 'cdl' && !more.length && (!only.space || only.space === working)) {
    const three = (v: readonly Keyed[] | undefined, otherwise: number) =>
      [0, 1, 2].map((c) => valueAt(v?.[c] ?? otherwise, 0)) as unknown as Vector3;
    return {
      slope: three(only.slope, 1),
      offset: three(only.offset, 0),
      power: three(only.power, 1),
      saturation: valueAt(only.saturation ?? 1, 0),
    };
  }
  const [step, ...others] = steps;
  const plain = { power: [1, 1, 1] as const, saturation: 1 };
  if (!step) return grades.length ? { slope: [1, 1, 1], offset: [0, 0, 0], ...plain } : undefined;
  if (others.length || step.kind !== 'matrix') return undefined;
  const m = step.matrix;
  if ([1, 2, 3, 5, 6, 7].some((i) => Math.abs(m[i]!) > 1e-9)) return undefined;
  const slope = [m[0], m[4], m[8]] as const;
  // A CDL's slope is no less than 0.
  if (slope.some((s) => s < 0)) return undefined;
  return { slope, offset: step.offset ?? [0, 0, 0], ...plain };
}
