import type { AlphaKind } from '../intake/fileFacts.ts';
import type { Size } from './sizes.ts';
import type { Beyond } from '../sequence/pacing.ts';
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
  /** How wide one of its pixels is beside its height; as the shot's when left out. */
  readonly pixelAspect?: number;
  /** How it lies in the shot's picture; centred as it is when left out. */
  readonly placement?: Placement;
  /** The first and the last frame of the shot that it is there for; left out, it is there for all. */
  readonly lasts?: readonly [first: number, last: number];
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
  readonly width: number;
  readonly height: number;
  readonly pixelAspect: number;
  readonly still: boolean;
  /** In frames of the shot. */
  readonly firstFrame: number;
  readonly lastFrame: number;
  readonly reading: { readonly placement: Placement | null; readonly beyond: Beyond };
}): PlanSource {
  const { id, name, declaredSpace, passes, alpha, width, height, pixelAspect, reading } = source;
  const ends = reading.beyond === 'nothing' && !source.still;
  return {
    id,
    name,
    space: declaredSpace ?? undeclared,
    passes,
    alpha,
    size: { width, height },
    pixelAspect,
    ...(reading.placement ? { placement: reading.placement } : {}),
    ...(ends ? { lasts: [source.firstFrame, source.lastFrame] as const } : {}),
  };
}

/** As it lies: in the middle, a pixel on a pixel. */
export const centred: Placement = { scale: 1, shift: [0, 0] };

/** How a source lies within a picture: all of it to be seen (`fit`), or all of the picture covered (`fill`), in the middle. */
export function placementTo(how: 'fit' | 'fill', source: Size, into: Size, aspect = 1): Placement {
  const scales = [into.width / (source.width * aspect), into.height / source.height];
  return { scale: how === 'fit' ? Math.min(...scales) : Math.max(...scales), shift: [0, 0] };
}

/**
 * How much wider a source's pixels are than those of the shot: the shot's are those of the first source that has its size.
 */
export function relativeAspect(source: PlanSource, sources: readonly PlanSource[], into: Size): number {
  const first = sources.find((s) => s.size?.width === into.width && s.size.height === into.height);
  return (source.pixelAspect ?? 1) / (first?.pixelAspect ?? source.pixelAspect ?? 1);
}

/** Whether a source is there at a frame of the shot. */
export const isThere = ({ lasts }: Pick<PlanSource, 'lasts'>, frame: number): boolean =>
  !lasts || (frame >= lasts[0] && frame <= lasts[1]);
