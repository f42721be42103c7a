import { codecHeap } from './codecKernels.ts';

/** Even bytes, odd bytes, differences: what ZIP and RLE do before packing. */
export function splitBytes(bytes: Uint8Array): Uint8Array {
  const heap = codecHeap();
  const src = heap.place(bytes);
  const [dst, scratch] = [heap.allocate(bytes.length), heap.allocate(bytes.length)];
  heap.kernels.splitBytes(src, dst, scratch, bytes.length);
  return heap.bytes(dst, bytes.length).slice();
}

/** The counterpart of the codec module's `unpackRuns`. */
export function packRuns(bytes: Uint8Array): Uint8Array {
  const heap = codecHeap();
  const src = heap.place(bytes);
  // A count for every 127 bytes at worst.
  const dst = heap.allocate(bytes.length + Math.ceil(bytes.length / 127) + 2);
  const length = heap.kernels.packRuns(src, bytes.length, dst);
  return heap.bytes(dst, length).slice();
}
