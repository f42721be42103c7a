import type { Heap } from '../../kernel/heap.ts';
import { codecHeap, type CodecKernels } from './codecKernels.ts';

const symbolCount = 65537;

/** Packs 16-bit values with PIZ's Huffman code, header included (OpenEXR, ImfHuf). */
export function packHuffman(values: Uint16Array): Uint8Array {
  const heap = codecHeap();
  const at = heap.place(new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  return packHuffmanAt(heap, at, values.length);
}

/** The same of values that lie in the codec module's memory. */
export function packHuffmanAt(heap: Heap<CodecKernels>, at: number, n: number): Uint8Array {
  if (!n) return new Uint8Array(0);
  const { kernels } = heap;
  const counted = heap.allocate(4 * symbolCount);
  heap.bytes(counted, 4 * symbolCount).fill(0);
  kernels.countValues(at, n, counted);
  const counts = new Uint32Array(heap.bytes(counted, 4 * symbolCount).slice().buffer);
  let from = 0;
  while (counts[from] === 0) from++;
  let repeat = symbolCount - 1;
  while (counts[repeat - 1] === 0) repeat--;
  counts[repeat] = 1; // one symbol past the values says that the last one repeats
  const lengths = codeLengths(counts);
  const bits = new BitWriter(70000);
  packLengths(bits, lengths, from, repeat);
  bits.flush();
  // Repeats only make it shorter than all values by their codes.
  let all = 0;
  for (let s = from; s <= repeat; s++) all += lengths[s]! * counts[s]!;
  const worst = Math.ceil(all / 8) + 12;
  const [lengthsAt, codes, dst] = [heap.place(lengths), heap.allocate(8 * symbolCount), heap.allocate(worst)];
  kernels.buildCodes(lengthsAt, symbolCount, codes);
  const bitCount = kernels.packSymbols(at, n, codes, repeat, dst) >>> 0;
  const packed = heap.bytes(dst, Math.ceil(bitCount / 8));
  const out = new Uint8Array(20 + bits.bytes + packed.length);
  const view = new DataView(out.buffer);
  view.setInt32(0, from, true);
  view.setInt32(4, repeat, true);
  view.setInt32(8, bits.bytes, true);
  view.setUint32(12, bitCount, true);
  out.set(bits.take(), 20);
  out.set(packed, 20 + bits.bytes);
  return out;
}

/** Lengths of an optimal prefix code: repeatedly joins the two rarest (Huffman 1952), with two sorted queues. */
function codeLengths(counts: Uint32Array): Uint8Array {
  const used = byCount(counts);
  const lengths = new Uint8Array(symbolCount);
  const n = used.length;
  if (n === 1) {
    lengths[used[0]!] = 1;
    return lengths;
  }
  const weight = new Float64Array(2 * n - 1);
  const parent = new Int32Array(2 * n - 1);
  for (let i = 0; i < n; i++) weight[i] = counts[used[i]!]!;
  let [leaf, joined] = [0, n];
  const rarest = (made: number) =>
    joined < made && (leaf >= n || weight[joined]! < weight[leaf]!) ? joined++ : leaf++;
  for (let made = n; made < 2 * n - 1; made++) {
    const [a, b] = [rarest(made), rarest(made)];
    weight[made] = weight[a]! + weight[b]!;
    parent[a] = parent[b] = made;
  }
  const depth = new Uint8Array(2 * n - 1);
  for (let i = 2 * n - 3; i >= 0; i--) depth[i] = depth[parent[i]!]! + 1;
  for (let i = 0; i < n; i++) lengths[used[i]!] = depth[i]!;
  return lengths;
}

/** The symbols that occur, the rarest first, then by their number: sorted by eleven bits of their counts at a time, which keeps the order of likes. */
function byCount(counts: Uint32Array): Uint32Array {
  let used = new Uint32Array(counts.length);
  let [n, most] = [0, 0];
  for (let s = 0; s < counts.length; s++) {
    if (counts[s] === 0) continue;
    used[n++] = s;
    most = Math.max(most, counts[s]!);
  }
  used = used.subarray(0, n);
  let sorted = new Uint32Array(n);
  const places = new Uint32Array(2049);
  for (let shift = 0; most >>> shift > 0 && shift < 32; shift += 11) {
    places.fill(0);
    for (let i = 0; i < n; i++) places[((counts[used[i]!]! >>> shift) & 2047) + 1]!++;
    for (let k = 1; k < 2048; k++) places[k]! += places[k - 1]!;
    for (let i = 0; i < n; i++) sorted[places[(counts[used[i]!]! >>> shift) & 2047]!++] = used[i]!;
    [used, sorted] = [sorted, used];
  }
  return used;
}

/** Six bits a length; runs of zeros are shortened. */
function packLengths(bits: BitWriter, lengths: Uint8Array, from: number, to: number): void {
  for (let i = from; i <= to; i++) {
    const length = lengths[i]!;
    let zeros = 0;
    if (length === 0) {
      zeros = 1;
      while (i < to && zeros < 261 && lengths[i + 1] === 0) {
        i++;
        zeros++;
      }
    }
    if (zeros >= 6) {
      bits.put(63, 6);
      bits.put(zeros - 6, 8);
    } else if (zeros >= 2) bits.put(57 + zeros, 6);
    else bits.put(length, 6);
  }
}

/** Bits into bytes, most significant first. */
class BitWriter {
  private store: Uint8Array;
  private held = 0;
  private count = 0;
  bytes = 0;

  constructor(size: number) {
    this.store = new Uint8Array(size);
  }

  put(value: number, length: number): void {
    this.held = (this.held << length) | value;
    this.count += length;
    while (this.count >= 8) {
      this.count -= 8;
      if (this.bytes === this.store.length) this.grow();
      this.store[this.bytes++] = this.held >> this.count;
      this.held &= (1 << this.count) - 1;
    }
  }

  flush(): void {
    if (this.count) this.put(0, 8 - this.count);
  }

  take(): Uint8Array {
    return this.store.subarray(0, this.bytes);
  }

  private grow(): void {
    const larger = new Uint8Array(this.store.length * 2);
    larger.set(this.store);
    this.store = larger;
  }
}
