import { afterAll, beforeAll, expect, test } from '@jest/globals';
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
