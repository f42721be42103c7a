import type { CodeEncoding, DifferenceWay, LedgerDocument, ShotColour } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useMemo, useRef } from 'react';
import type { PictureCanvasHandle } from '../PictureCanvas.tsx';
import type { Sight, SightChoice } from '../sights.ts';
import { useHeld } from '../useHeld.ts';
import type { Sights } from '../useSights.ts';
import type { ViewerState } from '../viewerState.ts';
import type { Way } from '../ways.ts';
import type { DifferenceHandle } from './DifferenceCanvas.tsx';
import { quickComparisons, referenceOf, type QuickComparison } from './quick.ts';
import { useFigures, type ComparedFigures } from './useFigures.ts';

interface ComparisonOf {
  readonly shot: Shot;
  readonly document: LedgerDocument;
  readonly colour: ShotColour | undefined;
  readonly first: SightChoice;
  readonly row: string | undefined;
  readonly adjustment: number | undefined;
  readonly state: ViewerState;
  readonly change: (change: Partial<ViewerState>) => void;
  readonly sights: Sights;
}

export interface Comparison {
  readonly way: Way;
  /** A way was chosen that stays, whatever key is held. */
  readonly open: boolean;
  /** Which of both is seen where they are seen by turns. */
  readonly front: 'first' | 'second';
  readonly second: Sight | undefined;
  /** The second lies over the first, which is dark where it is black. */
  readonly over: boolean;
  /** The second is looked at by its alpha alone. */
  readonly alpha: boolean;
  /** Why the second cannot be shown. */
  readonly problem: string | undefined;
  readonly differenceWay: DifferenceWay | undefined;
  readonly encoding: CodeEncoding;
  readonly figures: ComparedFigures | undefined;
  readonly quick: readonly QuickComparison[];
  readonly sights: Sights;
  press(quick: QuickComparison): void;
  /** Compares with what was chosen last, in the next way; ends after the last. */
  next(): void;
  swap(): void;
  readonly a: React.RefObject<PictureCanvasHandle | null>;
  readonly b: React.RefObject<PictureCanvasHandle | null>;
  readonly difference: React.RefObject<DifferenceHandle | null>;
  getA(): PictureCanvasHandle | null;
  getB(): PictureCanvasHandle | null;
  /** Either picture is another now. */
  changed(): void;
}

/** What stands beside the picture, how, and what lies between both. */
export function useComparison(of: ComparisonOf): Comparison {
  const { shot, document, colour, first, row, adjustment, state, change, sights } = of;
  const { held, press: hold, leave } = useHeld<QuickComparison>();
  const a = useRef<PictureCanvasHandle>(null);
  const b = useRef<PictureCanvasHandle>(null);
  const difference = useRef<DifferenceHandle>(null);
  const getA = useCallback(() => a.current, []);
  const getB = useCallback(() => b.current, []);

  const chosen = useMemo(() => state.second ?? usualSecond(shot, first), [state.second, shot, first]);
  const quick = useMemo(
    () => [
      { id: 'chosen', name: 'Compare: the other picture', keys: 'f', choice: chosen },
      ...quickComparisons({ shot, document, first, row, adjustment }),
    ],
    [chosen, shot, document, first, row, adjustment],
  );
  const choice = held
    ? (quick.find((q) => q.id === held.id)?.choice ?? held.choice)
    : state.way === 'alone'
      ? undefined
      : chosen;
  const made = choice && sights(choice);
  const second = made instanceof Error ? undefined : made;
  const way: Way = held ? 'flip' : state.way;
  const { display, view } = shot.viewing;
  const encoding = colour?.displayEncoding(display, view) ?? 'srgb';
  const differenceWay = useMemo((): DifferenceWay | undefined => {
    if (way === 'difference') return { kind: 'times', times: state.times };
    return way === 'codes' || way === 'deltaE' ? { kind: way } : undefined;
  }, [way, state.times]);
  const { figures, changed: count } = useFigures(getA, getB, {
    on: !held && state.way !== 'alone' && second !== undefined,
    encoding,
    region: state.region,
  });
  const changed = useCallback(() => {
    difference.current?.changed();
    count();
  }, [count]);
  const press = useCallback((q: QuickComparison) => q.choice && hold(q), [hold]);
  return {
    way: second ? way : 'alone',
    front: held && second ? 'second' : 'first',
    second,
    over: held?.over ?? false,
    alpha: choice?.alpha ?? false,
    problem: made instanceof Error ? made.message : undefined,
    open: state.way !== 'alone',
    differenceWay,
    encoding,
    figures,
    quick,
    sights,
    press,
    next: () => {
      leave();
      change({ way: nextWay[state.way], second: chosen });
    },
    swap: () => change({ first: chosen, second: first }),
    a,
    b,
    difference,
    getA,
    getB,
    changed,
  };
}

const nextWay: Readonly<Record<Way, Way>> = {
  alone: 'wipe',
  wipe: 'side',
  side: 'difference',
  difference: 'codes',
  codes: 'deltaE',
  deltaE: 'flip',
  flip: 'alone',
};

/** Without a choice the reference is compared with, where there is one; else how the rows came in. */
function usualSecond(shot: Shot, first: SightChoice): SightChoice {
  if (first.of.kind === 'output') return { of: { kind: 'total' } };
  const reference = referenceOf(shot);
  if (reference !== undefined && first.of.kind !== 'reference')
    return { of: { kind: 'reference', sourceId: reference } };
  return { of: { kind: 'start' } };
}
