import { readFileSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { tableLevels, tileLayout } from '../../src/exr/geometry.ts';
import { openExr } from '../../src/exr/header.ts';
import { offeredChannels, readOffered } from '../../src/exr/lumaChroma.ts';
import { readChannels } from '../../src/exr/read.ts';
import { type Plane } from '../../src/exr/plane.ts';
import { compressions, type ExrFile } from '../../src/exr/types.ts';
import { halfToNumber } from '../../src/image/half.ts';
import { writeExr, type PartToWrite } from '../../src/exr/write.ts';
import { buildCorpusTool, Dump, sameBits } from './corpusTool.ts';
import { memorySink, memorySource, nodeCodec } from './surroundings.ts';

let tool: ReturnType<typeof buildCorpusTool>;
let files: string[];
beforeAll(() => {
  tool = buildCorpusTool();
  files = tool.make();
});
afterAll(() => tool.close());

const open = (path: string) => openExr(memorySource(readFileSync(path), basename(path)));

/** All planes of a file, level by level, in the order the library dumps them. */
async function* planesOf(file: ExrFile): AsyncGenerator<{ where: string; name: string; plane: Plane }> {
  for (const part of file.parts) {
    const layout = tileLayout(part);
    for (const level of layout ? tableLevels(layout, part.dataWindow) : [[0, 0] as const]) {
      const names = part.channels.map((c) => c.name);
      const { planes, missing } = await readChannels(file, part.index, names, nodeCodec, { level });
      if (missing.length) throw new Error(`lines ${JSON.stringify(missing)} are missing`);
      for (const [c, plane] of planes.entries())
        yield { where: `part ${part.index}, level ${level.join()}`, name: names[c]!, plane };
    }
  }
}

const numbers = (p: Plane): number[] => (p instanceof Uint16Array ? Array.from(p, halfToNumber) : Array.from(p));

/**
 * Lossy DCT channels may differ by one half step on DWA's perceptual scale: relative 3e-3 up to 9, as the step of a half is 2^-11
 * relative to 2^-10 and the curve's exponent 2.2 multiplies it (worked out), plus the rounding of the result; larger above.
 */
function farFromLossy(a: Plane, b: Plane): { share: number; worst: number } {
  const [x, y] = [numbers(a), numbers(b)];
  let [different, worst] = [0, 0];
  x.forEach((v, i) => {
    const w = y[i]!;
    if (Object.is(v, w)) return;
    different++;
    const size = Math.max(Math.abs(v), 1e-3);
    worst = Math.max(worst, Math.abs(v - w) / size / (size > 9 ? 2 : 1));
  });
  // One stray sample of a small plane is no share.
  return { share: (different - 1) / x.length, worst };
}

describe('files of the reference library, codec by codec', () => {
  test.each(compressions)('%s', async (codec) => {
    const mine = files.filter((f) => basename(f).startsWith(`${codec}_`));
    expect(mine.length).toBeGreaterThan(20);
    let planes = 0;
    for (const path of mine) {
      const dump = new Dump(path);
      for await (const { where, name, plane } of planesOf(await open(path))) {
        planes++;
        const wanted = dump.next(plane);
        if (sameBits(plane, wanted)) continue;
        const far = codec.startsWith('dwa') ? farFromLossy(wanted, plane) : { share: 1, worst: Infinity };
        expect({ file: basename(path), where, name, ...far, fine: far.share < 0.02 && far.worst < 6e-3 }).toMatchObject(
          {
            fine: true,
          },
        );
      }
      expect([basename(path), dump.rest]).toEqual([basename(path), 0]);
    }
    expect(planes).toBeGreaterThan(200);
  });
});

const lossless = ['none', 'rle', 'zips', 'zip', 'piz'];

describe('our files, read by the reference library', () => {
  test.each(compressions)(
    '%s: lines, tiles and parts of mixed types read back the same there and here',
    async (codec) => {
      const sources = [
        'none_mixed',
        'none_window_negative',
        'none_parts',
        'none_one_pixel',
        'none_names',
        'none_linear',
      ];
      const written: { path: string; planes: Plane[] }[] = [];
      for (const name of sources) {
        const file = await open(join(tool.folder, `${name}.exr`));
        const planes: Plane[] = [];
        for await (const { plane } of planesOf(file)) planes.push(plane);
        for (const tiles of [undefined, { width: 20, height: 24 }]) {
          const path = join(tool.folder, `ours_${codec}_${name}${tiles ? '_tiles' : ''}.exr`);
          writeFileSync(path, await rewrite(file, planes, codec, tiles));
          written.push({ path, planes });
        }
      }
      tool.check(written.map((w) => w.path));
      tool.dump(written.map((w) => w.path));
      for (const { path, planes } of written) {
        const dump = new Dump(path);
        let at = 0;
        for await (const { where, name, plane } of planesOf(await open(path))) {
          const there = dump.next(plane);
          const label = `${basename(path)} ${where} ${name}`;
          const original = planes[at++]!;
          if (lossless.includes(codec)) expect([label, sameBits(plane, original)]).toEqual([label, true]);
          if (codec.startsWith('dwa')) expect([label, farFromLossy(there, plane).worst < 6e-3]).toEqual([label, true]);
          else expect([label, sameBits(plane, there)]).toEqual([label, true]);
        }
        expect([at, dump.rest]).toEqual([planes.length, 0]);
      }
    },
  );
});

async function rewrite(
  file: ExrFile,
  planes: readonly Plane[],
  compression: (typeof compressions)[number],
  tiles: PartToWrite['tiles'],
): Promise<Uint8Array> {
  const sink = memorySink();
  let before = 0;
  const starts = file.parts.map((p) => (before += p.channels.length) - p.channels.length);
  const parts = file.parts.map((p): PartToWrite => ({
    name: p.name || 'only',
    compression,
    dataWindow: p.dataWindow,
    displayWindow: p.displayWindow,
    channels: p.channels,
    ...(tiles ? { tiles } : {}),
  }));
  await writeExr(
    sink,
    parts,
    (index, top, bottom) => {
      const { dataWindow, channels } = file.parts[index]!;
      const width = dataWindow.xMax - dataWindow.xMin + 1;
      const cut = (p: Plane) => p.subarray((top - dataWindow.yMin) * width, (bottom + 1 - dataWindow.yMin) * width);
      return channels.map((_, c) => cut(planes[starts[index]! + c]!));
    },
    nodeCodec,
  );
  return sink.bytes();
}

describe('lossy packing stays close to what was given', () => {
  // Bounds: PXR24 keeps 15 fraction bits; B44 six-bit steps within a block; DWA the strength of its default level, seen by eye as lossless
  // (common practice, no source): here a smooth ramp, where all of them must be fine.
  test.each([
    ['pxr24', 2 ** -16],
    ['b44', 0.02],
    ['b44a', 0.02],
    ['dwaa', 0.02],
    ['dwab', 0.02],
  ] as const)('%s', async (compression, bound) => {
    const window = { xMin: 0, yMin: 0, xMax: 63, yMax: 63 };
    const type = compression === 'pxr24' ? 'float' : 'half';
    const ramp = Float32Array.from({ length: 4096 }, (_, i) => 0.2 + (i % 64) / 100 + Math.floor(i / 64) / 200);
    const halves = Uint16Array.from(ramp, (v) => halfBits(v));
    const plane: Plane = type === 'float' ? ramp : halves;
    const sink = memorySink();
    const channels = ['R', 'G', 'B'].map((name) => ({ name, type }) as const);
    await writeExr(
      sink,
      [{ compression, dataWindow: window, displayWindow: window, channels }],
      (_, top, bottom) => channels.map(() => plane.subarray(top * 64, (bottom + 1) * 64)),
      nodeCodec,
    );
    const bytes = sink.bytes();
    expect(bytes.length).toBeLessThan(3 * plane.byteLength);
    const { planes } = await readChannels(await openExr(memorySource(bytes)), 0, ['R', 'G', 'B'], nodeCodec);
    for (const p of planes) numbers(p).forEach((v, i) => expect(Math.abs(v - ramp[i]!) / ramp[i]!).toBeLessThan(bound));
  });
});

function halfBits(v: number): number {
  const exponent = Math.floor(Math.log2(v));
  return ((exponent + 15) << 10) | Math.round((v / 2 ** exponent - 1) * 1024);
}

describe('luma and sub-sampled colour differences become RGB', () => {
  // The library rebuilds with the same filter and calms saturated outliers; results may differ by its roundings to half.
  test.each(['none', 'zip', 'piz'])('%s', async (codec) => {
    const path = join(tool.folder, `${codec}_lumachroma.exr`);
    const file = await open(path);
    expect(offeredChannels(file.parts[0]!).map((c) => c.name)).toEqual(['A', 'R', 'G', 'B']);
    const { planes } = await readOffered(file, 0, ['R', 'G', 'B', 'A'], nodeCodec);
    const wanted = new Uint16Array(new Uint8Array(readFileSync(`${path}.rgba`)).buffer);
    let [worst, beyond] = [0, 0];
    planes.forEach((p, c) =>
      numbers(p).forEach((v, i) => {
        const far = Math.abs(v - halfToNumber(wanted[i * 4 + c]!)) / 0.2;
        worst = Math.max(worst, far);
        if (far > 2e-3) beyond++;
      }),
    );
    expect(worst).toBeLessThan(1e-2);
    expect(beyond / wanted.length).toBeLessThan(1e-2);
    const region = { xMin: 5, yMin: 7, xMax: 20, yMax: 9 };
    const cut = await readOffered(file, 0, ['G'], nodeCodec, { region });
    expect(cut.planes[0]![0]).toBe(planes[1]![7 * 62 + 5]);
    await expect(readOffered(file, 0, ['RY'], nodeCodec)).rejects.toThrow('is read as A, R, G, B, not as "RY"');
  });
});

test('a deep file opens with its header; its pixels are refused by name', async () => {
  const file = await open(join(tool.folder, 'deep.exr'));
  expect(file.parts.map((p) => [p.type, p.compression, p.channels.map((c) => c.name)])).toEqual([
    ['deepscanline', 'zips', ['Z']],
  ]);
  await expect(readChannels(file, 0, ['Z'], nodeCodec)).rejects.toThrow(
    'deep.exr: deep pixels cannot be read, only their header.',
  );
});
