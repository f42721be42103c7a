import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { ap1 } from '../../src/colour/primaries.ts';
import { openExr } from '../../src/exr/header.ts';
import { readChannels } from '../../src/exr/read.ts';
import { newPlane } from '../../src/exr/plane.ts';
import { writeExr, type PartToWrite } from '../../src/exr/write.ts';
import { findPasses } from '../../src/sequence/passes.ts';
import { memorySink, memorySource, nodeCodec, widen } from './surroundings.ts';

// The measure here is the OpenEXR library itself (Debian's packages), writing and reading through OpenImageIO.
const folder = mkdtempSync(join(tmpdir(), 'june-exr-'));
const script = join(process.cwd(), 'packages/core/test/exr/reference.py');
const python = (...args: string[]) => execFileSync('/usr/bin/python3', [script, ...args]).toString();
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Job {
  file: string;
  width: number;
  height: number;
  x: number;
  y: number;
  full: number[];
  compression: string;
  parts: { name: string; channels: string[]; types: string[]; seed: number }[];
}

const layers = ['R', 'G', 'B', 'A', 'diffuse.R', 'diffuse.G', 'diffuse.B', 'Z'];
const jobs: Job[] = [];
for (const compression of ['none', 'rle', 'zips', 'zip']) {
  for (const type of ['half', 'float', 'uint']) {
    const job = { width: 61, height: 45, x: 0, y: 0, full: [0, 0, 61, 45], compression };
    jobs.push({
      ...job,
      file: join(folder, `${compression}_${type}.exr`),
      parts: [{ name: '', channels: layers, types: layers.map(() => type), seed: 3 }],
    });
  }
  const mixed = layers.map((c) => (c === 'Z' ? 'float' : 'half'));
  const windows = [
    [-7, 5, 40, 20, 0, 0, 64, 48],
    [3, -2, 1, 1, 0, 0, 8, 8],
    [10, 10, 33, 37, 0, 0, 20, 20],
  ];
  windows.forEach(([x, y, width, height, ...full], i) => {
    jobs.push({
      file: join(folder, `${compression}_window${i}.exr`),
      width: width!,
      height: height!,
      x: x!,
      y: y!,
      full,
      compression,
      parts: [{ name: '', channels: layers, types: mixed, seed: 4 + i }],
    });
  });
  jobs.push({
    file: join(folder, `${compression}_parts.exr`),
    width: 50,
    height: 34,
    x: 0,
    y: 0,
    full: [0, 0, 50, 34],
    compression,
    parts: [
      { name: 'beauty', channels: ['R', 'G', 'B', 'A'], types: ['half', 'half', 'half', 'half'], seed: 8 },
      { name: 'sun light', channels: ['R', 'G', 'B'], types: ['half', 'half', 'half'], seed: 9 },
      { name: 'depth', channels: ['Z'], types: ['float'], seed: 10 },
    ],
  });
}

interface Spec {
  channels: string[];
  window: number[];
  full: number[];
  compression: string;
  chromaticities: number[];
}
let specsOf: Spec[][] = [];
const floatsOf = (file: string) => new Float32Array(new Uint8Array(readFileSync(`${file}.f32`)).buffer);

beforeAll(() => {
  writeFileSync(join(folder, 'jobs.json'), JSON.stringify(jobs));
  python('write', join(folder, 'jobs.json'));
  specsOf = JSON.parse(python('read', ...jobs.map((j) => j.file))) as Spec[][];
});

describe('files made by the reference library read bit-equal', () => {
  for (const [number, job] of jobs.entries()) {
    test(job.file.split('/').at(-1)!, async () => {
      const specs = specsOf[number]!;
      const want = floatsOf(job.file);
      const file = await openExr(memorySource(readFileSync(job.file), job.file));
      expect(file.parts).toHaveLength(job.parts.length);
      let at = 0;
      for (const [index, spec] of specs.entries()) {
        const { planes, missing, region } = await readChannels(file, index, spec.channels, nodeCodec);
        expect(missing).toEqual([]);
        expect([region.xMin, region.yMin]).toEqual(spec.window.slice(0, 2));
        const floats = planes.map(widen);
        for (let i = 0; i < floats[0]!.length; i++) {
          for (let c = 0; c < floats.length; c++, at++)
            if (!Object.is(floats[c]![i], want[at]))
              throw new Error(`part ${index} ${spec.channels[c]} sample ${i}: ${floats[c]![i]} is not ${want[at]}`);
        }
      }
      expect(at).toBe(want.length);
    });
  }
});

test('three channels of one part touch only that part’s chunks, a region only its lines', async () => {
  const job = jobs.find((j) => j.file.endsWith('none_parts.exr'))!;
  const source = memorySource(readFileSync(job.file));
  const file = await openExr(source);
  source.bytesRead = 0;
  const whole = await readChannels(file, 1, ['R', 'G', 'B'], nodeCodec);
  expect(source.bytesRead).toBe(34 * (12 + 50 * 6));
  source.bytesRead = 0;
  const region = { xMin: 7, yMin: 10, xMax: 19, yMax: 12 };
  const part = await readChannels(file, 1, ['G'], nodeCodec, { region });
  expect(source.bytesRead).toBe(3 * (12 + 50 * 6));
  expect(part.planes[0]![0]).toBe(whole.planes[1]![10 * 50 + 7]);
  expect(part.planes[0]).toHaveLength(13 * 3);
});

test('passes come from layer names and from part names', async () => {
  const single = await openExr(memorySource(readFileSync(join(folder, 'zip_half.exr'))));
  expect(findPasses(single.parts).map((p) => [p.name, p.role, p.channels.length])).toEqual([
    ['beauty', 'beauty', 4],
    ['Z', 'depth', 1],
    ['diffuse', 'diffuse', 3],
  ]);
  const parts = await openExr(memorySource(readFileSync(join(folder, 'zip_parts.exr'))));
  expect(findPasses(parts.parts).map((p) => [p.name, p.part])).toEqual([
    ['beauty', 0],
    ['sun light', 1],
    ['depth', 2],
  ]);
});

describe('files we write read bit-equal in the reference library', () => {
  for (const compression of ['none', 'zips', 'zip'] as const) {
    for (const multi of [false, true]) {
      test(`${compression}, ${multi ? 'multi-part' : 'one part'}`, async () => {
        const window = { xMin: -3, yMin: 4, xMax: 40, yMax: 50 };
        const display = { xMin: 0, yMin: 0, xMax: 63, yMax: 47 };
        const common = {
          compression,
          dataWindow: window,
          displayWindow: display,
          attributes: {
            chromaticities: { type: 'chromaticities', value: ap1 },
            colorInteropID: { type: 'string', value: 'lin_ap1_scene' },
          },
        };
        const long = 'a layer with a name longer than thirty-one letters.R';
        const all: PartToWrite[] = multi
          ? [
              { ...common, name: 'one', channels: ['R', 'G', 'B'].map((name) => ({ name, type: 'half' as const })) },
              {
                ...common,
                name: 'two',
                channels: [{ name: 'Z', type: 'float' }],
              },
              { ...common, name: 'three', channels: [{ name: 'id', type: 'uint' }] },
            ]
          : [
              {
                ...common,
                channels: [
                  { name: 'B', type: 'half' },
                  { name: long, type: 'half' },
                  { name: 'A', type: 'float' },
                ],
              },
            ];
        const planes = all.map((part, p) =>
          part.channels.map((c, i) => {
            const plane = newPlane(c, 44 * 47);
            return plane.map((_, k) =>
              c.type === 'float' ? Math.sin(k * (i + 1)) * 1000 : ((k * 2654435761 * (i + 1 + p)) >>> 0) % 30000,
            ) as typeof plane;
          }),
        );
        const sink = memorySink();
        await writeExr(
          sink,
          all,
          (p, top, bottom) => planes[p]!.map((x) => x.subarray((top - 4) * 44, (bottom - 3) * 44) as typeof x),
          nodeCodec,
        );
        const path = join(folder, `ours_${compression}_${multi}.exr`);
        writeFileSync(path, sink.bytes());
        const specs = (JSON.parse(python('read', path)) as Spec[][])[0]!;
        const got = floatsOf(path);
        expect(specs[0]!.window).toEqual([-3, 4, 44, 47]);
        expect(specs[0]!.full).toEqual([0, 0, 64, 48]);
        expect(specs[0]!.compression).toBe(compression);
        expect(specs[0]!.chromaticities[0]).toBeCloseTo(0.713, 6);
        let at = 0;
        specs.forEach((spec, p) => {
          const floats = spec.channels.map((name) =>
            widen(planes[p]![all[p]!.channels.findIndex((c) => c.name === name)]!),
          );
          for (let i = 0; i < 44 * 47; i++)
            for (const f of floats) if (!Object.is(f[i], got[at++])) throw new Error(`part ${p} sample ${i} differs`);
        });
        expect(() => execFileSync('exrheader', [path])).not.toThrow();
      });
    }
  }
});
