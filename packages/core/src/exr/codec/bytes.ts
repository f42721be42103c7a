import type { Heap } from '../../kernel/heap.ts';
import { codecHeap, type CodecKernels } from './codecKernels.ts';

/** Even bytes, odd bytes, differences: what ZIP and RLE do before packing. */
export const splitBytes = (bytes: Uint8Array): Uint8Array =>
  splitInto(
    bytes.length,
    (to) => to.set(bytes),
    (heap, at) => heap.bytes(at, bytes.length).slice(),
  );

/** The same of n bytes that `fill` puts straight into the codec module's memory; `use` takes them from there, before anything else is placed in it. */
export function splitInto<T>(
  n: number,
  fill: (to: Uint8Array) => void,
  use: (heap: Heap<CodecKernels>, at: number) => T,
): T {
  const heap = codecHeap();
  // Sixteen bytes are read and written at a time, behind the ends too.
  const [src, dst, scratch] = [heap.allocate(n + 32), heap.allocate(n + 32), heap.allocate(n + 32)];
  fill(heap.bytes(src, n));
  heap.kernels.splitBytes(src, dst, scratch, n);
  return use(heap, dst);
}

/** The counterpart of the codec module's `unpackRuns`. */
export function packRuns(bytes: Uint8Array): Uint8Array {
  const heap = codecHeap();
  const src = heap.allocate(bytes.length + 32);
  heap.bytes(src, bytes.length).set(bytes);
  return packRunsAt(heap, src, bytes.length);
}

/** The same of bytes that lie in the codec module's memory, with 32 to spare behind them. */
export function packRunsAt(heap: Heap<CodecKernels>, at: number, n: number): Uint8Array {
  // A count for every 127 bytes at worst.
  const dst = heap.allocate(n + Math.ceil(n / 127) + 2 + 32);
  return heap.bytes(dst, heap.kernels.packRuns(at, n, dst)).slice();
}
