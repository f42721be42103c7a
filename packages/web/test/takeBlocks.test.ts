import { expect, test } from '@jest/globals';
import { blockCount, takeBlocks } from '../src/viewer/engine/takeBlocks.ts';

const claimsOf = (height: number, rows: number) =>
  new Int32Array(new SharedArrayBuffer(4 * (1 + blockCount(height, rows))));

/** What a worker takes, as [top, end]. */
function taken(height: number, rows: number, worker: number, workers: number, claims?: Int32Array, most = Infinity) {
  const all: [number, number][] = [];
  takeBlocks(height, { rows, worker, workers, claims }, (top, end) => {
    all.push([top, end]);
    if (all.length >= most) Atomics.store(claims!, 0, 1);
  });
  return all;
}

test.each([
  [540, 68, 2],
  [1, 16, 4],
  [721, 64, 3],
])('%i rows in blocks of %i for %i workers: each row once, with shared memory and without', (height, rows, workers) => {
  const claims = claimsOf(height, rows);
  for (const shared of [claims, undefined]) {
    const seen = new Array<number>(height).fill(0);
    for (let w = 0; w < workers; w++)
      for (const [top, end] of taken(height, rows, w, workers, shared)) for (let y = top; y < end; y++) seen[y]! += 1;
    expect(new Set(seen)).toEqual(new Set([1]));
  }
});

test('who is done takes what the others have not come to, from their ends', () => {
  const claims = claimsOf(80, 10);
  // The second worker has its first block in hand, and one more is taken.
  Atomics.store(claims, 1 + 4, 1);
  Atomics.store(claims, 1 + 7, 1);
  expect(taken(80, 10, 0, 2, claims).map(([top]) => top)).toEqual([0, 10, 20, 30, 60, 50]);
});

test('a picture that nobody wants any more is left at the next block', () => {
  expect(taken(80, 10, 0, 2, claimsOf(80, 10), 2)).toHaveLength(2);
});
