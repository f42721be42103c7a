import { createContext } from 'react';
import type { Placement } from '@june-haze/core';

/** How sources are placed in the picture: of all passes of a source at once. */
export interface Placing {
  /** The source that a drag in the picture moves. */
  readonly source: string | undefined;
  setSource(id: string | undefined): void;
  /** While it moves: shown, not yet kept. */
  draft(source: string, placement: Placement): void;
  save(source: string, placement: Placement | null): void;
}

export const PlacingContext = createContext<Placing>({
  source: undefined,
  setSource: () => undefined,
  draft: () => undefined,
  save: () => undefined,
});
