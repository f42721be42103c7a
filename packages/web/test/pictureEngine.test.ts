/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { emptyStatistics, type LedgerSummary } from '@june-haze/core';
import type { FromWorker, PictureRequest, PictureResult, ToWorker } from '../src/viewer/messages.ts';
import { PictureEngine } from '../src/viewer/PictureEngine.ts';

/** A worker that keeps what it is asked until the test answers. */
class HeldWorker {
  static all: HeldWorker[] = [];
  onmessage: ((event: { data: FromWorker }) => void) | undefined;
  readonly asked: ToWorker[] = [];
  ended = false;
  constructor() {
    HeldWorker.all.push(this);
  }
  postMessage(message: ToWorker): void {
    this.asked.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  answer(more: object = {}): void {
    const { id, request, top, end } = this.asked.shift()!;
    const rgba = new ArrayBuffer((end - top) * request.width * 4);
    this.onmessage!({ data: { id, kind: 'picture', rgba, top, ...more } as FromWorker });
  }
}

const drawn: { rows: number; top: number }[] = [];
const canvas = {
  width: 0,
  height: 0,
  getContext: () => ({
    putImageData: (d: { height: number }, _x: number, top: number) => drawn.push({ rows: d.height, top }),
  }),
};
const request = (frame: number, height = 100): PictureRequest =>
  ({
    frame,
    width: 8,
    height,
    plan: { inputs: [], nodes: [], entryIds: ['a'], luminance: [0, 1, 0], hasAlpha: false, faults: [] },
  }) as unknown as PictureRequest;
const settled = () => new Promise((done) => setTimeout(done, 0));
let engine: PictureEngine;

beforeEach(() => {
  HeldWorker.all = [];
  drawn.length = 0;
  Object.assign(globalThis, {
    Worker: HeldWorker,
    ImageData: class {
      height: number;
      constructor(data: Uint8ClampedArray, width: number) {
        this.height = data.length / 4 / width;
      }
    },
  });
  Object.defineProperty(navigator, 'hardwareConcurrency', { value: 3, configurable: true });
  engine = new PictureEngine(canvas as unknown as HTMLCanvasElement);
});

afterEach(() => engine.dispose());

describe('the picture engine', () => {
  test('every row is drawn once, by as many workers as there are', async () => {
    const done = jest.fn<(r: PictureResult | Error) => void>();
    engine.show(request(1), done);
    expect(HeldWorker.all).toHaveLength(3);
    HeldWorker.all.forEach((w) => w.answer());
    await settled();
    expect(drawn.sort((a, b) => a.top - b.top)).toEqual([
      { top: 0, rows: 33 },
      { top: 33, rows: 33 },
      { top: 66, rows: 34 },
    ]);
    expect([canvas.width, canvas.height]).toEqual([8, 100]);
    expect(done).toHaveBeenCalledTimes(1);
  });

  test('while one is drawn, later requests replace each other: only the newest comes next', async () => {
    const done = [1, 2, 3].map(() => jest.fn());
    [1, 2, 3].forEach((frame, i) => engine.show(request(frame), done[i]!));
    HeldWorker.all.forEach((w) => w.answer());
    await settled();
    expect(HeldWorker.all[0]!.asked.map((m) => m.request.frame)).toEqual([3]);
    HeldWorker.all.forEach((w) => w.answer());
    await settled();
    expect(done.map((d) => d.mock.calls.length)).toEqual([1, 0, 1]);
  });

  test('a band that cannot be drawn is an error with its sentence, and the next picture is drawn all the same', async () => {
    const done = jest.fn<(r: PictureResult | Error) => void>();
    engine.show(request(1), done);
    HeldWorker.all[1]!.answer({ kind: 'error', message: 'landing.1001.exr: frame 1001 is missing.' });
    HeldWorker.all[0]!.answer();
    HeldWorker.all[2]!.answer();
    await settled();
    expect(done.mock.calls[0]![0]).toEqual(new Error('landing.1001.exr: frame 1001 is missing.'));
    engine.show(request(2), done);
    HeldWorker.all.forEach((w) => w.answer());
    await settled();
    expect(done.mock.calls[1]![0]).toMatchObject({ clipped: undefined });
  });

  test('clipped pixels are counted over all bands', async () => {
    const done = jest.fn<(r: PictureResult | Error) => void>();
    engine.show(request(1), done);
    HeldWorker.all.forEach((w, i) => w.answer({ clipped: i * 40 }));
    await settled();
    expect(done.mock.calls[0]![0]).toMatchObject({ clipped: 120 / 800 });
  });

  test('shares are counted when the hand rests, piece by piece and in order; a new picture ends the counting', async () => {
    const counted = jest.fn<(s: LedgerSummary) => void>();
    engine.show(request(1), jest.fn(), counted);
    HeldWorker.all.forEach((w) => w.answer());
    await settled();
    expect(HeldWorker.all.every((w) => w.asked.length === 0)).toBe(true);
    await new Promise((rested) => setTimeout(rested, 160));
    const count = (share: number) => {
      for (const w of HeldWorker.all) {
        expect(w.asked[0]!.kind).toBe('count');
        const { id } = w.asked.shift()!;
        const statistics = emptyStatistics(1, 1);
        [statistics.total[0], statistics.entries[0]![0]] = [10, share];
        w.onmessage!({ data: { id, kind: 'count', statistics } });
      }
    };
    for (const share of [4, 0, 4, 0]) {
      count(share);
      await settled();
    }
    expect(counted.mock.calls.map(([s]) => s.shares)).toEqual([{ a: 0.2 }]);
    // Once more, with a picture that comes between.
    engine.show(request(2), jest.fn(), counted);
    HeldWorker.all.forEach((w) => w.answer());
    await new Promise((rested) => setTimeout(rested, 160));
    engine.show(request(3), jest.fn());
    count(1);
    await settled();
    expect(HeldWorker.all.map((w) => w.asked.map((m) => m.kind))).toEqual([['picture'], ['picture'], ['picture']]);
    expect(counted).toHaveBeenCalledTimes(1);
  });

  test('a picture that was drawn is put there again without asking anybody; others are drawn ahead when there is time', async () => {
    const plan = request(1).plan;
    const held: number[][] = [];
    engine.fill([9, 2, 3], (frames) => held.push([...frames].sort()));
    engine.show({ ...request(1), plan }, jest.fn());
    HeldWorker.all.forEach((w) => w.answer());
    await new Promise((rested) => setTimeout(rested, 160));
    for (let piece = 0; piece < 4; piece++) {
      for (const w of HeldWorker.all)
        w.onmessage!({ data: { id: w.asked.shift()!.id, kind: 'count', statistics: emptyStatistics(1, 1) } });
      await settled();
    }
    // A frame that cannot be drawn does not keep the others from it.
    HeldWorker.all.forEach((w) => w.answer({ kind: 'error', message: 'frame 9 is missing.' }));
    await settled();
    for (const frame of [2, 3]) {
      expect(HeldWorker.all[0]!.asked.map((m) => m.request.frame)).toEqual([frame]);
      HeldWorker.all.forEach((w) => w.answer());
      await settled();
    }
    expect(held).toEqual([[1], [1], [1, 2], [1, 2, 3]]);
    drawn.length = 0;
    const done = jest.fn();
    engine.show({ ...request(3), plan }, done);
    await settled();
    expect([done.mock.calls.length, drawn.length, HeldWorker.all[0]!.asked.length]).toEqual([1, 3, 0]);
    // Another plan is another picture.
    engine.show(request(3), jest.fn());
    await settled();
    expect(HeldWorker.all[0]!.asked).toHaveLength(1);
  });

  test('a probe asks the worker that holds its row, and nothing beside the picture', async () => {
    expect(await engine.probe(1, 1)).toBeUndefined();
    engine.show(request(1), jest.fn());
    HeldWorker.all.forEach((w) => w.answer());
    await settled();
    expect(await engine.probe(8, 0)).toBeUndefined();
    expect(await engine.probe(0, -1)).toBeUndefined();
    const probe = engine.probe(3, 70);
    const third = HeldWorker.all[2]!;
    expect(third.asked[0]).toMatchObject({ kind: 'probe', x: 3, top: 70, end: 71 });
    third.onmessage!({
      data: { id: third.asked[0]!.id, kind: 'probe', probe: { working: [1, 2, 3, 1] } } as unknown as FromWorker,
    });
    expect(await probe).toEqual({ working: [1, 2, 3, 1] });
  });

  test('its workers end with it', () => {
    engine.dispose();
    expect(HeldWorker.all.every((w) => w.ended)).toBe(true);
  });
});
