import type { Plane } from '../exr/plane.ts';
import { Heap } from '../kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../kernel/load.ts';

/** A picture's side at a level: level 0 is full size, each level halves, rounding up. */
export function sideAtLevel(side: number, level: number): number {
  return Math.ceil(side / 2 ** level);
}

/** A part of a picture at a level: every pixel that something of it lies in. */
export function windowAtLevel(window: Window, level: number): Window {
  const side = 2 ** level;
  const [x, y] = [Math.floor(window.x / side), Math.floor(window.y / side)];
  const [right, bottom] = [Math.ceil((window.x + window.width) / side), Math.ceil((window.y + window.height) / side)];
  return { x, y, width: right - x, height: bottom - y };
}

/** Part of a picture, in its pixels. */
export interface Window {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

let ownHeap: Heap | undefined;

/** Kernels with a memory of their own: rows alone lie in it, and nobody else's heap is touched. */
function rowHeap(): Heap {
  if (!ownHeap) {
    try {
      ownHeap = new Heap(createWasmKernels());
    } catch {
      ownHeap = new Heap(createTwinKernels());
    }
  }
  ownHeap.clear();
  return ownHeap;
}

/**
 * Halves a plane's size once. Colour is averaged over 2x2 in float32 (at odd edges over what is there) and rounded once; data takes the upper
 * left sample, since an average of IDs or depths means nothing.
 */
export function halvePlane<T extends Plane>(plane: T, width: number, height: number, data: boolean): T {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = new (plane.constructor as new (n: number) => T)(w * h);
  if (data || plane instanceof Uint32Array) {
    for (let y = 0; y < h; y++)
      for (let x = 0, from = 2 * y * width; x < w; x++, from += 2) out[y * w + x] = plane[from]!;
    return out;
  }
  const heap = rowHeap();
  const k = heap.kernels;
  const [upper, lower, means, halves] = [2 * w, 2 * w, w, w].map((n) => heap.allocatePlane(n + 8)) as [
    number,
    number,
    number,
    number,
  ];
  const load = (to: number, y: number) => {
    const row = plane.subarray(y * width, (y + 1) * width);
    if (row instanceof Uint16Array) {
      heap.halves(halves, width).set(row);
      k.halfToFloat(halves, to, width);
    } else heap.floats(to, width).set(row);
    // At an odd edge the last column stands for the one behind it.
    if (width % 2) heap.floats(to, width + 1).copyWithin(width, width - 1, width);
  };
  for (let y = 0; y < h; y++) {
    load(upper, 2 * y);
    load(lower, Math.min(2 * y + 1, height - 1));
    k.averageSquares(means, upper, lower, w);
    if (plane instanceof Uint16Array) k.floatToHalf(means, halves, w);
    out.set(plane instanceof Uint16Array ? heap.halves(halves, w) : heap.floats(means, w), y * w);
  }
  return out;
}
