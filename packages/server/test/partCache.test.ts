import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeExr } from '@june-haze/core';
import { zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import type { BandTask } from '../src/compute/decodeBand.ts';
import { PartCache } from '../src/compute/partCache.ts';
import { exrFile } from '../src/intake/frameFiles.ts';
import type { ComputePool } from '../src/compute/pool.ts';

let folder: string;
let picture: Uint8Array;
beforeAll(async () => {
  const sink = memorySink();
  const window = { xMin: 0, yMin: 0, xMax: 9, yMax: 49 };
  await writeExr(
    sink,
    [{ compression: 'none', dataWindow: window, displayWindow: window, channels: [{ name: 'R', type: 'half' }] }],
    () => [new Uint16Array(500)],
    zlibCodec,
  );
  picture = sink.bytes();
  folder = mkdtempSync(join(tmpdir(), 'june-parts-'));
  for (const name of ['a', 'b', 'c']) writeFileSync(join(folder, name), picture);
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A pool of one thread that counts what it is asked to decode; every part is 1,000 bytes. */
class CountingPool {
  readonly threads = 1;
  asked: string[] = [];
  fail = false;
  readonly run = async (_task: string, { name, lines }: BandTask): Promise<[number, number][]> => {
    if (lines[0] === 0) this.asked.push(name);
    await Promise.resolve();
    if (this.fail) throw new Error(`${name} is damaged`);
    return [];
  };
}
const make = (limit: number) => {
  const pool = new CountingPool();
  const cache = new PartCache(pool as unknown as ComputePool, limit);
  return { pool, get: (name: string) => cache.get(exrFile(join(folder, name), name), 0) };
};

test('requests for one part share one decoding, under way and after', async () => {
  const { pool, get } = make(5000);
  await Promise.all([get('a'), get('a')]);
  await get('a');
  expect(pool.asked).toEqual(['a']);
});

test('what was used longest ago leaves when the limit is passed', async () => {
  const { pool, get } = make(2000);
  await get('a');
  await get('b');
  await get('a');
  await get('c');
  await get('a');
  expect(pool.asked).toEqual(['a', 'b', 'c']);
  await get('b');
  expect(pool.asked).toEqual(['a', 'b', 'c', 'b']);
});

test('a file that changed is decoded again', async () => {
  const { pool, get } = make(5000);
  await get('a');
  utimesSync(join(folder, 'a'), 1, 1);
  await get('a');
  expect(pool.asked).toEqual(['a', 'a']);
});

test('a failure is not kept', async () => {
  const { pool, get } = make(5000);
  pool.fail = true;
  await expect(get('b')).rejects.toThrow('b is damaged');
  pool.fail = false;
  await get('b');
  expect(pool.asked).toEqual(['b', 'b']);
});

describe('channels of a part', () => {
  const names = ['B', 'G', 'R', 'Z'];
  /** A pool that notes which channels it is asked for. */
  const channelPool = () => {
    const asked: string[][] = [];
    const run = async (_task: string, { channels }: BandTask): Promise<[number, number][]> => {
      asked.push([...channels]);
      await Promise.resolve();
      return [];
    };
    return { asked, cache: new PartCache({ threads: 1, run } as unknown as ComputePool, 1 << 20) };
  };
  beforeAll(async () => {
    const sink = memorySink();
    const window = { xMin: 0, yMin: 0, xMax: 3, yMax: 0 };
    const channels = names.map((name) => ({ name, type: 'half' as const }));
    await writeExr(
      sink,
      [{ compression: 'none', dataWindow: window, displayWindow: window, channels }],
      () => names.map(() => new Uint16Array(4)),
      zlibCodec,
    );
    writeFileSync(join(folder, 'many'), sink.bytes());
  });
  const many = () => exrFile(join(folder, 'many'), 'many');

  test('who asks first gets what it asks for; the next who lacks something gets all the rest with it', async () => {
    const { asked, cache } = channelPool();
    expect(Object.keys((await cache.get(many(), 0, 0, ['R', 'G'])).planes)).toEqual(['G', 'R']);
    await cache.get(many(), 0, 0, ['G']);
    expect(asked).toEqual([['G', 'R']]);
    expect(Object.keys((await cache.get(many(), 0, 0, ['Z', 'R'])).planes).sort()).toEqual(names);
    await cache.get(many(), 0);
    expect(asked).toEqual([
      ['G', 'R'],
      ['B', 'Z'],
    ]);
    expect(cache.bytes).toBe(4 * 8);
  });

  test('those who ask while it is under way share it, whatever they ask for', async () => {
    const { asked, cache } = channelPool();
    await Promise.all([['R'], ['G'], ['B'], ['R', 'Z']].map((wanted) => cache.get(many(), 0, 0, wanted)));
    expect(asked.length).toBe(2);
    expect(asked.flat().sort()).toEqual(names);
  });

  test('a channel that it does not have is not looked for', async () => {
    const { asked, cache } = channelPool();
    expect((await cache.get(many(), 0, 0, ['A'])).planes).toEqual({});
    expect(asked).toEqual([]);
  });
});
