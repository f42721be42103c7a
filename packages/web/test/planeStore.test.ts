import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Plan, Plane } from '@june-haze/core';
import type { PlanesHeader } from '@june-haze/contract';
import type { PictureRequest } from '../src/viewer/engine/messages.ts';
import { PlaneStore, Superseded } from '../src/viewer/engine/PlaneStore.ts';
import type { PlanesDelivery, PlanesOrder } from '../src/viewer/engine/planesWorker.ts';

class HeldFetcher {
  static all: HeldFetcher[] = [];
  onmessage: ((event: { data: PlanesDelivery }) => void) | undefined;
  onerror: (() => void) | undefined;
  readonly orders: PlanesOrder[] = [];
  ended = false;
  constructor() {
    HeldFetcher.all.push(this);
  }
  postMessage(order: PlanesOrder): void {
    this.orders.push(order);
  }
  terminate(): void {
    this.ended = true;
  }
  /** Answers the oldest order: each want with its header, and planes of so many bytes. */
  deliver(more: Partial<PlanesHeader> = {}, bytes = 400): void {
    const { id, wants } = this.orders.shift()!;
    const size = { width: 8, height: 4 };
    const data = { x: 0, y: 0, ...size };
    const answers = wants!.map(({ channels }) => {
      const header = { ...size, types: channels.map(() => 'float'), missing: [], file: 'a.exr', size, data, ...more };
      const planes = 'error' in more ? [] : channels.map(() => new Float32Array(bytes / 4));
      return { header: ('error' in more ? more : header) as PlanesHeader, planes };
    });
    this.onmessage!({ data: { id, answers } });
  }
}

const told: string[] = [];
const holders = {
  hold: (planes: readonly (readonly [string, Plane])[]) => void told.push(`hold ${planes.length}`),
  drop: (keys: readonly string[]) => void told.push(`drop ${keys.length}`),
};
const plan = (...passes: string[]): Plan => ({
  inputs: passes.map((p) => ({ sourceId: 's', part: 0, colour: ['R', 'G', 'B'].map((c) => `${p}.${c}`) as never })),
  nodes: [],
  entryIds: [],
  luminance: [0, 1, 0],
  hasAlpha: false,
  faults: [],
});
const request = (more: object = {}) =>
  ({
    frame: 1001,
    sourceFrames: {},
    stamps: { s: 'one' },
    level: 0,
    size: { width: 8, height: 4 },
    ...more,
  }) as unknown as PictureRequest;
let store: PlaneStore;
const fetcher = () => HeldFetcher.all.at(-1)!;

beforeEach(() => {
  HeldFetcher.all = [];
  told.length = 0;
  store = new PlaneStore(3000, holders, () => new HeldFetcher() as unknown as Worker);
});

describe('planes of pictures', () => {
  test('all that a picture lacks comes in one request, is told to the workers, and is not asked for again', async () => {
    const need = store.need(request(), plan('sun', 'sky'));
    expect(fetcher().orders.map((o) => o.wants!.map((w) => w.channels.length))).toEqual([[6]]);
    fetcher().deliver();
    const places = await need;
    expect(places.map((p) => [p.window, new Set(p.colour).size])).toEqual([
      [{ x: 0, y: 0, width: 8, height: 4 }, 3],
      [{ x: 0, y: 0, width: 8, height: 4 }, 3],
    ]);
    expect(told).toEqual(['hold 6']);
    // One pass more: its planes alone.
    const more = store.need(request(), plan('sun', 'sky', 'lamp'));
    expect(fetcher().orders[0]!.wants![0]!.channels).toEqual(['lamp.R', 'lamp.G', 'lamp.B']);
    fetcher().deliver({}, 0);
    await more;
    expect(store.has(request(), plan('sky', 'lamp'))).toBe(true);
    expect([store.has(request({ frame: 2 }), plan('sky')), store.has(request({ level: 1 }), plan('sky'))]).toEqual([
      false,
      false,
    ]);
  });

  test('files that are others now are other planes; what was used longest ago goes when the room is full', async () => {
    for (const stamps of [{ s: 'one' }, { s: 'two' }]) {
      const need = store.need(request({ stamps }), plan('sun'));
      fetcher().deliver();
      await need;
    }
    expect(store.bytes).toBe(2400);
    const third = store.need(request({ stamps: { s: 'three' } }), plan('sun'));
    fetcher().deliver();
    await third;
    expect(told).toEqual(['hold 3', 'hold 3', 'hold 3', 'drop 2']);
    expect(store.bytes).toBe(2800);
    // One picture larger than all room is still made.
    const large = store.need(request({ stamps: { s: 'four' } }), plan('sun'));
    fetcher().deliver({}, 2000);
    await large;
    expect(store.bytes).toBe(6000);
  });

  test('what is at hand goes last, whatever is fetched ahead', async () => {
    const fetched = async (frame: number) => {
      const need = store.need(request({ frame }), plan('sun'));
      if (fetcher().orders.length) fetcher().deliver();
      await need;
    };
    await fetched(1001);
    const [own, level] = [plan('sun'), request()];
    store.keepAtHand(holders, [[level, own]]);
    for (const frame of [1002, 1003, 1004, 1005]) await fetched(frame);
    expect(store.bytes).toBeLessThanOrEqual(3000);
    expect([1001, 1002, 1005].map((frame) => store.has(request({ frame }), own))).toEqual([true, false, true]);
    // Where there is nothing else to go it does.
    const large = store.need(request({ frame: 1006 }), plan('sun'));
    fetcher().deliver({}, 1000);
    await large;
    expect([1001, 1006].map((frame) => store.has(request({ frame }), own))).toEqual([false, true]);
    // Nor when nobody looks any more.
    await fetched(1001);
    store.keepAtHand(holders, []);
    for (const frame of [1002, 1003, 1004]) await fetched(frame);
    expect(store.has(request(), own)).toBe(false);
  });

  test('what the server says of one pass is its sentence; another size and missing lines are, too', async () => {
    const failing: [Partial<PlanesHeader>, string][] = [
      [{ error: 'a.1001.exr: frame 1001 is missing.', status: 404 }, 'a.1001.exr: frame 1001 is missing.'],
      [
        { size: { width: 6, height: 4 } },
        'a.exr: it is 6×4, its source 8×4: the frames and passes of a source must have one size.',
      ],
      [{ missing: [[2, 3]] }, 'Frame 1001 ends early or is damaged: lines 2–3 cannot be read.'],
    ];
    for (const [header, sentence] of failing) {
      const fresh = new PlaneStore(3000, holders, () => new HeldFetcher() as unknown as Worker);
      const need = fresh.need(request(), plan('sun'));
      fetcher().deliver(header);
      await expect(need).rejects.toThrow(sentence);
    }
  });

  test('a request that is given up says so, and its fetching is told', async () => {
    const aborting = new AbortController();
    const need = store.need(request(), plan('sun'), aborting.signal);
    aborting.abort();
    const [asked, ended] = fetcher().orders;
    expect(ended).toEqual({ id: asked!.id });
    fetcher().onmessage!({ data: { id: asked!.id, error: 'The user aborted a request.' } });
    await expect(need).rejects.toBeInstanceOf(Superseded);
  });

  test('a fetching worker that ends is begun again, and who waited hears of it', async () => {
    const need = store.need(request(), plan('sun'));
    fetcher().onerror!();
    await expect(need).rejects.toThrow('begun again');
    expect(HeldFetcher.all.map((f) => f.ended)).toEqual([true, false]);
    const again = store.need(request(), plan('sun'));
    fetcher().deliver();
    await again;
  });
});
