import { whyOtherSize, type Plan, type Plane, type Window } from '@june-haze/core';
import type { PlanesHeader } from '@june-haze/contract';
import type { InputPlaces, PictureRequest } from './messages.ts';
import type { PlanesDelivery, PlanesOrder } from './planesWorker.ts';
import { groupWants, wantedInputs, windowOf, type WantedPlane } from './wants.ts';

type Described = Exclude<PlanesHeader, { error: string }>;

interface Held {
  readonly plane: Plane;
  readonly header: Described;
}

/** Who is told which planes are there and which are not any more. */
export interface Holders {
  hold(planes: readonly (readonly [string, Plane])[]): void;
  drop(keys: readonly string[]): void;
}

/** A request that was given up because another picture is wanted. */
export class Superseded extends Error {
  constructor() {
    super('Another picture is wanted.');
    this.name = 'Superseded';
  }
}

/**
 * The planes that pictures are made of, by keys that name what their sources are now, within a budget of bytes; those used longest ago go
 * first, those at hand last. What a picture lacks is fetched in one request.
 */
export class PlaneStore {
  private readonly limit: number;
  private readonly holders: Holders;
  private readonly begin: () => Worker;
  private worker: Worker;
  private readonly held = new Map<string, Held>();
  private readonly atHand = new Map<object, ReadonlySet<string>>();
  private readonly waiting = new Map<number, (delivery: PlanesDelivery) => void>();
  private nextId = 1;
  bytes = 0;

  constructor(limit: number, holders: Holders, begin: () => Worker) {
    this.limit = limit;
    this.holders = holders;
    this.begin = begin;
    this.worker = this.listen(begin());
  }

  private listen(worker: Worker): Worker {
    worker.onmessage = ({ data }: MessageEvent<PlanesDelivery>) => {
      this.waiting.get(data.id)?.(data);
      this.waiting.delete(data.id);
    };
    worker.onerror = () => {
      worker.terminate();
      this.worker = this.listen(this.begin());
      const waiting = [...this.waiting];
      this.waiting.clear();
      const error = 'The part of the page that fetches passes ended; it was begun again.';
      for (const [id, deliver] of waiting) deliver({ id, error });
    };
    return worker;
  }

  /** All planes that are held, for a worker that has come new. */
  all(): [string, Plane][] {
    return [...this.held].map(([key, { plane }]) => [key, plane]);
  }

  /** Whether a picture could be made without asking anybody. */
  has(request: PictureRequest, plan: Plan): boolean {
    return wantedInputs(request, plan).every((w) => [...w.colour, w.alpha].every((p) => !p || this.held.has(p.key)));
  }

  /**
   * Where the planes of a plan's inputs are, once they are held. Throws the server's sentence, or one for another size or for lines that are
   * missing; `Superseded` when `signal` says so.
   */
  async need(request: PictureRequest, plan: Plan, signal?: AbortSignal): Promise<InputPlaces[]> {
    const wanted = wantedInputs(request, plan);
    const part = windowOf(request, plan);
    const all = wanted.flatMap(({ colour, alpha }) => (alpha ? [...colour, alpha] : colour));
    await this.fetch(all, signal);
    const places = wanted.map(({ colour, alpha, size, levelSize }): InputPlaces => {
      const found = [...colour, ...(alpha ? [alpha] : [])].map(({ key }) => this.held.get(key)!.header);
      for (const header of found) checkWhole(header, request.frame, size);
      const own = part ? { width: part.width, height: part.height } : levelSize;
      const window: Window = { x: 0, y: 0, ...own };
      const { data } = found[0]!;
      const [left, top] = part ? [part.x, part.y] : [0, 0];
      const keys = colour.map((p) => p.key) as unknown as InputPlaces['colour'];
      return {
        colour: keys,
        ...(alpha ? { alpha: alpha.key } : {}),
        window,
        data: { ...data, x: data.x - left, y: data.y - top },
      };
    });
    this.shrink(new Set(all.map((p) => p.key)));
    return places;
  }

  /**
   * What somebody has at hand: the picture that is seen, and what it is drawn by while something is dragged. Frames that are drawn ahead do not
   * drive it out while there is anything else to go. None when nobody looks any more.
   */
  keepAtHand(whose: object, pictures: readonly (readonly [PictureRequest, Plan])[]): void {
    const keys = pictures.flatMap(([request, plan]) =>
      wantedInputs(request, plan).flatMap(({ colour, alpha }) => [...colour, ...(alpha ? [alpha] : [])]),
    );
    if (keys.length) this.atHand.set(whose, new Set(keys.map((p) => p.key)));
    else this.atHand.delete(whose);
  }

  dispose(): void {
    this.worker.terminate();
    this.waiting.clear();
  }

  private async fetch(all: readonly WantedPlane[], signal: AbortSignal | undefined): Promise<void> {
    const lacking = new Map<string, WantedPlane>();
    for (const plane of all) {
      const found = this.held.get(plane.key);
      if (!found) lacking.set(plane.key, plane);
      else {
        this.held.delete(plane.key);
        this.held.set(plane.key, found);
      }
    }
    if (!lacking.size) return;
    const groups = groupWants(lacking.values());
    const delivery = await this.order({ wants: groups.map((g) => g.want) }, signal);
    if ('error' in delivery) throw signal?.aborted ? new Superseded() : new Error(delivery.error);
    const came: [string, Plane][] = [];
    let failed: string | undefined;
    groups.forEach(({ keys }, i) => {
      const { header, planes } = delivery.answers[i]!;
      if ('error' in header) failed ??= header.error;
      else
        keys.forEach((key, k) => {
          // Another picture may have asked for the same meanwhile.
          if (this.held.has(key)) return;
          came.push([key, planes[k]!]);
          this.held.set(key, { plane: planes[k]!, header });
          this.bytes += planes[k]!.byteLength;
        });
    });
    this.holders.hold(came);
    if (failed !== undefined) throw new Error(failed);
  }

  private order(order: Omit<PlanesOrder, 'id'>, signal: AbortSignal | undefined): Promise<PlanesDelivery> {
    const id = this.nextId++;
    return new Promise((resolve) => {
      this.waiting.set(id, resolve);
      this.worker.postMessage({ ...order, id } satisfies PlanesOrder);
      signal?.addEventListener('abort', () => this.worker.postMessage({ id } satisfies PlanesOrder));
    });
  }

  private shrink(keep: ReadonlySet<string>): void {
    const dropped: string[] = [];
    const atHand = (key: string) => [...this.atHand.values()].some((keys) => keys.has(key));
    for (const mayGo of [(key: string) => !atHand(key), () => true])
      for (const [key, { plane }] of this.held) {
        if (this.bytes <= this.limit) break;
        if (keep.has(key) || !mayGo(key)) continue;
        this.held.delete(key);
        this.bytes -= plane.byteLength;
        dropped.push(key);
      }
    if (dropped.length) this.holders.drop(dropped);
  }
}

function checkWhole(
  { missing, file, size }: Described,
  frame: number,
  wanted: { width: number; height: number },
): void {
  const other = whyOtherSize(file, size, wanted);
  if (other) throw new Error(other);
  if (missing.length)
    throw new Error(
      `Frame ${frame} ends early or is damaged: lines ${missing.map(([a, b]) => `${a}–${b}`).join(', ')} cannot be read.`,
    );
}
