import {
  ContentKeys,
  emptyWhole,
  findFinish,
  gatherRows,
  needsOf,
  wholeNodes,
  windowAtLevel,
  type FinishNode,
  type Plan,
  type WholePicture,
} from '@june-haze/core';
import { differencePlan } from './differencePlan.ts';
import type { PictureJob, PictureRequest, Share } from './messages.ts';
import type { PlaneStore } from './PlaneStore.ts';
import type { PictureWorkers } from './PictureWorkers.ts';
import { allocateShared, memoryIsShared } from './sharedMemory.ts';
import { blockCount } from './takeBlocks.ts';
import { windowOf } from './wants.ts';

/** A worker's part of a picture is cut into so many blocks at most: small enough that no worker waits long for another. */
const blocksEach = 4;
/** A block has so many times the rows that are looked at around it, where there are so many: they are made by its neighbours as well. */
const timesAround = 8;
const leastRows = 16;
/** Whole pictures that are kept: they are small. */
const wholesKept = 8;

/** Prepares pictures for the workers: their planes, the keys of what they are made of, and what finishes look at that look at all of it. */
export class PictureJobs {
  private readonly planes: PlaneStore;
  private readonly workers: PictureWorkers;
  private readonly keys = new ContentKeys();
  private readonly wholes = new Map<string, WholePicture>();
  private nextNumber = 1;

  constructor(planes: PlaneStore, workers: PictureWorkers) {
    this.planes = planes;
    this.workers = workers;
  }

  /** A job for a picture. Throws a sentence where a plane cannot be had. */
  async prepare(request: PictureRequest, signal?: AbortSignal): Promise<PictureJob> {
    const { plans, frame, workingSpace, showing, colour, inspection, warn, show, level } = request;
    const own = plans.at(frame);
    const plan = show === 'difference' ? differencePlan(own) : own;
    const window = windowOf(request, plan);
    const { width, height } = window ?? request;
    const inputs = await this.planes.need(request, plan, signal);
    const keys = this.keys.of(
      plan,
      inputs.map(({ colour, alpha }) => JSON.stringify([colour, alpha])),
    );
    const scopes = request.scopes && {
      ...request.scopes,
      region: request.scopes.region && windowAtLevel(request.scopes.region, level),
    };
    const shown = { workingSpace, showing, colour, inspection, warn, scopes, show, level, width, height, window };
    let job: PictureJob = { ...shown, number: this.nextNumber++, plan, inputs, keys, whole: new Map() };
    for (const node of wholeNodes(plan)) {
      const whole = await this.whole(job, node);
      job = { ...job, whole: new Map([...job.whole, [node, whole]]) };
    }
    return job;
  }

  /** How a picture is handed out to the workers. */
  share({ plan, height, level }: PictureJob): (worker: number) => Share {
    const workers = this.workers.count;
    const rows = wholeNodes(plan).length ? stripRows(height, workers) : blockRows(plan, height, level, workers);
    const claims = memoryIsShared
      ? new Int32Array(allocateShared(4 * (1 + blockCount(height, rows))) as SharedArrayBuffer)
      : undefined;
    return (worker) => ({ rows, worker, workers, claims });
  }

  /** What a node looks at, gathered by all workers, once for as long as nothing of it changes. */
  private async whole(job: PictureJob, node: number): Promise<WholePicture> {
    const { finish, values, from } = job.plan.nodes[node] as FinishNode;
    const { whole } = findFinish(finish)!;
    const looked = Object.fromEntries(whole!.by.map((name) => [name, values[name]]));
    const { width, height, level } = job;
    const key = JSON.stringify([finish, looked, job.keys[from]!.totals.at(-1), width, height, level]);
    const known = this.wholes.get(key);
    if (known) return known;
    const made = emptyWhole(
      job.plan,
      node,
      width,
      height,
      level,
      (n) => new Float32Array(allocateShared(4 * n) as ArrayBuffer),
    );
    const share = this.share(job);
    const task = (worker: number, into: WholePicture) =>
      ({ kind: 'gather', job, share: share(worker), node, into }) as const;
    let gathered = made;
    if (memoryIsShared) await this.workers.askAll<'gather'>((w) => task(w, made));
    else {
      // Alone, one worker does all of it.
      const alone = { ...task(0, made), share: { ...share(0), worker: 0, workers: 1 } };
      gathered = (await this.workers.ask<'gather'>(0, alone)).into;
    }
    const completed = await this.workers.ask<'complete'>(0, { kind: 'complete', job, node, into: gathered });
    gathered = completed.into;
    if (this.wholes.size >= wholesKept) this.wholes.delete(this.wholes.keys().next().value!);
    this.wholes.set(key, gathered);
    return gathered;
  }
}

/** Rows of a block: several for each worker; where finishes look far around, fewer, so that what is made twice stays the smaller part. */
function blockRows(plan: Plan, height: number, level: number, workers: number): number {
  const middle = Math.floor(height / 2);
  const { nodes } = needsOf(plan, { top: middle, end: middle + 1, height: Infinity, level });
  const around = Math.max(0, ...nodes.map((n) => (n ? middle - n[0] : 0)));
  let each = blocksEach;
  while (each > 1 && Math.ceil(height / (workers * each)) < timesAround * around) each--;
  return Math.min(height, Math.max(leastRows, Math.ceil(height / (workers * each)), 2 * around));
}

/** Where a whole picture is gathered, blocks begin at multiples of all its halvings. */
function stripRows(height: number, workers: number): number {
  const each = height / (workers * 2);
  return Math.max(64, Math.min(gatherRows, 2 ** Math.round(Math.log2(Math.max(1, each)))));
}
