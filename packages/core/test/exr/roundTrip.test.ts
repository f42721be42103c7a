import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { splitBytes, packRuns } from '../../src/exr/codec/bytes.ts';
import { codecHeap } from '../../src/exr/codec/codecKernels.ts';
import { packHuffman } from '../../src/exr/codec/packHuffman.ts';
import { openExr } from '../../src/exr/header.ts';
import { newPlane, readChannels, type Plane } from '../../src/exr/read.ts';
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
