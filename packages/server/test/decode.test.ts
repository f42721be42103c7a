import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { numberToHalf, writeExr, type Box, type PartToWrite } from '@june-haze/core';
import { zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import { decodeShared } from '../src/compute/decode.ts';
import { GivenUp } from '../src/compute/inOrder.ts';
import { PartCache } from '../src/compute/partCache.ts';
import { exrFile } from '../src/intake/frameFiles.ts';
import { decodeBand, type BandTask } from '../src/compute/decodeBand.ts';
import type { ComputePool } from '../src/compute/pool.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'june-decode-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A pool whose threads are this one; it notes the bands. */
function poolOf(threads: number) {
  const bands: (readonly [number, number])[] = [];
  const run = (_name: string, task: BandTask) => {
    bands.push(task.lines);
    return decodeBand(task);
  };
  return { pool: { threads, run } as unknown as ComputePool, bands };
}

const displayWindow: Box = { xMin: 0, yMin: 0, xMax: 39, yMax: 49 };
/** A value that says where it belongs. */
const valueAt = (x: number, y: number) => (x + 1) / 64 + (y + 1);

async function make(name: string, dataWindow: Box, more: Partial<PartToWrite> = {}): Promise<string> {
  const sink = memorySink();
  const width = dataWindow.xMax - dataWindow.xMin + 1;
  const channels = [{ name: 'Z', type: 'float' as const }];
  await writeExr(
    sink,
    [{ compression: 'zip', dataWindow, displayWindow, channels, ...more }],
    (_, top, bottom) => [
      Float32Array.from({ length: width * (bottom - top + 1) }, (__, i) =>
        valueAt(dataWindow.xMin + (i % width), top + Math.floor(i / width)),
      ),
    ],
    zlibCodec,
  );
  const path = join(folder, name);
  writeFileSync(path, sink.bytes());
  return path;
}
const request = (path: string, over: 'display window' | 'data window' = 'display window') => ({
  path,
  name: 'landing.exr',
  part: 0,
  over,
});

describe('decoding on several threads', () => {
  test.each([
    ['the whole picture', displayWindow],
    ['a crop inside', { xMin: 7, yMin: 11, xMax: 20, yMax: 33 }],
    ['an overscan around', { xMin: -6, yMin: -9, xMax: 50, yMax: 60 }],
    ['a window half outside', { xMin: 30, yMin: 40, xMax: 70, yMax: 90 }],
  ])('%s: every pixel is where it belongs, 0 where the file has none', async (_, dataWindow) => {
    for (const more of [{}, { tiles: { width: 16, height: 8 } }, { compression: 'none' as const }]) {
      const path = await make('a.exr', dataWindow, more);
      const { pool } = poolOf(3);
      const { planes, width, height, missing } = await decodeShared(pool, request(path));
      expect([width, height, missing]).toEqual([40, 50, []]);
      const wrong: string[] = [];
      for (let y = 0; y < 50; y++)
        for (let x = 0; x < 40; x++) {
          const inside = x >= dataWindow.xMin && x <= dataWindow.xMax && y >= dataWindow.yMin && y <= dataWindow.yMax;
          if (planes.Z![y * 40 + x] !== (inside ? Math.fround(valueAt(x, y)) : 0)) wrong.push(`${x}, ${y}`);
        }
      expect(wrong).toEqual([]);
    }
  });

  test('a window that lies wholly outside gives zeros and reads nothing', async () => {
    const path = await make('b.exr', { xMin: 100, yMin: 100, xMax: 120, yMax: 120 });
    const { pool, bands } = poolOf(2);
    const { planes } = await decodeShared(pool, request(path));
    expect([new Set(planes.Z), bands]).toEqual([new Set([0]), []]);
  });

  test('bands are whole chunks, a few for each thread, and meet', async () => {
    const path = await make('c.exr', displayWindow, { compression: 'zips' });
    const { pool, bands } = poolOf(2);
    await decodeShared(pool, request(path));
    expect(bands.length).toBeGreaterThanOrEqual(4);
    const sorted = [...bands].sort((a, b) => a[0] - b[0]);
    expect(sorted[0]![0]).toBe(0);
    expect(sorted.at(-1)![1]).toBe(49);
    sorted.slice(1).forEach((b, i) => expect(b[0]).toBe(sorted[i]![1] + 1));
  });

  test.each(['none', 'zips'] as const)('%s, into planes of an earlier reading: what is missing is 0', async (codec) => {
    const path = await make('again.exr', displayWindow, { compression: codec });
    const { pool } = poolOf(2);
    const { planes: into } = await decodeShared(pool, request(path));
    into.Z!.fill(9);
    const bytes = readFileSync(path);
    truncateSync(path, bytes.length - 30);
    const { planes, missing } = await decodeShared(pool, { ...request(path), into });
    expect(planes.Z).toBe(into.Z);
    expect(missing).toEqual([[49, 49]]);
    expect([...planes.Z!.subarray(49 * 40)]).toEqual(new Array(40).fill(0));
    expect(planes.Z![48 * 40 + 3]).toBe(Math.fround(valueAt(3, 48)));
  });

  test('a decoding that nobody waits for ends at its next band; who comes meanwhile gets all of it', async () => {
    const path = await make('left.exr', displayWindow, { compression: 'zips' });
    const { pool, bands } = poolOf(1);
    await expect(decodeShared(pool, request(path), () => bands.length >= 2)).rejects.toBeInstanceOf(GivenUp);
    expect(bands.length).toBeLessThan(4);
    const cache = new PartCache(pool, 1 << 20);
    let gone = false;
    const first = cache.get(exrFile(path, 'left.exr'), 0, 0, undefined, () => gone).catch((error: unknown) => error);
    const second = cache.get(exrFile(path, 'left.exr'), 0, 1);
    gone = true;
    expect((await second).planes.Z!.length).toBe(40 * 50);
    const answered = await first;
    expect(answered instanceof GivenUp || 'planes' in (answered as object)).toBe(true);
    // Alone and gone: nothing is kept of it, and the next one who asks gets it.
    const other = await make('other.exr', displayWindow, { compression: 'zips' });
    await expect(cache.get(exrFile(other, 'other.exr'), 0, 0, undefined, () => true)).rejects.toBeInstanceOf(GivenUp);
    expect((await cache.get(exrFile(other, 'other.exr'), 0)).planes.Z!.length).toBe(40 * 50);
  });

  test('over the data window there is nothing but the file’s own pixels', async () => {
    const path = await make('d.exr', { xMin: 7, yMin: 11, xMax: 20, yMax: 33 });
    const { planes, width, height } = await decodeShared(poolOf(1).pool, request(path, 'data window'));
    expect([width, height, planes.Z![0]]).toEqual([14, 23, Math.fround(valueAt(7, 11))]);
  });

  test('a channel or a part that is not there is named', async () => {
    const path = await make('e.exr', displayWindow);
    const { pool } = poolOf(1);
    await expect(decodeShared(pool, { ...request(path), channels: ['N.X'] })).rejects.toThrow(
      'landing.exr: there is no channel "N.X".',
    );
    await expect(decodeShared(pool, { ...request(path), part: 4 })).rejects.toThrow('landing.exr: there is no part 4.');
    expect(numberToHalf(1)).toBe(0x3c00);
  });
});
