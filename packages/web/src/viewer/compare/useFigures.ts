import { differenceOf, type CodeEncoding, type PictureDifference, type Window } from '@june-haze/core';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { PictureRequest } from '../engine/messages.ts';
import type { PictureEngine } from '../engine/PictureEngine.ts';
import { Superseded } from '../engine/PlaneStore.ts';
import type { PictureCanvasHandle } from '../PictureCanvas.tsx';

export interface ComparedFigures extends PictureDifference {
  /** What was counted, in pixels of the whole picture. */
  readonly region: Window;
  readonly whole: boolean;
}

/** So long both pictures rest before they are counted. */
const restMilliseconds = 250;

/**
 * The figures between two pictures at full size, over a region or all of them, whenever both rest. `changed` is told when either is another;
 * the figures of before are gone then.
 */
export function useFigures(
  a: () => PictureCanvasHandle | null,
  b: () => PictureCanvasHandle | null,
  { on, encoding, region }: { on: boolean; encoding: CodeEncoding; region: Window | null },
): { figures: ComparedFigures | undefined; changed: () => void } {
  const [figures, setFigures] = useState<ComparedFigures>();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const clearing = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** The figures that are shown: a picture that moves asks for no rendering where there are none. */
  const there = useRef<ComparedFigures>(undefined);
  const turn = useRef(0);
  const changed = useCallback(() => {
    clearTimeout(timer.current);
    const own = ++turn.current;
    clearTimeout(clearing.current);
    if (there.current) clearing.current = setTimeout(() => setFigures((there.current = undefined)));
    if (!on) return;
    timer.current = setTimeout(() => {
      count(a, b, encoding, region)
        .then((counted) => own === turn.current && setFigures((there.current = counted)))
        .catch((error: unknown) => {
          // Another picture is wanted: whoever wants it tells of it.
          if (!(error instanceof Superseded)) console.error(error);
        });
    }, restMilliseconds);
  }, [a, b, on, encoding, region]);
  useEffect(() => {
    changed();
    return () => clearTimeout(timer.current);
  }, [changed]);
  return { figures, changed };
}

/** Figures are of colours, however they are looked at; of data as it is looked at. */
function ofColours({ shown }: PictureEngine): Partial<PictureRequest> {
  const { kind } = shown!.request.inspection;
  return kind === 'range' || kind === 'vectors' || kind === 'ids' ? {} : { inspection: { kind: 'colour' } };
}

async function count(
  a: () => PictureCanvasHandle | null,
  b: () => PictureCanvasHandle | null,
  encoding: CodeEncoding,
  region: Window | null,
): Promise<ComparedFigures | undefined> {
  const [first, second] = [a()?.engine, b()?.engine];
  if (!first?.shown || !second?.shown) return undefined;
  const one = await first.wholeOf(ofColours(first));
  const other = await second.wholeOf(ofColours(second));
  if (!one || !other || one.width !== other.width || one.height !== other.height) return undefined;
  const counted = region ?? { x: 0, y: 0, width: one.width, height: one.height };
  const counts = await first.pool.countDifferences(one, other, encoding, counted);
  return { ...differenceOf(counts, one.width), region: counted, whole: region === null };
}
