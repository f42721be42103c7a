/** What is told of playing, a frame at a time. */
export interface Played {
  readonly frame: number;
  /** Frames a second over the last ones; undefined until there are enough. */
  readonly measured: number | undefined;
  /** Frames that did not come in time since playing began. */
  readonly dropped: number;
}

/** What comes after the last frame: the first again, the way back, or nothing. */
export const playingWays = ['loop', 'there and back', 'once'] as const;
export type PlayingWay = (typeof playingWays)[number];

export interface PlayingRange {
  readonly first: number;
  readonly last: number;
  readonly rate: number;
  readonly way: PlayingWay;
}

/** So many frames are measured over. */
const measuredOver = 24;

/** The frame after another, and which way it goes on; undefined after the end. */
export function frameAfter(
  frame: number,
  direction: 1 | -1,
  { first, last, way }: Omit<PlayingRange, 'rate'>,
): { readonly frame: number; readonly direction: 1 | -1 } | undefined {
  const next = frame + direction;
  if (next >= first && next <= last) return { frame: next, direction };
  if (frame < first || frame > last || first === last) return { frame: first, direction: 1 };
  if (way === 'once') return undefined;
  if (way === 'loop') return { frame: direction > 0 ? first : last, direction };
  return { frame: frame - direction, direction: direction > 0 ? -1 : 1 };
}

/**
 * Plays frames by the clock, past React: the next one is shown when the last one is drawn and its time has come; what came late does not move
 * those after it.
 */
export class Player {
  private readonly range: PlayingRange;
  private readonly show: (frame: number) => void;
  private readonly told: (played: Played) => void;
  private readonly ended: () => void;
  private direction: 1 | -1 = 1;
  private due: number | undefined;
  private times: number[] = [];
  private dropped = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  frame: number;

  /** `ended` is called when the last frame was shown and none follows. */
  constructor(
    from: number,
    range: PlayingRange,
    show: (frame: number) => void,
    told: (played: Played) => void,
    ended: () => void = () => undefined,
  ) {
    this.range = range;
    this.show = show;
    this.told = told;
    this.ended = ended;
    this.frame = from;
  }

  begin(): void {
    // From the end, what is played once begins at the beginning.
    if (this.range.way === 'once' && this.frame >= this.range.last) this.frame = this.range.first - 1;
    this.next();
  }

  /**
   * A frame is on the screen. Others than the one that is waited for do not count: what the page asked for meanwhile, a change that was kept, came in
   * its place, and it is asked for again.
   */
  drawn(frame: number): void {
    if (this.timer !== undefined) return;
    if (frame !== this.frame) return this.show(this.frame);
    const now = performance.now();
    this.times = [...this.times.slice(-measuredOver), now];
    const each = 1000 / this.range.rate;
    const next = (this.due ?? now) + each;
    const late = Math.max(0, Math.floor((now - next) / each));
    this.dropped += late;
    this.due = next + late * each;
    this.timer = setTimeout(() => this.next(), Math.max(0, this.due - now));
    const span = now - this.times[0]!;
    const measured = this.times.length > 2 ? ((this.times.length - 1) * 1000) / span : undefined;
    this.told({ frame, measured, dropped: this.dropped });
  }

  end(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
  }

  private next(): void {
    this.timer = undefined;
    const after = frameAfter(this.frame, this.direction, this.range);
    if (!after) return this.ended();
    this.frame = after.frame;
    this.direction = after.direction;
    this.show(this.frame);
  }
}
