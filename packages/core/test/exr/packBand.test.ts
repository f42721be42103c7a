import { describe, expect, test } from '@jest/globals';
import { packBand, type BandToPack, type PackedBand } from '../../src/exr/codec/packBand.ts';
import { newPlane } from '../../src/exr/plane.ts';
import { compressions, type Compression } from '../../src/exr/types.ts';
import { writeExr, type PartToWrite } from '../../src/exr/write.ts';
import { memorySink, nodeCodec } from './surroundings.ts';

const channels = [
  { name: 'G', type: 'half' as const },
  { name: 'B', type: 'half' as const },
  { name: 'Z', type: 'float' as const },
];

function part(compression: Compression, width: number, height: number, more: Partial<PartToWrite> = {}): PartToWrite {
  const window = { xMin: -5, yMin: 3, xMax: width - 6, yMax: height + 2 };
  return { compression, dataWindow: window, displayWindow: window, channels, ...more };
}

/** The bytes of a file, and the bands that were packed elsewhere. */
async function written(parts: readonly PartToWrite[], elsewhere: boolean) {
  const sink = memorySink();
  const bands: BandToPack[] = [];
  const pack = (band: BandToPack): Promise<PackedBand> => {
    bands.push(band);
    // As another thread gets it; the later ones are done sooner.
    const sent = structuredClone(band);
    return new Promise((done) => setTimeout(() => done(packBand(sent, nodeCodec)), 20 - 4 * (bands.length % 5)));
  };
  const lines = (index: number, top: number, bottom: number) => {
    const { dataWindow } = parts[index]!;
    const width = dataWindow.xMax - dataWindow.xMin + 1;
    return channels.map((c, k) =>
      newPlane(c, width * (bottom - top + 1)).map((_, i) => {
        const [x, y] = [i % width, top + Math.floor(i / width)];
        return c.type === 'float' ? Math.sin(x / 9 + y) : 0x3000 + ((x * (k + 3) + y * 17 + index) % 1500);
      }),
    );
  };
  await writeExr(sink, parts, lines, nodeCodec, elsewhere ? { pack, ahead: 4 } : {});
  return { bytes: Buffer.from(sink.bytes()), bands };
}

describe('packed elsewhere', () => {
  test.each(compressions)('%s is the same to the byte, lines, tiles and parts', async (codec) => {
    for (const parts of [
      [part(codec, 48, 40)],
      [part(codec, 48, 40, { tiles: { width: 20, height: 16 } })],
      [part(codec, 48, 40, { name: 'one' }), part(codec, 30, 7, { name: 'two', tiles: { width: 16, height: 4 } })],
    ]) {
      const here = await written(parts, false);
      const there = await written(parts, true);
      expect(there.bytes.equals(here.bytes)).toBe(true);
      expect(there.bands.length > 0).toBe(codec !== 'none');
    }
  });

  test('many lines go over together, but no more than fit', async () => {
    // 8 bytes a pixel: 16,000 a line, 98 lines in one and a half megabytes.
    const parts = [part('zips', 2000, 250)];
    const there = await written(parts, true);
    expect(there.bands.map((b) => b.chunks.length)).toEqual([98, 98, 54]);
    expect(there.bands[1]!.chunks[0]!.box.yMin).toBe(3 + 98);
    expect(there.bytes.equals((await written(parts, false)).bytes)).toBe(true);
  });
});
