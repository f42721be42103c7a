/** What a source gives before its first frame and after its last: an error, nothing (its rows rest), its end held, itself again, itself turned round again and again. */
export const beyondKinds = ['stop', 'nothing', 'hold', 'loop', 'thereAndBack'] as const;
export type Beyond = (typeof beyondKinds)[number];

/** How fast a source runs through the shot. Whole frames only: they are repeated or left out, never blended. */
export interface Pacing {
  /** Own frames a frame of the shot; below 0 it runs backwards. Never 0. */
  readonly speed: number;
  readonly beyond: Beyond;
}

/** As its files are numbered. */
export const asNumbered: Pacing = { speed: 1, beyond: 'stop' };

/** The numbers that a source's files have. */
export interface OwnFrames {
  readonly firstFrame: number;
  readonly lastFrame: number;
  /** From one number to the next. */
  readonly step: number;
}

/** A hair: what numbers such as 1 / 24 lose on the way must not cost a frame. */
const hair = 1e-9;

/** How many frames of the shot a source lasts. */
export function framesInShot({ firstFrame, lastFrame }: OwnFrames, { speed }: Pick<Pacing, 'speed'>): number {
  return Math.max(1, Math.ceil((lastFrame - firstFrame + 1) / Math.abs(speed) - hair));
}

/**
 * The number that a source's file has at a frame of the shot; `begins` is the frame of the shot that its first frame stands at. Outside what
 * the source lasts, `stop` and `nothing` give undefined. At its own speed a number between two steps is given as it is: there is no file.
 */
export function ownFrame(own: OwnFrames, begins: number, pacing: Pacing, shotFrame: number): number | undefined {
  const { speed, beyond } = pacing;
  const count = own.lastFrame - own.firstFrame + 1;
  const gone = Math.floor((shotFrame - begins) * Math.abs(speed) + hair);
  const at = within(gone, count, own.step, beyond);
  if (at === undefined) return undefined;
  const forward = speed < 0 ? count - 1 - at : at;
  const snapped = speed === 1 && gone === at ? forward : Math.floor(forward / own.step) * own.step;
  return own.firstFrame + snapped;
}

/** Where a count of frames from the first one leads, from 0 to before `count`. */
function within(gone: number, count: number, step: number, beyond: Beyond): number | undefined {
  if (gone >= 0 && gone < count) return gone;
  const modulo = (n: number) => ((gone % n) + n) % n;
  // The last number stands for as long as the others.
  const length = count + step - 1;
  switch (beyond) {
    case 'hold':
      return gone < 0 ? 0 : count - 1;
    case 'loop':
      return Math.min(count - 1, modulo(length));
    case 'thereAndBack': {
      // Neither end is shown twice.
      const turn = Math.max(1, 2 * (count - 1));
      return Math.min(modulo(turn), turn - modulo(turn), count - 1);
    }
    default:
      return undefined;
  }
}

/** The frames of the shot at which, while it lasts, a source shows one of some of its own numbers. */
export function shotFramesShowing(
  numbers: ReadonlySet<number>,
  own: OwnFrames,
  begins: number,
  { speed }: Pick<Pacing, 'speed'>,
): number[] {
  if (speed === 1) return [...numbers].map((n) => n - own.firstFrame + begins);
  const frames = Array.from({ length: framesInShot(own, { speed }) }, (_, i) => begins + i);
  return frames.filter((f) => numbers.has(ownFrame(own, begins, { speed, beyond: 'hold' }, f)!));
}
