import { describe, expect, test } from '@jest/globals';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import { rangeAround } from '../../src/operations/rangeAround.ts';

describe.each([
  ['kernels', createWasmKernels],
  ['twins', createTwinKernels],
])('the range around each pixel, by %s', (_name, make) => {
  test.each([
    [23, 9, 2],
    [4, 1, 2],
    [1, 7, 1],
    [16, 5, 3],
  ])('of %i by %i within %i is that of a search', (width, rows, within) => {
    const plane = Float32Array.from({ length: width * rows }, (_, i) =>
      i % 13 === 5 ? Infinity : i % 17 === 3 ? -4e8 : Math.fround(Math.sin(i * 12.9898) * 437),
    );
    const heap = new Heap(make());
    const around = rangeAround(heap, heap.placeFloats(plane), width, rows, within);
    const { stride } = around;
    const [low, high] = [around.low, around.high].map((at) => heap.floats(at, rows * stride)) as [
      Float32Array,
      Float32Array,
    ];
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < width; x++) {
        const near = [...plane.keys()]
          .filter((i) => Math.abs((i % width) - x) <= within && Math.abs(Math.floor(i / width) - y) <= within)
          .map((i) => plane[i]!);
        const at = y * stride + x;
        expect([x, y, low[at], high[at]]).toEqual([x, y, Math.min(...near), Math.max(...near)]);
      }
  });
});
