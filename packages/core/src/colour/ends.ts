import type { Heap } from '../kernel/heap.ts';

/** How samples lie in an array: floats, half floats by their bits, or codes of 8 or 16 bits that stand for 0 … 1. */
export type SampleEnd = 'float' | 'half' | 'code8' | 'code16';
export type Samples = Float32Array | Uint16Array | Uint8Array | Uint32Array;

const tops = { code8: 255, code16: 65535 } as const;

/** Places a plane of samples in the heap as floats. Whole numbers (IDs) become floats as they are. Returns its pointer. */
export function placeSamples(samples: Samples, end: SampleEnd, heap: Heap): number {
  const n = samples.length;
  const at = heap.allocatePlane(n);
  if (end === 'half') {
    const narrow = heap.allocate(n * 2);
    heap.halves(narrow, n).set(samples);
    heap.kernels.halfToFloat(narrow, at, n);
    return at;
  }
  const plane = heap.floats(at, n);
  if (end === 'float') plane.set(samples);
  else {
    const top = tops[end];
    for (let i = 0; i < n; i++) plane[i] = samples[i]! / top;
  }
  return at;
}

/** Takes a plane of floats out of the heap as samples; codes are rounded to the nearest and limited to 0 … 1, NaN becomes 0. */
export function takeSamples(plane: number, n: number, end: SampleEnd, heap: Heap): Samples {
  if (end === 'float') return heap.floats(plane, n).slice();
  if (end === 'half') {
    const narrow = heap.allocate(n * 2);
    heap.kernels.floatToHalf(plane, narrow, n);
    return heap.halves(narrow, n).slice();
  }
  const top = tops[end];
  const floats = heap.floats(plane, n);
  const out = end === 'code8' ? new Uint8Array(n) : new Uint16Array(n);
  for (let i = 0; i < n; i++) {
    const x = floats[i]!;
    out[i] = x > 0 ? Math.floor(Math.min(x, 1) * top + 0.5) : 0;
  }
  return out;
}
