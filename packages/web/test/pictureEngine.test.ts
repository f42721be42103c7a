/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { emptyStatistics, type LedgerSummary, type Plan } from '@june-haze/core';
import type { FromWorker, PictureRequest, PictureResult, Task, ToWorker } from '../src/viewer/engine/messages.ts';
import { PictureEngine, type Asked } from '../src/viewer/engine/PictureEngine.ts';
import { Plans } from '../src/viewer/engine/plans.ts';

/** A worker that keeps what it is asked until the test answers. */
class HeldWorker {
  static all: HeldWorker[] = [];
  onmessage: ((event: { data: FromWorker }) => void) | undefined;
  onerror: (() => void) | undefined;
  readonly told: ToWorker[] = [];
  ended = false;
  constructor() {
    HeldWorker.all.push(this);
  }
  get asked() {
    return this.told.filter((m): m is Task & { id: number } => 'id' in m);
  }
  postMessage(message: ToWorker): void {
    this.told.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  /** Answers what it was asked first: a picture with its share of the rows, since memory is not shared here. */
  answer(more: object = {}): void {
    const task = this.asked[0]!;
    this.told.splice(this.told.indexOf(task), 1);
    const blocks = task.kind === 'picture' ? sharesOf(task) : [];
    this.onmessage!({
      data: { id: task.id, kind: 'picture', blocks, warned: [0, 0, 0, 0, 0], keptBytes: 10, ...more } as FromWorker,
    });
  }
}

function sharesOf({ job, share }: Extract<Task, { kind: 'picture' }>) {
  const count = Math.ceil(job.height / share.rows);
  const first = (w: number) => Math.floor((count * w) / share.workers);
  return Array.from({ length: first(share.worker + 1) - first(share.worker) }, (_, i) => {
    const top = (first(share.worker) + i) * share.rows;
    const rgba = new Uint8Array((Math.min(job.height, top + share.rows) - top) * job.width * 4).fill(share.worker + 1);
    return { top, rgba };
  });
}

const put: Uint8ClampedArray[] = [];
const canvas = {
  width: 0,
  height: 0,
  getContext: () => ({ putImageData: (d: { data: Uint8ClampedArray }) => put.push(d.data) }),
};
const plan: Plan = {
  inputs: [],
  nodes: [{ kind: 'run', steps: [] }],
  entryIds: ['a'],
  luminance: [0, 1, 0],
  hasAlpha: false,
  faults: [],
};
const plans = new Plans(() => plan, false);
const request = (frame: number, more: object = {}): PictureRequest =>
  ({
    frame,
    level: 0,
    width: 8,
    height: 100,
    size: { width: 8, height: 100 },
    show: 'total',
    warn: [],
    plans,
    ...more,
  }) as unknown as PictureRequest;
const pixel = (x: number, y: number) => ({ x, y, width: 1, height: 1 });
const settled = () => new Promise((done) => setTimeout(done, 0));
const rested = () => new Promise((done) => setTimeout(done, 160));
let engine: PictureEngine;
/** The picture workers; the last one fetches. */
const workers = () => HeldWorker.all.slice(0, 3);
const answerAll = async (more: object = {}) => {
  workers().forEach((w) => w.answer(more));
  await settled();
};
const show = async (asked: Partial<Asked> & { request: PictureRequest }) => {
  const done = jest.fn<(r: PictureResult | Error) => void>();
  engine.show({ moving: false, coarser: [], done, ...asked });
  await settled();
  return done;
};
const framesAsked = () => workers()[0]!.asked.flatMap((m) => ('job' in m ? [m.job.number] : []));

beforeEach(() => {
  HeldWorker.all = [];
  put.length = 0;
  Object.assign(globalThis, {
    Worker: HeldWorker,
    ImageData: class {
      data: Uint8ClampedArray;
      constructor(data: Uint8ClampedArray) {
        this.data = data;
      }
    },
  });
  Object.defineProperty(navigator, 'hardwareConcurrency', { value: 3, configurable: true });
  engine = new PictureEngine(canvas as unknown as HTMLCanvasElement);
});

afterEach(() => engine.dispose());

describe('the picture engine', () => {
  test('a small picture is seen through the viewing it is asked with, and the colours of that, not those on the canvas', async () => {
    await show({ request: request(1, { colour: { config: 'old' }, workingSpace: 'ACEScg', showing: 'before' }) });
    await answerAll();
    const through = { colour: { config: 'new' }, workingSpace: 'Linear Rec.709', showing: 'after' };
    void engine.sampleOf(plans, through as never);
    await settled();
    const [task] = workers()[0]!.asked;
    expect(task).toMatchObject({ kind: 'sample', shown: true, job: through });
  });

  test('every row is drawn once, by as many workers as there are', async () => {
    const done = await show({ request: request(1) });
    expect(workers().map((w) => w.asked.map((t) => t.kind))).toEqual([['picture'], ['picture'], ['picture']]);
    await answerAll();
    expect([canvas.width, canvas.height, put.length, done.mock.calls.length]).toEqual([8, 100, 1, 1]);
    const rows = Array.from({ length: 100 }, (_, y) => put[0]![y * 32]!);
    expect(new Set(rows)).toEqual(new Set([1, 2, 3]));
    expect(engine.pool.memory).toMatchObject({ planes: 0, drawn: 3200, workers: 30 });
    engine.pool.drawn.limit = 3000;
    expect(engine.pool.memory).toMatchObject({ drawn: 0, drawnMost: 3000 });
  });

  test('while one is drawn, later requests replace each other: only the newest comes next', async () => {
    const done = [
      await show({ request: request(1) }),
      await show({ request: request(2) }),
      await show({ request: request(3) }),
    ];
    const [first] = framesAsked();
    await answerAll();
    expect(framesAsked()).toEqual([first! + 1]);
    await answerAll();
    expect(done.map((d) => d.mock.calls.length)).toEqual([1, 0, 1]);
  });

  test('a worker’s sentence is the picture’s, and the next picture is drawn all the same', async () => {
    const done = await show({ request: request(1) });
    workers()[1]!.answer({ kind: 'error', message: 'landing.1001.exr: frame 1001 is missing.' });
    workers()[0]!.answer();
    workers()[2]!.answer();
    await settled();
    expect(done.mock.calls[0]![0]).toEqual(new Error('landing.1001.exr: frame 1001 is missing.'));
    const next = await show({ request: request(2) });
    await answerAll();
    expect(next.mock.calls[0]![0]).toMatchObject({ clipped: undefined });
  });

  test('a ledger that cannot be evaluated says why, also where a coarser picture would do', async () => {
    const broken = new Plans(() => {
      throw new Error('The matte "a" depends on itself.');
    }, false);
    const done = await show({
      request: request(1, { plans: broken }),
      coarser: [{ request: request(1, { plans: broken, level: 1 }), after: 25 }],
      moving: true,
    });
    expect(done.mock.calls[0]![0]).toEqual(new Error('The matte "a" depends on itself.'));
  });

  test('clipped pixels are counted over all workers', async () => {
    const done = await show({ request: request(1) });
    workers().forEach((w, i) => w.answer({ clipped: i * 40 }));
    await settled();
    expect(done.mock.calls[0]![0]).toMatchObject({ clipped: 120 / 800 });
  });

  test('a worker that dies is replaced and the picture asked again; if it dies twice, the person hears of it', async () => {
    const done = await show({ request: request(1) });
    const die = async () => {
      // The newest of the second place: those that came in its stead stand at the end.
      HeldWorker.all.filter((w) => !w.ended && w.asked.some((t) => t.kind === 'picture' && t.share.worker === 1))[0]!
        .onerror!();
      HeldWorker.all.filter((w) => !w.ended && w.asked.length).forEach((w) => w.answer());
      await settled();
    };
    await die();
    expect(HeldWorker.all.map((w) => w.ended)).toEqual([false, true, false, false, false]);
    // Who came new was told what is held before it was asked.
    expect(HeldWorker.all[4]!.told.map((m) => m.kind)).toEqual(['hold', 'picture']);
    HeldWorker.all.filter((w) => w.asked.length).forEach((w) => w.answer());
    await settled();
    expect(done.mock.calls[0]![0]).toMatchObject({ level: 0 });
    const second = await show({ request: request(2) });
    await die();
    await die();
    expect(second.mock.calls[0]![0]).toMatchObject({ name: 'WorkerDied' });
  });

  test('while the hand moves, a slow picture is drawn coarser and not kept; where it stays, the finer one follows', async () => {
    const coarser = [
      { request: request(1, { level: 1, width: 4, height: 50 }), after: 25 },
      { request: request(1, { level: 2, width: 2, height: 25 }), after: 100 },
    ];
    await show({ request: request(1), coarser });
    await new Promise((slow) => setTimeout(slow, 40));
    await answerAll();
    const drawn = engine.pool.memory.drawn;
    const moved = await show({ request: request(1, { plans: new Plans(() => plan, false) }), coarser, moving: true });
    await answerAll();
    expect([moved.mock.calls[0]![0], canvas.width]).toMatchObject([{ level: 1 }, 4]);
    expect(engine.pool.memory.drawn).toBe(drawn);
    await rested();
    await answerAll();
    expect([moved.mock.calls[1]![0], canvas.width]).toMatchObject([{ level: 0 }, 8]);
  });

  test('shares are counted when the hand rests, piece by piece and in order; a new picture ends the counting', async () => {
    const counted = jest.fn<(s: LedgerSummary) => void>();
    await show({ request: request(1), counted });
    await answerAll();
    expect(workers().every((w) => w.asked.length === 0)).toBe(true);
    await rested();
    const tops: number[] = [];
    const count = async (share: number) => {
      for (const w of workers()) {
        const task = w.asked[0];
        if (task?.kind !== 'count') continue;
        tops.push(task.top);
        const statistics = emptyStatistics(1, 1);
        [statistics.total[0], statistics.entries[0]![0]] = [10, share];
        w.answer({ kind: 'count', statistics });
      }
      await settled();
    };
    for (const share of [4, 0, 4, 0]) await count(share);
    expect(tops).toEqual([0, 9, 18, 27, 36, 45, 54, 63, 72, 81, 90, 99]);
    expect(counted.mock.calls.map(([s]) => s.shares)).toEqual([{ a: 0.2 }]);
    // Once more, with a picture that comes between.
    await show({ request: request(2), counted });
    await answerAll();
    await rested();
    await show({ request: request(3) });
    await count(1);
    expect(workers().map((w) => w.asked.map((m) => m.kind))).toEqual([['picture'], ['picture'], ['picture']]);
    expect(counted).toHaveBeenCalledTimes(1);
  });

  test('a picture that was drawn is put there again without asking anybody; others are drawn ahead when there is time', async () => {
    const held: number[][] = [];
    engine.fill([9, 2, 3], (frames) => held.push([...frames].sort()));
    await show({ request: request(1) });
    await answerAll();
    await rested();
    // A frame that cannot be drawn does not keep the others from it.
    await answerAll({ kind: 'error', message: 'frame 9 is missing.' });
    for (let frame = 2; frame <= 3; frame++) await answerAll();
    expect(held).toEqual([[1], [1, 2], [1, 2, 3]]);
    put.length = 0;
    const done = await show({ request: request(3) });
    expect([done.mock.calls.length, put.length, workers()[0]!.asked.length]).toEqual([1, 1, 0]);
    // Other plans are another picture.
    await show({ request: request(3, { plans: new Plans(() => plan, false) }) });
    expect(workers()[0]!.asked).toHaveLength(1);
  });

  test('a probe asks one worker, and nothing beside the picture', async () => {
    expect(await engine.probe(pixel(1, 1))).toBeUndefined();
    await show({ request: request(1) });
    await answerAll();
    expect([await engine.probe(pixel(8, 0)), await engine.probe(pixel(0, -1))]).toEqual([undefined, undefined]);
    const probe = engine.probe(pixel(3, 70));
    await settled();
    const asked = workers().find((w) => w.asked.length)!;
    expect(asked.asked[0]).toMatchObject({ kind: 'probe', region: pixel(3, 70) });
    asked.answer({ kind: 'probe', probe: { working: [1, 2, 3, 1] } });
    expect(await probe).toEqual({ working: [1, 2, 3, 1] });
  });

  test('its workers end with it', () => {
    engine.dispose();
    expect(HeldWorker.all.map((w) => w.ended)).toEqual([true, true, true, true]);
  });
});
