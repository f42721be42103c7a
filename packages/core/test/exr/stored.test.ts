import { describe, expect, test } from '@jest/globals';
import { openExr } from '../../src/exr/header.ts';
import { readChannels } from '../../src/exr/read.ts';
import { newPlane } from '../../src/exr/plane.ts';
import type { ByteSource } from '../../src/exr/types.ts';
import { writeExr } from '../../src/exr/write.ts';
import { memorySink, memorySource, nodeCodec } from './surroundings.ts';

const window = { xMin: -3, yMin: 2, xMax: 44, yMax: 61 };
const [width, height] = [48, 60];
const channels = [
  { name: 'A', type: 'half' as const },
  { name: 'B', type: 'half' as const },
  { name: 'G', type: 'half' as const },
  { name: 'R', type: 'half' as const },
  { name: 'Z', type: 'float' as const },
  { name: 'id', type: 'uint' as const },
];
const planes = channels.map((c, k) =>
  newPlane(c, width * height).map((_, i) => (c.type === 'float' ? i / 9 : 0x3000 + ((i * (k + 3)) % 1500))),
);

async function stored(parts = 1): Promise<Uint8Array> {
  const sink = memorySink();
  const part = { compression: 'none' as const, dataWindow: window, displayWindow: window, channels };
  await writeExr(
    sink,
    Array.from({ length: parts }, (_, i) => ({ ...part, ...(parts > 1 ? { name: `part${i}` } : {}) })),
    (_, top, bottom) => planes.map((p) => p.subarray((top - window.yMin) * width, (bottom + 1 - window.yMin) * width)),
    nodeCodec,
  );
  return sink.bytes();
}

/** A source that puts bytes where they are wanted, and counts how often it is asked to. */
function scattering(bytes: Uint8Array): ByteSource & { asked: number } {
  const plain = memorySource(bytes);
  return {
    ...plain,
    asked: 0,
    readInto(offset, pieces) {
      this.asked++;
      let at = offset;
      for (const piece of pieces) {
        if (at + piece.length > bytes.length) throw new Error('beyond the end');
        piece.set(bytes.subarray(at, at + piece.length));
        at += piece.length;
      }
      return Promise.resolve();
    },
  };
}

async function bothWays(bytes: Uint8Array, names: readonly string[], more: object = {}, part = 0) {
  const read = async (source: ByteSource) => readChannels(await openExr(source), part, names, nodeCodec, more);
  const source = scattering(bytes);
  return { straight: await read(source), plain: await read(memorySource(bytes)), asked: source.asked };
}

describe('lines that are stored as they are go straight into the planes', () => {
  test.each([[['R', 'G', 'B', 'A', 'Z', 'id']], [['Z']], [['id', 'B']]])(
    '%j: every sample as by the usual way',
    async (names) => {
      const { straight, plain, asked } = await bothWays(await stored(), names);
      expect(asked).toBeGreaterThan(0);
      expect(straight).toEqual(plain);
      const at = names.map((n) => planes[channels.findIndex((c) => c.name === n)]!);
      expect(straight.planes.map((p) => [...p])).toEqual(at.map((p) => [...p]));
    },
  );

  test('some lines, of one of two parts', async () => {
    const region = { ...window, yMin: 20, yMax: 33 };
    const { straight, plain, asked } = await bothWays(await stored(2), ['G', 'Z'], { region }, 1);
    expect(asked).toBeGreaterThan(0);
    expect(straight).toEqual(plain);
  });

  test('part of a line, or a channel asked for twice, is read the usual way', async () => {
    const bytes = await stored();
    const cut = await bothWays(bytes, ['G'], { region: { ...window, xMin: 0 } });
    const twice = await bothWays(bytes, ['G', 'G']);
    for (const { straight, plain, asked } of [cut, twice]) {
      expect(asked).toBe(0);
      expect(straight).toEqual(plain);
    }
  });

  test('more channels than one call takes pieces are read the usual way', async () => {
    const many = Array.from({ length: 1100 }, (_, i) => ({
      name: `c${String(i).padStart(4, '0')}`,
      type: 'half' as const,
    }));
    const box = { xMin: 0, yMin: 0, xMax: 3, yMax: 1 };
    const sink = memorySink();
    const part = { compression: 'none' as const, dataWindow: box, displayWindow: box, channels: many };
    const lines = (_: number, top: number) => many.map((__, k) => Uint16Array.of(k, k + 1, k + 2, top));
    await writeExr(sink, [part], lines, nodeCodec);
    const { straight, plain, asked } = await bothWays(
      sink.bytes(),
      many.map((c) => c.name),
    );
    expect(asked).toBe(0);
    expect(straight.planes.map((p) => p[2])).toEqual(many.map((_, k) => k + 2));
    expect(plain.missing).toEqual([]);
  });

  test('damaged and cut files: the same lines are missing and 0, though their bytes were put there first', async () => {
    const sound = await stored();
    const first = (await openExr(memorySource(sound))).parts[0]!.offsets[0]!;
    let seed = 7;
    const next = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) >>> 8;
    let lost = 0;
    for (let i = 0; i < 300; i++) {
      const bytes = sound.slice(0, i % 3 ? sound.length : first + (next() % (sound.length - first)));
      // The heads of chunks, where their line and length stand.
      const line = 8 + width * (4 * 2 + 4 + 4);
      for (let k = 0; k < 3; k++) bytes[first + (next() % height) * line + (next() % 8)] = next() & 255;
      const names = ['R', 'Z'];
      const read = async (source: ByteSource) => readChannels(await openExr(source), 0, names, nodeCodec);
      const straight = await read(scattering(bytes));
      const plain = await read(memorySource(bytes));
      expect({ i, missing: straight.missing }).toEqual({ i, missing: plain.missing });
      const same = straight.planes.map((p, k) => Buffer.from(p.buffer).equals(Buffer.from(plain.planes[k]!.buffer)));
      expect({ i, same }).toEqual({ i, same: [true, true] });
      lost += straight.missing.length;
    }
    expect(lost).toBeGreaterThan(300);
  });
});
