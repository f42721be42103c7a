import {
  addDifferences,
  noDifferences,
  type CodeEncoding,
  type DifferenceCounts,
  type DifferenceWay,
  type Window,
} from '@june-haze/core';
import { DrawnPictures, type Drawn } from './drawnPictures.ts';
import { keptLimit } from './keptLimit.ts';
import { holdsMemory, type PageMemory } from './pageMemory.ts';
import { PictureJobs } from './pictureJobs.ts';
import { PictureWorkers } from './PictureWorkers.ts';
import { PlaneStore } from './PlaneStore.ts';
import { pictureWorkerCount, planesWorkers } from './workerStarts.ts';

/** What planes may take of the page's memory, and finished pictures unless somebody says otherwise. */
const planeBytes = 768 << 20;
export const usualDrawnBytes = 512 << 20;

/** What all pictures of the page share: the workers, the planes that they are made of, and finished pictures. */
export class PicturePool {
  readonly workers: PictureWorkers;
  readonly planes: PlaneStore;
  readonly jobs: PictureJobs;
  readonly drawn = new DrawnPictures(usualDrawnBytes);
  /** What the workers keep, in bytes, as they said last. */
  keptBytes: readonly number[] = [];

  constructor() {
    this.workers = new PictureWorkers(pictureWorkerCount(), () => this.planes.all());
    this.planes = new PlaneStore(planeBytes, this.workers, planesWorkers.take);
    this.jobs = new PictureJobs(this.planes, this.workers);
  }

  /** What it holds now. */
  get memory(): PageMemory {
    return {
      planes: this.planes.bytes,
      planesMost: planeBytes,
      drawn: this.drawn.bytes,
      drawnMost: this.drawn.limit,
      workers: this.keptBytes.reduce((a, b) => a + b, 0),
      workersMost: this.workers.count * keptLimit,
    };
  }

  /** Draws the difference of two finished pictures of one size. */
  async drawDifference(
    a: Drawn,
    b: Drawn,
    way: DifferenceWay,
    encoding: CodeEncoding,
  ): Promise<Uint8ClampedArray<ArrayBuffer>> {
    const { width, height } = a;
    const to = new Uint8ClampedArray(a.rgba.length);
    await this.eachStrip(height, async (worker, top, end) => {
      const bytes: [number, number] = [top * width * 4, end * width * 4];
      const rows = { a: rowsOf(a, bytes), b: rowsOf(b, bytes) };
      const { rgba } = await this.workers.ask<'compare'>(worker, { kind: 'compare', ...rows, width, encoding, way });
      to.set(rgba!, bytes[0]);
    });
    return to;
  }

  /** Counts the differences of two finished pictures of one size within a region, in their pixels. */
  async countDifferences(a: Drawn, b: Drawn, encoding: CodeEncoding, region: Window): Promise<DifferenceCounts> {
    const { width, height } = a;
    const sum = noDifferences();
    await this.eachStrip(height, async (worker, top, end) => {
      const [from, to] = [Math.max(top, region.y), Math.min(end, region.y + region.height)];
      if (to <= from) return;
      const bytes: [number, number] = [from * width * 4, to * width * 4];
      const { counts } = await this.workers.ask<'compare'>(worker, {
        kind: 'compare',
        a: rowsOf(a, bytes),
        b: rowsOf(b, bytes),
        width,
        encoding,
        region: { ...region, y: 0, height: to - from },
      });
      addDifferences(sum, { ...counts!, at: counts!.at < 0 ? -1 : counts!.at + from * width });
    });
    return sum;
  }

  /** Several strips for each worker, so that one that has much to do holds nobody up. */
  private async eachStrip(
    height: number,
    make: (worker: number, top: number, end: number) => Promise<void>,
  ): Promise<void> {
    const rows = Math.max(1, Math.ceil(height / (this.workers.count * 4)));
    let next = 0;
    const one = async (worker: number) => {
      for (let top = rows * next++; top < height; top = rows * next++)
        await make(worker, top, Math.min(height, top + rows));
    };
    await Promise.all(Array.from({ length: this.workers.count }, (_, w) => one(w)));
  }

  dispose(): void {
    this.workers.dispose();
    this.planes.dispose();
  }
}

const rowsOf = ({ rgba }: Drawn, [from, to]: readonly [number, number]) => new Uint8Array(rgba.slice(from, to).buffer);

let shared: { readonly pool: PicturePool; users: number; readonly forget: () => void } | undefined;

/** The page's pool, made for the first who asks; whoever takes it gives it back. */
export function takePool(): PicturePool {
  if (!shared) {
    const pool = new PicturePool();
    shared = { pool, users: 0, forget: holdsMemory(pool) };
  }
  shared.users++;
  return shared.pool;
}

/** Ends with the last who took it. */
export function giveBackPool(): void {
  if (!shared || --shared.users > 0) return;
  shared.forget();
  shared.pool.dispose();
  shared = undefined;
}
