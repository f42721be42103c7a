import {
  addScopes,
  noScopes,
  printOfPicture,
  sideAtLevel,
  summarise,
  warningKinds,
  type FramePrint,
  type LedgerSummary,
  type RowStatistics,
  type Window,
} from '@june-haze/core';
import type { Drawn } from './drawnPictures.ts';
import { quickMilliseconds, worthDrawing, type Coarser } from './coarser.ts';
import { takeInput } from './lastInput.ts';
import type { PictureJob, PictureRequest, PictureResult, ProbeAnswer, SampleAnswer } from './messages.ts';
import { PicturePaper } from './PicturePaper.ts';
import type { Plans } from './plans.ts';
import { giveBackPool, takePool, type PicturePool } from './PicturePool.ts';
import { WorkerDied } from './PictureWorkers.ts';
import { Superseded } from './PlaneStore.ts';
import { allocateShared, memoryIsShared } from './sharedMemory.ts';

/** Plans by number: those of one document are told from another's by being the same object. */
const planNumbers = new WeakMap<object, number>();
let nextPlans = 1;

/** A viewing, and the colours that it is one of: those of the picture on the canvas may be older. */
export type SampledThrough = Pick<PictureRequest, 'showing' | 'colour' | 'workingSpace'>;

/** What a picture shows, all but its frame. */
function stateOf({ plans, frame: _, ...rest }: PictureRequest): string {
  const number = planNumbers.get(plans) ?? nextPlans++;
  planNumbers.set(plans, number);
  return `${number} ${JSON.stringify(rest)}`;
}

/** A picture that is asked for. */
export interface Asked {
  readonly request: PictureRequest;
  /** The hand moves: a coarser picture will do where this one takes long; it follows when the hand rests. */
  readonly moving: boolean;
  /** From the finest to the coarsest. */
  readonly coarser: readonly Coarser[];
  readonly done: (result: PictureResult | Error) => void;
  readonly counted?: (summary: LedgerSummary) => void;
  /** What shares and balance are counted of, where that is not what is shown. */
  readonly counts?: Plans | undefined;
}

interface Queued extends Asked {
  /** When the input came that led to it. */
  readonly since: number | undefined;
}

/** Hears which frames are held as they are now, and their prints. */
export type OnHeld = (frames: ReadonlySet<number>, prints: ReadonlyMap<number, FramePrint>) => void;

/** How long the hand must rest before shares and balance are worked out; pictures come first. */
const restMilliseconds = 120;
/** Shares and balance are asked for in so many pieces a worker, so that a new picture waits for a piece at most. */
const pieces = 4;
/** How wide a picture is sampled at most. */
const sampledWidth = 240;
/** Planes that are not there after so long are not waited for when another picture is wanted. */
const patience = 500;

/**
 * Draws pictures with a pool of workers. Plain code, no framework. Only the newest request counts: while one is being drawn, later ones
 * replace each other; a picture at rest is left at its next block when the hand moves again. What is counted over a picture follows when it
 * rests.
 */
export class PictureEngine {
  readonly pool: PicturePool;
  private readonly paper: PicturePaper;
  private busy = false;
  private queued: Queued | undefined;
  private last: { readonly request: PictureRequest; readonly job: PictureJob | undefined } | undefined;
  /** Frames that may be drawn ahead while nobody asks for anything. */
  private ahead: readonly number[] = [];
  private onHeld: OnHeld = () => undefined;
  private toldHeld = '';
  private resting: ReturnType<typeof setTimeout> | undefined;
  /** What is under way at rest, to be left when the hand moves. */
  private leave: (() => void) | undefined;
  /** Whether the last picture was left. */
  private left = false;
  private fetching: { readonly since: number; readonly aborting: AbortController } | undefined;
  /** How long the last picture of a level took to be drawn. */
  private readonly took = new Map<number, number>();
  /** What is on the canvas, and of what; past the next picture it may be written over. */
  private put: { readonly drawn: Drawn; readonly request: PictureRequest } | undefined;
  private scratch = new Uint8ClampedArray();

  constructor(canvas: HTMLCanvasElement) {
    this.paper = new PicturePaper(canvas);
    this.pool = takePool();
  }

  /** What is on the canvas; undefined before anything is. */
  get shown(): { readonly drawn: Drawn; readonly request: PictureRequest } | undefined {
    return this.put;
  }

  /** Draws a picture when its turn comes; `done` is called once unless a newer one replaces it, `counted` when it rests. */
  show(asked: Asked): void {
    clearTimeout(this.resting);
    this.queued = { ...asked, since: takeInput() };
    // Every second picture is finished at least, however quick they are asked for.
    if (!this.left) this.leave?.();
    if (this.fetching && performance.now() - this.fetching.since > patience) this.fetching.aborting.abort();
    if (!this.busy) void this.work();
  }

  /** Frames to draw ahead when there is time, the next first. `onHeld` is told which are there, whenever they are others. */
  fill(frames: readonly number[], onHeld: OnHeld): void {
    this.ahead = frames;
    this.onHeld = onHeld;
    this.toldHeld = '';
  }

  private tellHeld(state: string): void {
    const frames = this.pool.drawn.frames(state);
    const told = [...frames].join();
    if (told === this.toldHeld) return;
    this.toldHeld = told;
    this.onHeld(frames, this.pool.drawn.prints(state));
  }

  /** The means of a region of what is shown, in pixels of the level that it is drawn at; undefined where it lies outside. */
  async probe(region: Window): Promise<ProbeAnswer | undefined> {
    const request = this.last?.request;
    if (!request || !within(region, request)) return undefined;
    const kept = this.last!.job;
    const job = kept && (!kept.window || holds(kept.window, region)) ? kept : await this.jobOf(request, region);
    if (!kept && !job.window) this.last = { request, job };
    return this.probeIn(job, region);
  }

  /** A job of what is shown that has a region in it. */
  private jobOf(request: PictureRequest, region: Window): Promise<PictureJob> {
    const { window } = request;
    return this.pool.jobs.prepare({ ...request, window: window && !holds(window, region) ? region : window });
  }

  private async probeIn(job: PictureJob, { x, y, width, height }: Window): Promise<ProbeAnswer> {
    const { x: left, y: top } = job.window ?? { x: 0, y: 0 };
    const region = { x: x - left, y: y - top, width, height };
    const worker = y % this.pool.workers.count;
    return (await this.pool.workers.ask<'probe'>(worker, { kind: 'probe', job, region })).probe;
  }

  /** A pixel of other plans, of the frame and level that are shown. */
  async probeOf(plans: Plans, x: number, y: number): Promise<ProbeAnswer | undefined> {
    const request = this.last?.request;
    const region = { x, y, width: 1, height: 1 };
    if (!request || !within(region, request)) return undefined;
    return this.probeIn(await this.jobOf({ ...request, plans, show: 'total' }, region), region);
  }

  /** All of other plans' numbers, of the frame that is shown, so coarse that they are few, or their codes through a viewing; undefined before a picture is there. */
  async sampleOf(plans: Plans, through: SampledThrough | undefined): Promise<SampleAnswer | undefined> {
    const request = this.last?.request;
    if (!request) return undefined;
    const { size } = request;
    const level = Math.max(0, Math.ceil(Math.log2(size.width / sampledWidth)));
    const [width, height] = [sideAtLevel(size.width, level), sideAtLevel(size.height, level)];
    const coarse = { level, width, height, window: undefined, warn: [], scopes: undefined };
    const job = await this.pool.jobs.prepare({
      ...request,
      ...coarse,
      plans,
      show: 'total',
      ...through,
    });
    return (await this.pool.workers.ask<'sample'>(0, { kind: 'sample', job, shown: through !== undefined })).sample;
  }

  dispose(): void {
    clearTimeout(this.resting);
    this.pool.planes.keepAtHand(this, []);
    giveBackPool();
  }

  /** What is shown, drawn at full size and with nothing marked. Throws `Superseded` where another picture is wanted meanwhile. */
  async wholeOf(more: Partial<PictureRequest> = {}): Promise<Drawn | undefined> {
    if (!this.put) return undefined;
    const { size } = this.put.request;
    const request = { ...this.put.request, ...more, level: 0, ...size, window: undefined, warn: [], scopes: undefined };
    const held = this.pool.drawn.get(stateOf(request), request.frame);
    if (held) return held;
    const { drawn } = await this.draw(request, true);
    this.pool.drawn.set(stateOf(request), request.frame, drawn);
    return drawn;
  }

  private async work(): Promise<void> {
    this.busy = true;
    while (this.queued) {
      const asked = this.queued;
      const { request, moving, coarser, done, since } = asked;
      this.queued = undefined;
      const worth = moving ? worthDrawing(request, coarser, this.took) : [];
      const lesser = worth.findLast((c) => this.hasPlanes(c));
      const result = await this.putOn(lesser ?? request, !moving).catch((error: unknown) =>
        error instanceof Error ? error : new Error(String(error)),
      );
      this.left = result instanceof Superseded;
      if (this.left && this.queued) continue;
      if (since !== undefined && !(result instanceof Error))
        performance.measure('june:picture', { start: since, end: performance.now() });
      done(result);
      if (result instanceof Error) continue;
      if (!moving) this.tellHeld(stateOf(request));
      if (lesser || (moving && request.scopes?.every)) this.finishWhenResting(exact(asked));
      else this.whenResting(asked);
    }
    this.busy = false;
  }

  /** What was shown coarser follows as it is, where the hand stays where it is. */
  private finishWhenResting(asked: Asked): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      this.queued = { ...asked, since: undefined };
      if (!this.busy) void this.work();
    }, restMilliseconds);
  }

  private whenResting(asked: Asked): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      this.atRest(asked)
        // The picture itself was drawn: what could not be counted or drawn ahead is asked for with the next one.
        .catch(() => undefined);
    }, restMilliseconds);
  }

  private async atRest({ request, coarser, counted, counts = request.plans }: Asked): Promise<void> {
    const summary = counted && (await this.count({ ...countable(request), plans: counts }));
    if (summary) counted(summary);
    // The nearest level at least, and those that a heavy ledger is drawn by while the hand moves.
    const nearest = coarser.filter((c) => c.after === quickMilliseconds).map((c) => c.request);
    const atHand = [...new Set([...nearest, ...worthDrawing(request, coarser, this.took)])];
    this.pool.planes.keepAtHand(
      this,
      [request, ...atHand].map((r) => [r, r.plans.at(r.frame)]),
    );
    for (const c of atHand) if (!this.disturbed) await this.pool.planes.need(c, c.plans.at(c.frame));
    await this.drawAhead(request);
  }

  private hasPlanes(request: PictureRequest): boolean {
    try {
      return this.pool.planes.has(request, request.plans.at(request.frame));
    } catch {
      // The picture itself says why its ledger cannot be evaluated.
      return false;
    }
  }

  private get disturbed(): boolean {
    return this.busy || this.queued !== undefined;
  }

  /** Shares and balance of a picture, piece by piece; undefined when another is wanted meanwhile. */
  private async count(request: PictureRequest): Promise<LedgerSummary | undefined> {
    const job = await this.pool.jobs.prepare({ ...request, show: 'total' });
    const each = Math.max(1, Math.ceil(request.height / (this.pool.workers.count * pieces)));
    const parts: RowStatistics[] = [];
    let next = 0;
    const one = async (worker: number) => {
      while (next * each < request.height && !this.disturbed) {
        const piece = next++;
        const [top, end] = [piece * each, Math.min(request.height, (piece + 1) * each)];
        parts[piece] = (await this.pool.workers.ask<'count'>(worker, { kind: 'count', job, top, end })).statistics;
      }
    };
    await Promise.all(Array.from({ length: this.pool.workers.count }, (_, i) => one(i)));
    return next * each < request.height ? undefined : summarise(job.plan, parts);
  }

  /** Draws frames that are not held yet, one after the other, until somebody asks for something or the budget is full. */
  private async drawAhead(request: PictureRequest): Promise<void> {
    const state = stateOf(request);
    for (const frame of this.ahead) {
      const { width, height } = request.window ?? request;
      if (this.disturbed || !this.pool.drawn.fits(width * height * 4)) return;
      if (this.pool.drawn.get(state, frame)) continue;
      // A frame that is missing says so when it is looked at; the others are drawn all the same.
      await this.draw({ ...request, frame }, true)
        .then(({ drawn }) => this.pool.drawn.set(state, frame, printed(drawn)))
        .catch(() => undefined);
      this.tellHeld(state);
    }
  }

  private async putOn(request: PictureRequest, atRest: boolean): Promise<PictureResult> {
    const started = performance.now();
    const held = this.pool.drawn.get(stateOf(request), request.frame);
    const { drawn, job } = held ? { drawn: held, job: undefined } : await this.draw(request, atRest);
    if (!held && atRest) this.pool.drawn.set(stateOf(request), request.frame, printed(drawn));
    const { clipped, warned, scopes } = drawn;
    this.paper.put(drawn, request, `${stateOf({ ...request, window: undefined })} ${request.frame}`);
    this.last = { request, job };
    this.put = { drawn, request };
    return { milliseconds: performance.now() - started, clipped, warned, scopes, level: request.level };
  }

  /** Draws a picture, once more where a worker died under it. `leaves`: it may be left when another is wanted. */
  private async draw(request: PictureRequest, leaves: boolean): Promise<{ drawn: Drawn; job: PictureJob }> {
    try {
      return await this.drawOnce(request, leaves);
    } catch (error) {
      if (!(error instanceof WorkerDied)) throw error;
      return this.drawOnce(request, leaves);
    }
  }

  /** Memory for a picture that is shown and not kept. */
  private scratchOf(bytes: number): Uint8ClampedArray<ArrayBuffer> {
    if (this.scratch.length !== bytes) this.scratch = new Uint8ClampedArray(bytes);
    return this.scratch;
  }

  private async drawOnce(request: PictureRequest, leaves: boolean): Promise<{ drawn: Drawn; job: PictureJob }> {
    const aborting = new AbortController();
    const fetching = { since: performance.now(), aborting };
    this.fetching = fetching;
    const job = await this.pool.jobs
      .prepare(request, aborting.signal)
      .finally(() => (this.fetching === fetching ? (this.fetching = undefined) : undefined));
    const { width, height, window } = job;
    const share = this.pool.jobs.share(job);
    const { claims } = share(0);
    const shared = memoryIsShared ? new Uint8Array(allocateShared(width * height * 4)) : undefined;
    const leave = () => claims && Atomics.store(claims, 0, 1);
    if (leaves) this.leave = leave;
    const started = performance.now();
    const made = await this.pool.workers
      .askAll<'picture'>((w) => ({ kind: 'picture', job, share: share(w), rgba: shared }))
      .finally(() => (this.leave === leave ? (this.leave = undefined) : undefined));
    if (claims?.[0] === 1) throw new Superseded();
    this.took.set(request.level, performance.now() - started);
    this.pool.keptBytes = made.map((m) => m.keptBytes);
    const rgba = leaves ? new Uint8ClampedArray(width * height * 4) : this.scratchOf(width * height * 4);
    if (shared) rgba.set(shared);
    for (const { blocks } of made) for (const block of blocks) rgba.set(block.rgba, block.top * width * 4);
    const clipped = made.some((a) => a.clipped !== undefined)
      ? made.reduce((n, a) => n + (a.clipped ?? 0), 0) / (width * height)
      : undefined;
    const warned = warningKinds.map((_, k) => made.reduce((n, a) => n + a.warned[k]!, 0) / (width * height));
    const scopes = job.scopes && noScopes();
    for (const part of made) if (scopes && part.scopes) addScopes(scopes, part.scopes);
    return { drawn: { width, height, window, rgba, clipped, warned, scopes }, job };
  }
}

const printed = (drawn: Drawn): Drawn => ({ ...drawn, print: printOfPicture(drawn.rgba, drawn.width, drawn.height) });

const within = ({ x, y, width, height }: Window, picture: { readonly width: number; readonly height: number }) =>
  x >= 0 && y >= 0 && width > 0 && height > 0 && x + width <= picture.width && y + height <= picture.height;

const holds = (window: Window, { x, y, width, height }: Window) =>
  x >= window.x && y >= window.y && x + width <= window.x + window.width && y + height <= window.y + window.height;

/** Shares and balance are counted over the whole picture; of a large one of which a part is seen, at a level of at most so many pixels. */
const countedPixels = 1 << 21;

function countable(request: PictureRequest): PictureRequest {
  if (!request.window) return request;
  const { size } = request;
  let { level } = request;
  while (sideAtLevel(size.width, level) * sideAtLevel(size.height, level) > countedPixels) level++;
  const sides = { width: sideAtLevel(size.width, level), height: sideAtLevel(size.height, level) };
  return { ...request, ...sides, level, window: undefined };
}

/** What was shown coarser, or counted here and there, as it is. */
const exact = (asked: Asked): Asked => ({
  ...asked,
  moving: false,
  request: { ...asked.request, scopes: asked.request.scopes && { ...asked.request.scopes, every: undefined } },
});
