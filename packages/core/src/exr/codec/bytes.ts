import { codecHeap } from './codecKernels.ts';

/** Even bytes, odd bytes, differences: what ZIP and RLE do before packing. */
export function splitBytes(bytes: Uint8Array): Uint8Array {
  const heap = codecHeap();
  const src = heap.place(bytes);
  const [dst, scratch] = [heap.allocate(bytes.length), heap.allocate(bytes.length)];
  heap.kernels.splitBytes(src, dst, scratch, bytes.length);
  return heap.bytes(dst, bytes.length).slice();
}

const leastRun = 3;
const longestRun = 127;

/** The counterpart of the codec module's `unpackRuns`: runs of three and more are worth a count. */
export function packRuns(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length + Math.ceil(bytes.length / longestRun) + 2);
  let at = 0;
  const n = bytes.length;
  for (let i = 0; i < n;) {
    let end = i + 1;
    while (end < n && bytes[end] === bytes[i] && end - i - 1 < longestRun) end++;
    if (end - i >= leastRun) {
      out[at++] = end - i - 1;
      out[at++] = bytes[i]!;
      i = end;
      continue;
    }
    while (end < n && end - i < longestRun) {
      if (end + 2 < n && bytes[end] === bytes[end + 1] && bytes[end] === bytes[end + 2]) break;
      end++;
    }
    out[at++] = i - end;
    out.set(bytes.subarray(i, end), at);
    at += end - i;
    i = end;
  }
  return out.subarray(0, at);
}
