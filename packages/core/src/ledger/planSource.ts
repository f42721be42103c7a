import type { AlphaKind } from '../intake/fileFacts.ts';
import type { Size } from './sizes.ts';
import type { Pass } from '../sequence/passes.ts';

/** What the compiler must know of a source. */
export interface PlanSource {
  readonly id: string;
  readonly name: string;
  /** The declared space of its colour passes. */
  readonly space: string;
  readonly passes: readonly Pass[];
  /** How its colour relates to its alpha; premultiplied when left out. With none, A is ignored and the picture covers. */
  readonly alpha?: AlphaKind;
  /** The size of its picture; that of the shot when left out. */
  readonly size?: Size;
  /** How it lies in the shot's picture; centred as it is when left out. */
  readonly placement?: Placement;
}

/** Where a source lies: scaled about its centre, then moved, in pixels of the shot's picture, right and down. */
export interface Placement {
  readonly scale: number;
  readonly shift: readonly [x: number, y: number];
}

/** The space of a source that nobody has declared yet. */
const undeclared = 'Linear Rec.709';

/** A source as the compiler wants it: the page and the server both make theirs here, so that both read a source alike. */
export function planSource(source: {
  readonly id: string;
  readonly name: string;
  readonly declaredSpace: string | null;
  readonly passes: readonly Pass[];
  readonly alpha: AlphaKind;
}): PlanSource {
  const { id, name, declaredSpace, passes, alpha } = source;
  return { id, name, space: declaredSpace ?? undeclared, passes, alpha };
}
