import { summarise, type RowStatistics } from '@june-haze/core';
import type { FromWorker, PictureRequest, PictureResult, ProbeAnswer, ToWorker } from './messages.ts';

interface Waiting {
  resolve(answer: FromWorker): void;
}

/**
 * Draws pictures with a pool of workers, each holding a band of rows of every pass. Plain code, no framework. Only the newest
 * request counts: while one is being drawn, later ones replace each other.
 */
export class PictureEngine {
  private readonly workers: Worker[];
  private readonly canvas: HTMLCanvasElement;
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 1;
  private busy = false;
  private queued: { request: PictureRequest; done: (r: PictureResult | Error) => void } | undefined;
  private last: PictureRequest | undefined;

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

  /** Draws a picture when its turn comes; `done` is called once unless a newer request replaces this one. */
  show(request: PictureRequest, done: (result: PictureResult | Error) => void): void {
    this.queued = { request, done };
    if (!this.busy) void this.work();
  }

  async probe(x: number, y: number): Promise<ProbeAnswer | undefined> {
    const request = this.last;
    if (!request || x < 0 || y < 0 || x >= request.width || y >= request.height) return undefined;
    const index = this.bands(request.height).findIndex(([top, end]) => y >= top && y < end);
    const answer = await this.ask(index, { kind: 'probe', request, top: y, end: y + 1, x });
    return answer.kind === 'probe' ? answer.probe : undefined;
  }

  dispose(): void {
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
      const { request, done } = this.queued;
      this.queued = undefined;
      const result = await this.draw(request).catch((error: unknown) =>
        error instanceof Error ? error : new Error(String(error)),
      );
      done(result);
    }
    this.busy = false;
  }

  private async draw(request: PictureRequest): Promise<PictureResult> {
    const started = performance.now();
    const answers = await Promise.all(
      this.bands(request.height).map(([top, end], i) => this.ask(i, { kind: 'picture', request, top, end })),
    );
    const failed = answers.find((a) => a.kind === 'error');
    if (failed) throw new Error(failed.message);
    if (this.canvas.width !== request.width) this.canvas.width = request.width;
    if (this.canvas.height !== request.height) this.canvas.height = request.height;
    const context = this.canvas.getContext('2d')!;
    const parts: RowStatistics[] = [];
    let clipped: number | undefined;
    for (const a of answers) {
      if (a.kind !== 'picture') continue;
      const rows = a.rgba.byteLength / 4 / request.width;
      if (rows) context.putImageData(new ImageData(new Uint8ClampedArray(a.rgba), request.width, rows), 0, a.top);
      if (a.statistics) parts.push(a.statistics);
      if (a.clipped !== undefined) clipped = (clipped ?? 0) + a.clipped;
    }
    this.last = request;
    return {
      summary: parts.length ? summarise(request.plan, parts) : undefined,
      milliseconds: performance.now() - started,
      clipped: clipped === undefined ? undefined : clipped / (request.width * request.height),
    };
  }
}
