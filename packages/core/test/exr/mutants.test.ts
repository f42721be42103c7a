import { beforeAll, describe, expect, test } from '@jest/globals';
import { codecHeap } from '../../src/exr/codec/codecKernels.ts';
import { openExr } from '../../src/exr/header.ts';
import { readChannels } from '../../src/exr/read.ts';
import { newPlane } from '../../src/exr/plane.ts';
import { compressions, type Compression } from '../../src/exr/types.ts';
import { writeExr } from '../../src/exr/write.ts';
import { memorySink, memorySource, nodeCodec } from './surroundings.ts';

// 20,000 damaged files, from a seed: every one must end in a picture, a picture with missing lines, or an ExrError;
// none may take two seconds or grow the codec memory to a gibibyte.
const mutantsOfEach = 1000;
const window = { xMin: -3, yMin: 2, xMax: 44, yMax: 41 };
const channels = [
  { name: 'R', type: 'half' as const },
  { name: 'G', type: 'half' as const },
  { name: 'B', type: 'half' as const },
  { name: 'A', type: 'half' as const },
  { name: 'Z', type: 'float' as const },
  { name: 'id', type: 'uint' as const },
];

async function sound(compression: Compression, tiled: boolean): Promise<Uint8Array> {
  const sink = memorySink();
  const planes = channels.map((c, k) => {
    const plane = newPlane(c, 48 * 40);
    return plane.map((_, i) =>
      c.type === 'float' ? Math.sin(i / 9) : c.type === 'half' ? 0x3000 + ((i * (k + 3)) % 1500) : i >> 3,
    ) as typeof plane;
  });
  await writeExr(
    sink,
    [
      {
        compression,
        dataWindow: window,
        displayWindow: window,
        channels,
        ...(tiled ? { tiles: { width: 20, height: 16 } } : {}),
      },
    ],
    (_, top, bottom) => planes.map((p) => p.subarray((top - window.yMin) * 48, (bottom + 1 - window.yMin) * 48)),
    nodeCodec,
  );
  return sink.bytes();
}

function mutant(bytes: Uint8Array, next: () => number): Uint8Array {
  const cut = next() % 8 === 0 ? next() % bytes.length : bytes.length;
  const out = bytes.slice(0, cut);
  // Headers and tables lie in front and matter most; the rest falls anywhere.
  for (let k = 0; k < 1 + (next() % 4) && out.length; k++) {
    const at = next() % (next() & 1 ? Math.min(out.length, 900) : out.length);
    const kind = next() % 4;
    out[at] = kind === 0 ? next() & 255 : kind === 1 ? 0xff : kind === 2 ? 0 : out[at]! ^ (1 << (next() & 7));
  }
  return out;
}

describe.each(compressions)('mutants of %s', (compression) => {
  const seeds: Uint8Array[] = [];
  beforeAll(async () => {
    seeds.push(await sound(compression, false), await sound(compression, true));
  });

  test('end in a picture or a sentence', async () => {
    let state = 77 + compressions.indexOf(compression);
    const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 8;
    const ends = { whole: 0, partly: 0, refused: 0 };
    for (const seed of seeds) {
      for (let i = 0; i < mutantsOfEach; i++) {
        const bytes = mutant(seed, next);
        const started = process.cpuUsage();
        try {
          const file = await openExr(memorySource(bytes));
          const { missing } = await readChannels(
            file,
            0,
            file.parts[0]!.channels.map((c) => c.name),
            nodeCodec,
          );
          ends[missing.length ? 'partly' : 'whole']++;
        } catch (error) {
          if ((error as Error).name !== 'ExrError') throw error;
          ends.refused++;
        }
        expect(process.cpuUsage(started).user / 1000).toBeLessThan(2000);
      }
    }
    expect(codecHeap().kernels.memory.buffer.byteLength).toBeLessThan(2 ** 30);
    // Each kind of end is met: the mutants are neither all harmless nor all hopeless.
    expect(Math.min(ends.whole, ends.partly, ends.refused)).toBeGreaterThan(20);
  });
});
