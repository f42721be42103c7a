import { describe, expect, jest, test } from '@jest/globals';
import { PlaneCache, type Fetched } from '../src/viewer/planeCache.ts';

/** Planes of so many bytes, told apart by their first sample. */
const planes = (bytes: number, sign: number): Fetched => ({
  planes: [new Float32Array(bytes / 4).fill(sign)],
  data: { x: 0, y: 0, width: 1, height: 1 },
});
const first = async (promise: Promise<Fetched>) => (await promise).planes[0]![0];

describe('planes that were fetched', () => {
  test('are fetched once an address, also when they are asked for again while they are under way', async () => {
    const cache = new PlaneCache(1000);
    const fetched = jest.fn(() => Promise.resolve(planes(400, 1)));
    await Promise.all([cache.get('a', fetched), cache.get('a', fetched)]);
    expect(await first(cache.get('a', fetched))).toBe(1);
    expect(fetched).toHaveBeenCalledTimes(1);
  });

  test('another address is another picture: what its source is now stands in it', async () => {
    const cache = new PlaneCache(1000);
    expect(await first(cache.get('s1/1001', () => Promise.resolve(planes(400, 1))))).toBe(1);
    expect(await first(cache.get('s2/1001', () => Promise.resolve(planes(400, 2))))).toBe(2);
  });

  test('are thrown out when they are too many, those used longest ago first', async () => {
    const cache = new PlaneCache(1000);
    const fetched: string[] = [];
    const get = (address: string) =>
      cache.get(address, () => {
        fetched.push(address);
        return Promise.resolve(planes(400, 1));
      });
    for (const address of ['a', 'b', 'a', 'c']) await get(address);
    expect(fetched).toEqual(['a', 'b', 'c']);
    // 1,200 bytes are too many: "b" went.
    await get('a');
    await get('c');
    expect(fetched).toEqual(['a', 'b', 'c']);
    await get('b');
    expect(fetched).toEqual(['a', 'b', 'c', 'b']);
  });

  test('one picture larger than all room is still given, and held until the next', async () => {
    const cache = new PlaneCache(1000);
    const large = jest.fn(() => Promise.resolve(planes(4000, 3)));
    await cache.get('large', large);
    expect(await first(cache.get('large', large))).toBe(3);
    expect(large).toHaveBeenCalledTimes(1);
    await cache.get('small', () => Promise.resolve(planes(400, 1)));
    await cache.get('large', large);
    expect(large).toHaveBeenCalledTimes(2);
  });

  test('a failure is told to all who wait and kept for nobody', async () => {
    const cache = new PlaneCache(1000);
    let fails = true;
    const fetch = () => (fails ? Promise.reject(new Error('the line broke')) : Promise.resolve(planes(40, 4)));
    const both = await Promise.allSettled([cache.get('a', fetch), cache.get('a', fetch)]);
    expect(both.map((b) => b.status)).toEqual(['rejected', 'rejected']);
    fails = false;
    expect(await first(cache.get('a', fetch))).toBe(4);
  });
});
