import { Heap, kernels, prepareSteps, type ColourStep, type LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { createContext, useMemo } from 'react';
import { useShotColour } from '../../api/colour.ts';
import type { AtAdjustment } from './atAdjustment.ts';
import { useSampled } from './mattes/samples.ts';

type Colours = readonly [Float32Array, Float32Array, Float32Array];

/** What comes to an adjustment. */
export interface Incoming {
  /** Straight, in the adjustment's own space. */
  readonly colours: Colours;
  /** Grey light of the working space as that space has it. */
  grey(light: number): number;
}

/** For the plots of the adjustment that is opened; undefined while there is no picture. */
export const IncomingContext = createContext<Incoming | undefined>(undefined);

/**
 * What comes to an adjustment, over a small picture of the frame that is shown: straight red, green and blue in the adjustment's own space,
 * those of empty pixels left out. Undefined while there is no picture.
 */
export function useIncoming(
  shot: Shot,
  document: LedgerDocument,
  at: AtAdjustment,
  space: string,
): Incoming | undefined {
  const { data: colour } = useShotColour(shot.colour);
  const { sample } = useSampled({ kind: 'incoming', entry: at.entry, adjustment: at.index }, document, false);
  return useMemo(() => {
    if (!sample || !colour) return undefined;
    const steps = colour.conversion(shot.workingSpace, space);
    return {
      colours: inSpace(straight(sample.planes), steps),
      grey: (light) => inSpace([0, 1, 2].map(() => Float32Array.of(light)) as unknown as Colours, steps)[1][0]!,
    };
  }, [sample, colour, shot.workingSpace, space]);
}

/** Premultiplied planes as straight colour, without the pixels where nothing is. */
function straight([r, g, b, a]: readonly Float32Array[]): Colours {
  const kept = Array.from(r!.keys()).filter((i) => (a ? a[i]! : 1) > 0);
  return [r!, g!, b!].map((p) => Float32Array.from(kept, (i) => p[i]! / (a ? a[i]! : 1))) as unknown as Colours;
}

/** Colours through steps. */
export function inSpace(colours: Colours, steps: readonly ColourStep[]): Colours {
  const n = colours[0].length;
  if (!n) return colours;
  const heap = new Heap(kernels());
  const [r, g, b] = colours.map((p) => heap.placeFloats(p)) as unknown as [number, number, number];
  prepareSteps(steps, heap)(r, g, b, n);
  return [r, g, b].map((p) => heap.floats(p, n).slice()) as unknown as Colours;
}
