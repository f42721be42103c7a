import { summarise, type LedgerSummary, type RowStatistics } from '@june-haze/core';
import { DrawnPictures, type Drawn } from './drawnPictures.ts';
import { takeInput } from './lastInput.ts';
import type { FromWorker, PictureRequest, PictureResult, ProbeAnswer, ToWorker } from './messages.ts';

/** What finished pictures may take of the page's memory. */
const drawnBytes = 512 << 20;

/** Plans by number: a plan is told from another by being the same object. */
const planNumbers = new WeakMap<object, number>();
let nextPlan = 1;

/** What a picture shows, all but its frame. */
function stateOf({ plan, frame: _, ...rest }: PictureRequest): string {
  const number = planNumbers.get(plan) ?? nextPlan++;
  planNumbers.set(plan, number);
  return `${number} ${JSON.stringify(rest)}`;
}

interface Asked {
  readonly request: PictureRequest;
  readonly done: (result: PictureResult | Error) => void;
  readonly counted: (summary: LedgerSummary) => void;
  /** When the input came that led to it. */
  readonly since: number | undefined;
}

interface Waiting {
  resolve(answer: FromWorker): void;
}

/** How long the hand must rest before shares and balance are worked out; pictures come first. */
const restMilliseconds = 120;
/** Shares and balance are asked for in so many pieces a worker, so that a new picture waits for a piece at most. */
const pieces = 4;

/**
 * Draws pictures with a pool of workers, each holding a band of rows of every pass. Plain code, no framework. Only the newest
 * request counts: while one is being drawn, later ones replace each other. What is counted over a picture follows when it rests.
 */
export class PictureEngine {
  private readonly workers: Worker[];
  private readonly canvas: HTMLCanvasElement;
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 1;
  private busy = false;
  private queued: Asked | undefined;
  private last: PictureRequest | undefined;
  private readonly drawn = new DrawnPictures(drawnBytes);
  /** Frames that may be drawn ahead while nobody asks for anything. */
  private ahead: readonly number[] = [];
  private onHeld: (frames: ReadonlySet<number>) => void = () => undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;

  constructor(canvas: HTMLCanvasElement) {
    this.canvas = canvas;
    const count = Math.min(4, Math.max(2, navigator.hardwareConcurrency));
    this.workers = Array.from({ length: count }, () => {
      const worker = new Worker(new URL('./pictureWorker.ts', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<FromWorker>) => {
        this.waiting.get(data.id)?.resolve(data);
        this.waiting.delete(data.id);
      };
      return worker;
    });
  }

  /**
   * Draws a picture when its turn comes; `done` is called once unless a newer request replaces this one, and `counted` when it rests.
   */
  show(
    request: PictureRequest,
    done: (result: PictureResult | Error) => void,
    counted: (summary: LedgerSummary) => void = () => undefined,
  ): void {
    clearTimeout(this.resting);
    this.queued = { request, done, counted, since: takeInput() };
    if (!this.busy) void this.work();
  }

  /** Frames to draw ahead when there is time, the next first; none where each frame has a plan of its own. `onHeld` is told which are there. */
  fill(frames: readonly number[], onHeld: (frames: ReadonlySet<number>) => void): void {
    this.ahead = frames;
    this.onHeld = onHeld;
  }

  async probe(x: number, y: number): Promise<ProbeAnswer | undefined> {
    const request = this.last;
    if (!request || x < 0 || y < 0 || x >= request.width || y >= request.height) return undefined;
    const index = this.bands(request.height).findIndex(([top, end]) => y >= top && y < end);
    const answer = await this.ask(index, { kind: 'probe', request, top: y, end: y + 1, x });
    return answer.kind === 'probe' ? answer.probe : undefined;
  }

  dispose(): void {
    clearTimeout(this.resting);
    this.workers.forEach((w) => w.terminate());
    this.waiting.clear();
  }

  private bands(height: number): [number, number][] {
    const n = this.workers.length;
    return this.workers.map((_, i) => [Math.floor((height * i) / n), Math.floor((height * (i + 1)) / n)]);
  }

  private ask(worker: number, message: Omit<ToWorker, 'id'>): Promise<FromWorker> {
    const id = this.nextId++;
    return new Promise((resolve) => {
      this.waiting.set(id, { resolve });
      this.workers[worker]!.postMessage({ ...message, id } satisfies ToWorker);
    });
  }

  private async work(): Promise<void> {
    this.busy = true;
    while (this.queued) {
      const { request, done, counted, since } = this.queued;
      this.queued = undefined;
      const result = await this.put(request).catch((error: unknown) =>
        error instanceof Error ? error : new Error(String(error)),
      );
      if (since !== undefined && !(result instanceof Error))
        performance.measure('june:picture', { start: since, end: performance.now() });
      done(result);
      if (result instanceof Error) continue;
      this.onHeld(this.drawn.frames(stateOf(request)));
      this.countWhenResting(request, counted);
    }
    this.busy = false;
  }

  private countWhenResting(request: PictureRequest, counted: (summary: LedgerSummary) => void): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      this.count(request)
        .then((summary) => summary && counted(summary))
        .then(() => this.drawAhead(request))
        // The picture itself was drawn: what could not be counted or drawn ahead is asked for with the next one.
        .catch(() => undefined);
    }, restMilliseconds);
  }

  /** Shares and balance of a picture, piece by piece; undefined when another is wanted meanwhile. */
  private async count(request: PictureRequest): Promise<LedgerSummary | undefined> {
    const bands = this.bands(request.height);
    const parts: RowStatistics[][] = bands.map(() => []);
    let left = false;
    const one = async (worker: number) => {
      const [top, end] = bands[worker]!;
      const each = Math.max(1, Math.ceil((end - top) / pieces));
      for (let row = top; row < end && !left; row += each) {
        if (this.busy || this.queued) left = true;
        else {
          const answer = await this.ask(worker, { kind: 'count', request, top: row, end: Math.min(end, row + each) });
          if (answer.kind === 'count') parts[worker]!.push(answer.statistics);
          else left = true;
        }
      }
    };
    await Promise.all(bands.map((_, i) => one(i)));
    return left ? undefined : summarise(request.plan, parts.flat());
  }

  /** Draws frames that are not held yet, one after the other, until somebody asks for something or the budget is full. */
  private async drawAhead(request: PictureRequest): Promise<void> {
    const state = stateOf(request);
    for (const frame of this.ahead) {
      if (this.busy || this.queued || !this.drawn.fits(request.width * request.height * 4)) return;
      if (this.drawn.get(state, frame)) continue;
      // A frame that is missing says so when it is looked at; the others are drawn all the same.
      await this.draw({ ...request, frame }, state).catch(() => undefined);
      this.onHeld(this.drawn.frames(state));
    }
  }

  private async put(request: PictureRequest): Promise<PictureResult> {
    const started = performance.now();
    const state = stateOf(request);
    const drawn = this.drawn.get(state, request.frame) ?? (await this.draw(request, state));
    const { width, height, bands, clipped } = drawn;
    if (this.canvas.width !== width) this.canvas.width = width;
    if (this.canvas.height !== height) this.canvas.height = height;
    const context = this.canvas.getContext('2d')!;
    for (const { top, rgba } of bands) if (rgba.length) context.putImageData(new ImageData(rgba, width), 0, top);
    this.last = request;
    return { milliseconds: performance.now() - started, clipped };
  }

  private async draw(request: PictureRequest, state: string): Promise<Drawn> {
    const { width, height } = request;
    const answers = await Promise.all(
      this.bands(height).map(([top, end], i) => this.ask(i, { kind: 'picture', request, top, end })),
    );
    const failed = answers.find((a) => a.kind === 'error');
    if (failed) throw new Error(failed.message);
    const made = answers.flatMap((a) => (a.kind === 'picture' ? [a] : []));
    const clipped = made.some((a) => a.clipped !== undefined)
      ? made.reduce((n, a) => n + (a.clipped ?? 0), 0) / (width * height)
      : undefined;
    const bands = made.map(({ top, rgba }) => ({ top, rgba: new Uint8ClampedArray(rgba) }));
    const drawn = { width, height, bands, clipped };
    this.drawn.set(state, request.frame, drawn);
    return drawn;
  }
}
