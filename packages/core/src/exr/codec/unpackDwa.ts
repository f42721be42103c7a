import type { Heap } from '../../kernel/heap.ts';
import type { CodecKernels } from './codecKernels.ts';
import { classifyChannels, legacyRules, type DwaRule, type DwaScheme } from './dwaRules.ts';
import { halfToNumber } from '../../image/half.ts';
import { DamagedChunk, grids, halfTable, inflate, unrun, type ChunkToUnpack, type Unpacked } from './chunk.ts';
import { decodeUtf8 } from '../attributes.ts';
import { sampleBytes, sampleTypes } from '../types.ts';

/** Sizes at the head of a DWA chunk, eleven 64-bit numbers in this order (OpenEXR, ImfDwaCompressor). */
const sizeNames = [
  'version',
  'unknownRaw',
  'unknownPacked',
  'acPacked',
  'dcPacked',
  'runsPacked',
  'runsMixed',
  'runsRaw',
  'acCount',
  'dcCount',
  'acCodec',
] as const;
type Sizes = Record<(typeof sizeNames)[number], number>;
const headBytes = 88;
/** AC values take at most this many a sample: one each and an end mark per block. */
const acPerSample = 65 / 64;

let perceptual: Uint16Array | undefined;
/** Undoes DWA's perceptual curve: gamma 2.2 up to 1, exponential above (OpenEXR, dwaLookups). */
function toLinear(): Uint16Array {
  const base = 2.7182818 ** 2.2;
  perceptual ??= halfTable((x) => Math.sign(x) * (Math.abs(x) <= 1 ? Math.abs(x) ** 2.2 : base ** (Math.abs(x) - 1)));
  return perceptual;
}

/** Unpacks a DWAA or DWAB chunk. Only the lossy channels may differ from the reference library, in their last bits. */
export function unpackDwa(chunk: ChunkToUnpack, heap: Heap<CodecKernels>): Unpacked {
  const { packed } = chunk;
  const { sizes, rules, start } = readHead(packed);
  const { channels, triples } = classifyChannels(chunk.channels, rules);
  const grid = grids(chunk);
  checkSizes(chunk, sizes, channels, start);
  let at = start;
  const take = (bytes: number) => {
    const piece = packed.subarray(at, at + bytes);
    at += bytes;
    return piece;
  };
  const unknown = take(sizes.unknownPacked);
  const ac = take(sizes.acPacked);
  const dc = take(sizes.dcPacked);
  const runs = take(sizes.runsPacked);

  const bytes = grid.map(({ width, height }, i) => width * height * sampleBytes[chunk.channels[i]!.type]);
  const pointers = bytes.map((n, i) => (chunk.wanted[i] ? heap.allocate(n) : 0));
  const wantedOf = (scheme: DwaScheme) => channels.some((s, i) => s === scheme && chunk.wanted[i]);
  if (wantedOf('deflate')) copyDeflated(chunk, heap, channels, bytes, pointers, unknown, sizes);
  if (wantedOf('runs')) copyRuns(chunk, heap, channels, bytes, pointers, runs, sizes);
  if (wantedOf('dct')) unpackLossy(chunk, heap, channels, triples, pointers, ac, dc, sizes);
  return {
    bytes: new Uint8Array(heap.kernels.memory.buffer),
    channels: pointers.map((p, i) =>
      p ? { at: p, stride: grid[i]!.width * sampleBytes[chunk.channels[i]!.type] } : undefined,
    ),
  };
}

function readHead(packed: Uint8Array): { sizes: Sizes; rules: readonly DwaRule[]; start: number } {
  if (packed.length < headBytes) throw new DamagedChunk('too short');
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const numbers = sizeNames.map((_, i) => view.getUint32(i * 8, true) + view.getUint32(i * 8 + 4, true) * 2 ** 32);
  const sizes = Object.fromEntries(sizeNames.map((name, i) => [name, numbers[i]])) as Sizes;
  if (sizes.version > 2) throw new DamagedChunk(`version ${sizes.version}`);
  if (sizes.version < 2) return { sizes, rules: legacyRules, start: headBytes };
  if (packed.length < headBytes + 2) throw new DamagedChunk('too short');
  const end = headBytes + view.getUint16(headBytes, true);
  if (end < headBytes + 2 || end > packed.length) throw new DamagedChunk('channel rules');
  const rules: DwaRule[] = [];
  for (let at = headBytes + 2; at < end;) {
    const zero = packed.indexOf(0, at);
    if (zero < 0 || zero + 3 > end) throw new DamagedChunk('channel rules');
    const value = packed[zero + 1]!;
    const scheme = (['deflate', 'dct', 'runs'] as const)[(value >> 2) & 3];
    const type = sampleTypes[packed[zero + 2]!];
    if (!scheme || !type || value >> 4 > 3) throw new DamagedChunk('channel rules');
    const suffix = decodeUtf8(packed.subarray(at, zero));
    rules.push({ suffix, scheme, type, component: (value >> 4) - 1, anyCase: (value & 1) === 1 });
    at = zero + 3;
  }
  return { sizes, rules, start: end };
}

/** Everything a chunk claims is held against what its channels can need, before anything is allocated. */
function checkSizes(chunk: ChunkToUnpack, sizes: Sizes, schemes: readonly DwaScheme[], start: number): void {
  const grid = grids(chunk);
  const total = (scheme: DwaScheme, count: (i: number) => number) =>
    schemes.reduce((n, s, i) => (s === scheme ? n + count(i) : n), 0);
  const bytes = (i: number) => grid[i]!.width * grid[i]!.height * sampleBytes[chunk.channels[i]!.type];
  const blocks = (i: number) => Math.ceil(grid[i]!.width / 8) * Math.ceil(grid[i]!.height / 8);
  const dctBlocks = total('dct', blocks);
  const sound =
    start + sizes.unknownPacked + sizes.acPacked + sizes.dcPacked + sizes.runsPacked <= chunk.packed.length &&
    sizes.unknownRaw === total('deflate', bytes) &&
    sizes.runsRaw === total('runs', bytes) &&
    sizes.runsMixed <= sizes.runsRaw * 2 + 2 &&
    sizes.dcCount === dctBlocks &&
    sizes.acCount <= dctBlocks * 64 * acPerSample &&
    sizes.acCodec <= 1;
  if (!sound) throw new DamagedChunk('sizes');
}

function copyDeflated(
  chunk: ChunkToUnpack,
  heap: Heap<CodecKernels>,
  schemes: readonly DwaScheme[],
  bytes: readonly number[],
  pointers: readonly number[],
  packed: Uint8Array,
  sizes: Sizes,
): void {
  const raw = inflate(chunk.codec, packed, sizes.unknownRaw);
  let at = 0;
  schemes.forEach((scheme, i) => {
    if (scheme !== 'deflate') return;
    if (pointers[i]) heap.bytes(pointers[i], bytes[i]!).set(raw.subarray(at, at + bytes[i]!));
    at += bytes[i]!;
  });
}

/** Run-length channels lie byte plane by byte plane. */
function copyRuns(
  chunk: ChunkToUnpack,
  heap: Heap<CodecKernels>,
  schemes: readonly DwaScheme[],
  bytes: readonly number[],
  pointers: readonly number[],
  packed: Uint8Array,
  sizes: Sizes,
): void {
  const mixed = inflate(chunk.codec, packed, sizes.runsMixed);
  let at = unrun(heap, mixed, sizes.runsRaw);
  schemes.forEach((scheme, i) => {
    if (scheme !== 'runs') return;
    const width = sampleBytes[chunk.channels[i]!.type];
    const samples = bytes[i]! / width;
    if (pointers[i]) {
      const out = heap.bytes(pointers[i], bytes[i]!);
      const planes = heap.bytes(at, bytes[i]!);
      for (let k = 0; k < width; k++)
        for (let s = 0, o = k; s < samples; s++, o += width) out[o] = planes[k * samples + s]!;
    }
    at += bytes[i]!;
  });
}

function unpackLossy(
  chunk: ChunkToUnpack,
  heap: Heap<CodecKernels>,
  schemes: readonly DwaScheme[],
  triples: readonly (readonly [number, number, number])[],
  pointers: readonly number[],
  acPacked: Uint8Array,
  dcPacked: Uint8Array,
  sizes: Sizes,
): void {
  const { codec, channels } = chunk;
  const ac = unpackAc(codec, heap, acPacked, sizes);
  const dcMixed = heap.place(inflate(codec, dcPacked, sizes.dcCount * 2));
  const dc = heap.allocate(sizes.dcCount * 2);
  heap.kernels.restoreBytes(dcMixed, dc, sizes.dcCount * 2);
  const table = heap.allocate(131072);
  heap.halves(table, 65536).set(toLinear());
  const scratch = heap.allocate(2048);
  const grid = grids(chunk);
  let acUsed = 0;
  let dcUsed = 0;
  const decode = (members: readonly number[]) => {
    const { width, height } = grid[members[0]!]!;
    const samples = width * height;
    const isHalf = (i: number) => channels[i]!.type === 'half';
    // Halves go where they belong at once.
    const halves = members.map((i) => (pointers[i] && !isHalf(i) ? heap.allocate(samples * 2) : pointers[i]!));
    const curve = members.length === 3 || !channels[members[0]!]!.perceptuallyLinear;
    const taken = heap.kernels.unpackDctBlocks(
      ac + 2 * acUsed,
      sizes.acCount - acUsed,
      dc + 2 * dcUsed,
      halves[0]!,
      halves[1] ?? 0,
      halves[2] ?? 0,
      members.length,
      width,
      height,
      curve ? table : 0,
      scratch,
    );
    if (taken < 0) throw new DamagedChunk('DCT values');
    acUsed += taken;
    dcUsed += members.length * Math.ceil(width / 8) * Math.ceil(height / 8);
    members.forEach((i, k) => {
      if (!pointers[i] || isHalf(i)) return;
      heap.floats(pointers[i], samples).set(Float32Array.from(heap.halves(halves[k]!, samples), halfToNumber));
    });
  };
  for (const triple of triples) decode(triple);
  schemes.forEach((scheme, i) => {
    if (scheme === 'dct' && !triples.some((t) => t.includes(i))) decode([i]);
  });
}

function unpackAc(codec: ChunkToUnpack['codec'], heap: Heap<CodecKernels>, packed: Uint8Array, sizes: Sizes): number {
  if (sizes.acCodec === 1) return heap.place(inflate(codec, packed, sizes.acCount * 2));
  const out = heap.allocate(sizes.acCount * 2);
  if (sizes.acCount === 0) return out;
  const src = heap.place(packed);
  const scratch = heap.allocate(1 << 20);
  if (heap.kernels.unpackHuffman(src, packed.length, out, sizes.acCount, scratch))
    throw new DamagedChunk('Huffman code');
  return out;
}
