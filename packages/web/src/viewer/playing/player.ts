/** What is told of playing, a frame at a time. */
export interface Played {
  readonly frame: number;
  /** Frames a second over the last ones; undefined until there are enough. */
  readonly measured: number | undefined;
  /** Frames that did not come in time since playing began. */
  readonly dropped: number;
}

/** So many frames are measured over. */
const measuredOver = 24;

/**
 * Plays frames by the clock, past React: the next one is shown when the last one is drawn and its time has come; what came late does not move
 * those after it.
 */
export class Player {
  private readonly range: { readonly first: number; readonly last: number; readonly rate: number };
  private readonly show: (frame: number) => void;
  private readonly told: (played: Played) => void;
  private due: number | undefined;
  private times: number[] = [];
  private dropped = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  frame: number;

  constructor(
    from: number,
    range: { readonly first: number; readonly last: number; readonly rate: number },
    show: (frame: number) => void,
    told: (played: Played) => void,
  ) {
    this.range = range;
    this.show = show;
    this.told = told;
    this.frame = from;
  }

  begin(): void {
    this.next();
  }

  /** A frame is on the screen. Others than the one that is waited for do not count. */
  drawn(frame: number): void {
    if (frame !== this.frame || this.timer !== undefined) return;
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
    const { first, last } = this.range;
    this.frame = this.frame >= last ? first : this.frame + 1;
    this.show(this.frame);
  }
}
