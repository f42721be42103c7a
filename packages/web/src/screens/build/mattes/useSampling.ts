import {
  changesOverFrames,
  compileSubject,
  planSource,
  type ColourKey,
  type LedgerDocument,
  type ShotColour,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useMemo, type RefObject } from 'react';
import { Plans } from '../../../viewer/engine/plans.ts';
import type { ViewerHandle } from '../../../viewer/Viewer.tsx';
import type { Sampling, TakeSamples } from './samples.ts';

interface Latest {
  readonly shot: Shot;
  readonly colour: ShotColour | undefined;
  readonly colourKey: ColourKey;
}

/** Sampling by the viewer's own engine: the planes that the picture is made of serve the small pictures too. */
export function useSampling(
  latest: RefObject<Latest>,
  viewer: RefObject<ViewerHandle | null>,
  drafted: RefObject<Set<(moved: LedgerDocument) => void>>,
  frame: number,
): Sampling {
  const take = useCallback<TakeSamples>(
    async (subject, document, shown = false) => {
      const { shot, colour, colourKey } = latest.current;
      if (!colour) return undefined;
      const { workingSpace, width, height } = shot;
      const sources = shot.sources.map(planSource);
      const options = (of: number) => ({ frame: of, size: { width, height } });
      const compile = (of: number) => compileSubject(document, subject, sources, workingSpace, colour, options(of));
      // The shot's own viewing, whatever the picture beside it is looked at through.
      const showing = { viewing: shot.viewing, off: [], plain: false };
      const through = shown ? { showing, colour: colourKey, workingSpace } : undefined;
      return viewer.current?.sample(new Plans(compile, changesOverFrames(document, sources)), through);
    },
    [latest, viewer],
  );
  const listen = useCallback<Sampling['listen']>(
    (listener) => {
      const listeners = drafted.current;
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    [drafted],
  );
  return useMemo(() => ({ take, listen, frame }), [take, listen, frame]);
}
