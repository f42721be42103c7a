import type { ColourKey, LedgerDocument, ShotColour, Size, ViewingPart } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useMemo } from 'react';
import { sightOf, writtenRun, type Sight, type SightChoice, type SightPlace } from './sights.ts';

export interface SightsOf {
  readonly shot: Shot;
  readonly document: LedgerDocument;
  /** Undefined while it is not there yet. */
  readonly colour: ShotColour | undefined;
  readonly colourKey: ColourKey;
  readonly size: Size;
  readonly frame: number;
  readonly off: readonly ViewingPart[];
  readonly plain: boolean;
}

export type Sights = (choice: SightChoice) => Sight | Error | undefined;

/**
 * Sights by what was chosen: the same object for as long as all that it is made of is the same, so that finished pictures of it are found
 * again. An error's sentence where it cannot be made; undefined before the shot's colours are there.
 */
export function useSights({ shot, document, colour, size, frame, off, plain }: SightsOf): Sights {
  const { sources, workingSpace, viewing } = shot;
  const known = useMemo(
    () => ({
      sights: new Map<string, Sight | Error>(),
      of: [document, sources, workingSpace, viewing, colour, size, off, plain],
    }),
    [document, sources, workingSpace, viewing, colour, size, off, plain],
  );
  return useCallback(
    (choice: SightChoice) => {
      if (!colour) return undefined;
      const key = JSON.stringify([choice, choice.order === 'change after view' && frame, runMark(choice, shot)]);
      const found = known.sights.get(key);
      if (found) return found;
      const made = attempt(choice, { shot, document, colour, size, frame, off, plain });
      known.sights.set(key, made);
      return made;
    },
    [known, shot, document, colour, size, frame, off, plain],
  );
}

function attempt(choice: SightChoice, place: SightPlace): Sight | Error {
  try {
    return sightOf(choice, place);
  } catch (error) {
    return error instanceof Error ? error : new Error(String(error));
  }
}

/** What tells an output's files from those of another run. */
function runMark({ of }: SightChoice, shot: Shot): string {
  if (of.kind !== 'output') return '';
  const run = writtenRun(shot, of.outputId);
  return `${run?.id} ${run?.frames.filter((f) => f.state === 'done').length} ${run?.changedSince.join()}`;
}
