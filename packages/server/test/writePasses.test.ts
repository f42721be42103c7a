import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  builtinColour,
  compilePlan,
  findSpace,
  ShotColour,
  writeExr,
  type ExrAttribute,
  type Layering,
  type PassChannel,
  type Plane,
} from '@june-haze/core';
import { writeWhole, zlibCodec } from '@june-haze/files';
import type { PassToWrite } from '../src/compute/passesToWrite.ts';
import { writeFrame } from '../src/compute/writeFrame.ts';
import { writePasses, type PassesTask } from '../src/compute/writePasses.ts';
import { masterSettings, plainViewing } from './landing.ts';

// What is packed anew is read by the reference image library, from the source and from what was written: the same samples, channel by channel.

let folder: string;
const [width, height] = [24, 10];
const colour = new ShotColour();
const source = () => join(folder, 'source.exr');

/** Samples with negatives, infinities and numbers that are none among them. */
const halves = (seed: number) =>
  Uint16Array.from({ length: width * height }, (_, i) => (Math.imul(i + seed * 977, 2654435761) >>> 13) & 0xffff);
const floats = () => Float32Array.from({ length: 16 * 6 }, (_, i) => (i % 7 === 0 ? Infinity : (i * 1.37 - 40) ** 3));

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'june-passes-'));
  const text = (value: string): ExrAttribute => ({ type: 'string', value });
  const display = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const names = ['R', 'G', 'B', 'A', 'crypto_object00.R', 'crypto_object00.G'];
  const planes: Plane[][] = [names.map((_, i) => halves(i) as Plane), [floats()]];
  await writeWhole(source(), (sink) =>
    writeExr(
      sink,
      [
        {
          name: 'light',
          compression: 'piz',
          dataWindow: display,
          displayWindow: display,
          channels: names.map((name) => ({ name, type: 'half' as const })),
          attributes: {
            'cryptomatte/d593dd7/name': text('crypto_object'),
            'cryptomatte/d593dd7/manifest': text('{"kettle":"1a2b3c4d"}'),
            capDate: text('2026:06:01 05:00:00'),
            timeCode: { type: 'timecode', value: [0x10203040 >>> 0, 0] },
          },
        },
        {
          name: 'far',
          compression: 'zips',
          dataWindow: { xMin: 4, yMin: 2, xMax: 19, yMax: 7 },
          displayWindow: display,
          channels: [{ name: 'Z', type: 'float' }],
        },
      ],
      (part, top, bottom) => {
        const [first, wide] = part === 0 ? [0, width] : [2, 16];
        return planes[part]!.map((p) => p.subarray((top - first) * wide, (bottom - first + 1) * wide) as Plane);
      },
      zlibCodec,
    ),
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

const channels = (...names: string[]): PassChannel[] =>
  names.map((name) => ({ name, component: name.split('.').at(-1)!, type: 'half' }));
const pass = (name: string, part: number, ...own: string[]): PassToWrite => ({
  name,
  owner: 'landing',
  path: source(),
  fileName: 'source.exr',
  part,
  channels: channels(...own),
  space: 'ACEScg',
  isData: name !== 'beauty',
});
const all = () => [
  pass('beauty', 0, 'R', 'G', 'B', 'A'),
  pass('depth', 1, 'Z'),
  pass('crypto_object00', 0, 'crypto_object00.R', 'crypto_object00.G'),
];
const task = (layering: Layering, names: string[], change: Partial<PassesTask> = {}): PassesTask => ({
  passes: all(),
  mattes: [],
  paths: names.map((n) => join(folder, n)),
  layering,
  compression: 'zip',
  colour,
  width,
  height,
  rate: 24,
  timecode: { frame: 1001, isAsked: false },
  words: { owner: 'the ferry landing', comments: '' },
  ...change,
});

/** Every channel of every part over the display window, as bytes in hexadecimal, by the reference image library; and what it says. */
function read(path: string): { channels: Record<string, string>; says: Record<string, unknown>[] } {
  const script = `
import sys, json, numpy, OpenImageIO as o
channels, says = {}, []
i = o.ImageInput.open(sys.argv[1]); n = 0
while i.seek_subimage(n, 0):
    s = i.spec(n)
    b = o.ImageBuf(sys.argv[1], n, 0)
    roi = o.ROI(0, s.full_width, 0, s.full_height)
    for c, name in enumerate(s.channelnames):
        p = b.get_pixels(o.FLOAT, o.ROI(0, s.full_width, 0, s.full_height, 0, 1, c, c + 1))
        channels[name] = numpy.ascontiguousarray(p, dtype='<f4').tobytes().hex()
    says.append({a.name: str(a.value) for a in s.extra_attribs})
    n += 1
print(json.dumps(dict(channels=channels, says=says)))`;
  return JSON.parse(
    execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8', maxBuffer: 1e8 }),
  ) as ReturnType<typeof read>;
}

describe('passes as they came', () => {
  test.each([
    ['together', ['together.exr']],
    ['parts', ['parts.exr']],
    ['files', ['beauty.exr', 'depth.exr', 'crypto.exr']],
  ] as const)('%s: every sample is the source’s, the reference image library says', async (layering, names) => {
    const found = await writePasses(task(layering, [...names]));
    expect(found).toMatchObject({ channels: 7, other: 0 });
    const came = read(source()).channels;
    const written = Object.assign({}, ...names.map((n) => read(join(folder, n)).channels)) as typeof came;
    expect(Object.keys(written).sort()).toEqual(Object.keys(came).sort());
    for (const [name, bytes] of Object.entries(came)) expect(written[name] === bytes).toBe(true);
  });

  test('names behind IDs go with them, and with them alone; what the source says stays', async () => {
    await writePasses(task('parts', ['said.exr']));
    const [beauty, depth, ids] = read(join(folder, 'said.exr')).says as Record<string, string>[];
    expect(ids).toMatchObject({
      'cryptomatte/d593dd7/manifest': '{"kettle":"1a2b3c4d"}',
      Copyright: 'the ferry landing',
    });
    expect(beauty!['cryptomatte/d593dd7/manifest']).toBeUndefined();
    expect(beauty).toMatchObject({ DateTime: '2026:06:01 05:00:00', colorInteropID: findSpace('ACEScg')!.interopId });
    expect(depth!.colorInteropID).toBeUndefined();
    // The time that the file came with stands, unless another is asked for.
    expect(beauty!['smpte:TimeCode']).toBeDefined();
    await writePasses(task('parts', ['asked.exr'], { timecode: { frame: 86_400, isAsked: true } }));
    const asked = (read(join(folder, 'asked.exr')).says[0] as Record<string, string>)['smpte:TimeCode'];
    expect(asked).toMatch(/01:00:00:00|^\(?16777216/);
    expect(asked).not.toBe(beauty!['smpte:TimeCode']);
  });

  test('names that lie in a file beside the source are in what is written', async () => {
    const path = join(folder, 'beside.exr');
    writeFileSync(join(folder, 'names.json'), '{"lamp":"00000002"}');
    const box = { xMin: 0, yMin: 0, xMax: 1, yMax: 0 };
    const attributes = {
      'cryptomatte/d593dd7/name': { type: 'string', value: 'crypto_object' },
      'cryptomatte/d593dd7/manif_file': { type: 'string', value: 'names.json' },
    };
    const channel = { name: 'crypto_object00.R', type: 'float' as const };
    const part = { compression: 'none' as const, dataWindow: box, displayWindow: box, channels: [channel], attributes };
    await writeWhole(path, (sink) => writeExr(sink, [part], () => [new Float32Array(2) as Plane], zlibCodec));
    const ids = { ...pass('crypto_object00', 0, 'crypto_object00.R'), path, fileName: 'beside.exr' };
    await writePasses(task('together', ['named.exr'], { passes: [ids] }));
    const [says] = read(join(folder, 'named.exr')).says as Record<string, string>[];
    expect(says!['cryptomatte/d593dd7/manifest']).toBe('{"lamp":"00000002"}');
    expect(says).not.toHaveProperty('cryptomatte/d593dd7/manif_file');
  });

  test('what is not there is said by name, and nothing is left behind', async () => {
    const gone = task('together', ['gone.exr'], { passes: [pass('rim', 0, 'rim.R')] });
    await expect(writePasses(gone)).rejects.toThrow(/source\.exr: the pass "rim" is not in this frame/);
  });
});

describe('as an output', () => {
  test('with a matte of the ledger: proved, and the matte is what it is', async () => {
    const ledger = {
      version: 2 as const,
      entries: [
        {
          ...{ id: 'm', name: 'half', kind: 'fill' as const, enabled: true, operation: 'plus' as const },
          ...{ mix: 1, adjustments: [], colour: [0.25, 1, 1] as [number, number, number], alpha: 1 },
        },
      ],
    };
    const plan = compilePlan(ledger, [], 'ACEScg', colour);
    const { readBack, written } = await writeFrame({
      plan,
      files: {},
      workingSpace: 'ACEScg',
      viewing: plainViewing,
      colour: { key: builtinColour, folder },
      rate: 24,
      timecode: 1001,
      seed: 1001,
      settings: { ...masterSettings, kind: 'passes', layering: 'files' },
      width,
      height,
      path: join(folder, 'out_beauty.exr'),
      passes: {
        passes: [all()[0]!],
        mattes: [{ name: 'half', plan, files: {} }],
        paths: ['out_beauty.exr', 'out_half.exr'].map((n) => join(folder, n)),
      },
      pictures: join(folder, 'pictures'),
    });
    expect(readBack).toMatchObject({ proved: true, tagged: { maxCode: 0 } });
    expect(readBack!.judged).toBe('5 channels, all 1200 samples as they came, to the bit');
    expect(written!.others).toHaveLength(1);
    const { channels: matte } = read(join(folder, 'out_half.exr'));
    expect(Object.keys(matte)).toEqual(['half.matte']);
    // 0.25 as a little-endian float of four bytes.
    expect(matte['half.matte']!.slice(0, 16)).toBe('0000803e0000803e');
  });
});
