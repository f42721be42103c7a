import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { splitBytes, packRuns } from '../../src/exr/codec/bytes.ts';
import { codecHeap } from '../../src/exr/codec/codecKernels.ts';
import { packHuffman } from '../../src/exr/codec/packHuffman.ts';
import { openExr } from '../../src/exr/header.ts';
import { readChannels } from '../../src/exr/read.ts';
import { newPlane, type Plane } from '../../src/exr/plane.ts';
import { sampleTypes, type SampleType } from '../../src/exr/types.ts';
import { writeExr } from '../../src/exr/write.ts';
import { sameBits } from './corpusTool.ts';
import { memorySink, memorySource, nodeCodec } from './surroundings.ts';

const bytes = fc.uint8Array({ maxLength: 400 });
/** Bytes with runs, as pictures have them. */
const runny = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 1, max: 300 })), { maxLength: 12 })
  .map((runs) => Uint8Array.from(runs.flatMap(([value, count]) => Array.from({ length: count }, () => value))));

test('byte differences and halves come back', () => {
  fc.assert(
    fc.property(fc.oneof(bytes, runny), (raw) => {
      const split = splitBytes(raw);
      const heap = codecHeap();
      const src = heap.place(split);
      const dst = heap.allocate(raw.length);
      heap.kernels.restoreBytes(src, dst, raw.length);
      expect([...heap.bytes(dst, raw.length)]).toEqual([...raw]);
    }),
  );
});

test('run lengths come back, and never need more than one byte in 127 besides', () => {
  fc.assert(
    fc.property(fc.oneof(bytes, runny), (raw) => {
      const packed = packRuns(raw);
      expect(packed.length).toBeLessThanOrEqual(raw.length + Math.ceil(raw.length / 127) + 1);
      const heap = codecHeap();
      const src = heap.place(packed);
      const dst = heap.allocate(raw.length);
      expect(heap.kernels.unpackRuns(src, packed.length, dst, raw.length)).toBe(0);
      expect([...heap.bytes(dst, raw.length)]).toEqual([...raw]);
    }),
  );
});

test('the Huffman code comes back, and refuses to give more or fewer values', () => {
  const values = fc.oneof(
    fc.array(fc.integer({ min: 0, max: 65535 }), { minLength: 1, maxLength: 300 }),
    fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 1, maxLength: 900 }),
    // Fibonacci counts make the longest codes that so many values can have.
    fc.constant(
      [1, 1, 2, 3, 5, 8, 13, 21, 34, 55, 89, 144, 233, 377, 610, 987].flatMap((n, i) =>
        Array.from({ length: n }, (_, k) => (k & 1 ? i * 7 : i * 7)),
      ),
    ),
  );
  fc.assert(
    fc.property(values, (list) => {
      const raw = Uint16Array.from(list);
      const packed = packHuffman(raw);
      const unpack = (count: number) => {
        const heap = codecHeap();
        const src = heap.place(packed);
        const dst = heap.allocate(count * 2);
        const result = heap.kernels.unpackHuffman(src, packed.length, dst, count, heap.allocate(1 << 20));
        return { result, values: [...heap.halves(dst, count)] };
      };
      expect(unpack(raw.length)).toEqual({ result: 0, values: [...raw] });
      expect(unpack(raw.length + 1).result).toBe(1);
      if (raw.length > 1) expect(unpack(raw.length - 1).result).toBe(1);
    }),
    { numRuns: 60 },
  );
});

// The inverse is held by files of the reference library; small pictures never have as many values as ask for the 16-bit form.
test.each([
  ['14-bit', (1 << 14) - 1],
  ['16-bit', 65_535],
])('the %s wavelet comes back, whatever the size and however far neighbours lie', (_, largest) => {
  const size = fc.integer({ min: 1, max: 70 });
  fc.assert(
    fc.property(size, size, fc.constantFrom(1, 2), fc.integer({ min: 1 }), (width, height, apart, seed) => {
      let state = seed;
      const values = Uint16Array.from({ length: width * height * apart }, () => {
        state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
        return (state >>> 16) & largest;
      });
      const heap = codecHeap();
      const at = heap.place(new Uint8Array(values.buffer));
      for (let k = 0; k < apart; k++) {
        const where = [at + 2 * k, width, apart, height, width * apart, largest] as const;
        heap.kernels.forwardWavelet(...where);
        heap.kernels.inverseWavelet(...where);
      }
      expect(heap.halves(at, values.length)).toEqual(values);
    }),
    { numRuns: 80 },
  );
});

test('the first step of the wavelet is that of the format: averages and differences of rows, then of columns', () => {
  // OpenEXR, ImfWav: wenc14 and wenc16, by hand.
  const step = {
    small: (a: number, b: number) => [(a + b) >> 1, (a - b) & 65_535],
    large: (a: number, b: number) => {
      const ao = (a + 0x8000) & 65_535;
      const d = ao - b;
      return [d < 0 ? (((ao + b) >> 1) + 0x8000) & 65_535 : (ao + b) >> 1, d & 65_535];
    },
  };
  const values = Uint16Array.from({ length: 64 }, (_, i) => (i * 40_503) & 65_535);
  for (const [form, largest] of [
    ['small', 16_383],
    ['large', 65_535],
  ] as const) {
    const own = values.map((v) => v & largest);
    const heap = codecHeap();
    const at = heap.place(new Uint8Array(own.slice().buffer));
    // Two rows of 32: one level only, eight quads at a time.
    heap.kernels.forwardWavelet(at, 32, 1, 2, 32, largest);
    const signed = (v: number) => (form === 'small' ? (v << 16) >> 16 : v);
    const wanted = new Uint16Array(64);
    for (let x = 0; x < 32; x += 2) {
      const [top, across] = step[form](own[x]!, own[x + 1]!);
      const [bottom, below] = step[form](own[32 + x]!, own[33 + x]!);
      const [a, b] = step[form](top!, bottom!);
      const [c, d] = step[form](signed(across!), signed(below!));
      [wanted[x], wanted[x + 1], wanted[32 + x], wanted[33 + x]] = [a!, c!, b!, d!];
    }
    expect(heap.halves(at, 64)).toEqual(wanted);
  }
});

test('any picture comes back from a lossless codec, in lines and in tiles', async () => {
  const channel = fc.record({
    name: fc.stringMatching(/^[A-Za-z .]{1,12}$/),
    type: fc.constantFrom(...sampleTypes),
  });
  const picture = fc.record({
    width: fc.integer({ min: 1, max: 40 }),
    height: fc.integer({ min: 1, max: 50 }),
    x: fc.integer({ min: -20, max: 20 }),
    y: fc.integer({ min: -20, max: 20 }),
    channels: fc.uniqueArray(channel, { minLength: 1, maxLength: 5, selector: (c) => c.name }),
    compression: fc.constantFrom('none' as const, 'rle' as const, 'zips' as const, 'zip' as const, 'piz' as const),
    tile: fc.option(fc.integer({ min: 1, max: 30 }), { nil: undefined }),
    seed: fc.integer({ min: 1, max: 1 << 30 }),
  });
  await fc.assert(
    fc.asyncProperty(picture, async ({ width, height, x, y, channels, compression, tile: wanted, seed }) => {
      // At most a hundred tiles, so that one picture takes no longer than the others; single pixels where it is small.
      const tile = wanted === undefined ? undefined : Math.max(wanted, Math.ceil(Math.max(width, height) / 10));
      let state = seed;
      const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0);
      const planes = channels.map((c: { type: SampleType }): Plane => {
        const plane = newPlane(c, width * height);
        const raw = new Uint8Array(plane.buffer);
        // Half of them smooth, half of them any bits: NaN, infinities and subnormals come back as they are.
        const wild = (next() & 256) !== 0;
        for (let i = 0; i < raw.length; i++) raw[i] = wild ? next() >>> 24 : (i >> 4) & 63;
        return plane;
      });
      const window = { xMin: x, yMin: y, xMax: x + width - 1, yMax: y + height - 1 };
      const sink = memorySink();
      const tiles = tile === undefined ? {} : { tiles: { width: tile, height: tile } };
      await writeExr(
        sink,
        [{ compression, dataWindow: window, displayWindow: window, channels, ...tiles }],
        (_, top, bottom) => planes.map((p) => p.subarray((top - y) * width, (bottom + 1 - y) * width)),
        nodeCodec,
      );
      const file = await openExr(memorySource(sink.bytes()));
      const names = channels.map((c) => c.name);
      const read = await readChannels(file, 0, names, nodeCodec);
      expect(read.missing).toEqual([]);
      read.planes.forEach((p, c) => expect([names[c], sameBits(p, planes[c]!)]).toEqual([names[c], true]));
    }),
    { numRuns: 120 },
  );
});
