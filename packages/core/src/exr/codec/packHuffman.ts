const symbolCount = 65537;

/** Packs 16-bit values with PIZ's Huffman code, header included (OpenEXR, ImfHuf). */
export function packHuffman(values: Uint16Array): Uint8Array {
  if (!values.length) return new Uint8Array(0);
  const counts = new Float64Array(symbolCount);
  for (const v of values) counts[v]!++;
  let from = 0;
  while (counts[from] === 0) from++;
  let repeat = symbolCount - 1;
  while (counts[repeat - 1] === 0) repeat--;
  counts[repeat] = 1; // one symbol past the values says that the last one repeats
  const lengths = codeLengths(counts);
  const codes = codesOf(lengths);
  const bits = new BitWriter(values.length * 4 + 70000);
  packLengths(bits, lengths, from, repeat);
  bits.flush();
  const tableBytes = bits.bytes;
  const bitCount = packValues(bits, values, lengths, codes, repeat);
  bits.flush();
  const out = new Uint8Array(20 + bits.bytes);
  const view = new DataView(out.buffer);
  view.setInt32(0, from, true);
  view.setInt32(4, repeat, true);
  view.setInt32(8, tableBytes, true);
  view.setUint32(12, bitCount, true);
  out.set(bits.take(), 20);
  return out;
}

/** Lengths of an optimal prefix code: repeatedly joins the two rarest (Huffman 1952), with two sorted queues. */
function codeLengths(counts: Float64Array): Uint8Array {
  const used = Array.from(counts.keys())
    .filter((s) => counts[s]! > 0)
    .sort((a, b) => counts[a]! - counts[b]! || a - b);
  const lengths = new Uint8Array(symbolCount);
  const n = used.length;
  if (n === 1) {
    lengths[used[0]!] = 1;
    return lengths;
  }
  const weight = new Float64Array(2 * n - 1);
  const parent = new Int32Array(2 * n - 1);
  used.forEach((s, i) => (weight[i] = counts[s]!));
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
  used.forEach((s, i) => (lengths[s] = depth[i]!));
  return lengths;
}

/** Canonical codes, longest first. Codes stay below 2^53: chunks are far too small for longer ones. */
function codesOf(lengths: Uint8Array): Float64Array {
  const counts = new Float64Array(60);
  for (const l of lengths) counts[l]!++;
  const next = new Float64Array(60);
  let code = 0;
  for (let l = 58; l > 0; l--) {
    next[l] = code;
    code = Math.floor((code + counts[l]!) / 2);
  }
  return Float64Array.from(lengths, (l) => (l ? next[l]!++ : 0));
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

function packValues(
  bits: BitWriter,
  values: Uint16Array,
  lengths: Uint8Array,
  codes: Float64Array,
  repeat: number,
): number {
  let count = 0;
  const put = (symbol: number) => {
    bits.put(codes[symbol]!, lengths[symbol]!);
    count += lengths[symbol]!;
  };
  for (let i = 0; i < values.length;) {
    const value = values[i]!;
    let more = 0;
    while (more < 255 && values[i + 1 + more] === value) more++;
    if (lengths[value]! + lengths[repeat]! + 8 < lengths[value]! * more) {
      put(value);
      put(repeat);
      bits.put(more, 8);
      count += 8;
    } else for (let k = 0; k <= more; k++) put(value);
    i += more + 1;
  }
  return count;
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
    if (length > 16) {
      const low = length - 16;
      this.put(Math.floor(value / 2 ** low), 16);
      this.put(value % 2 ** low, low);
      return;
    }
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
