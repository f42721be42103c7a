import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  builtinColour,
  compilePlan,
  exrFacts,
  halfToNumber,
  Heap,
  kernels,
  openExr,
  prepareSteps,
  readChannels,
  rec709,
  ShotColour,
  writeExr,
  type Entry,
  type Operation,
  type ExrAttribute,
  type Plane,
} from '@june-haze/core';
import type { OutputSettings } from '@june-haze/contract';
import { decodePicture, encodePngSamples, openSource, writeWhole, zlibCodec } from '@june-haze/files';
import { prove } from '../src/compute/readBack.ts';
import { writeFrame } from '../src/compute/writeFrame.ts';
import { opened, type WriteTask } from '../src/compute/writeTask.ts';
import { masterSettings, plainViewing } from './landing.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'june-write-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const fill = (colour: [number, number, number], alpha: number, operation: Operation = 'over'): Entry => ({
  id: `${colour.join()}${alpha}`,
  name: 'Mist',
  kind: 'fill',
  enabled: true,
  operation,
  mix: 1,
  adjustments: [],
  colour,
  alpha,
});
const colour = new ShotColour();
const [width, height] = [16, 8];
const task = (name: string, entries: Entry[], settings: Partial<OutputSettings> = {}, rate = 24): WriteTask => ({
  plan: compilePlan({ version: 1, entries }, [], 'ACEScg', colour),
  files: {},
  workingSpace: 'ACEScg',
  viewing: plainViewing,
  colour: { key: builtinColour, folder },
  rate,
  timecode: 1001,
  seed: 1001,
  settings: { ...masterSettings, ...settings },
  width,
  height,
  path: join(folder, name),
  pictures: undefined,
});

/** A written file's part, its facts as Intake has them, and the first pixel of each channel. */
async function read(name: string) {
  const source = await openSource(join(folder, name));
  const file = await openExr(source);
  const names = file.parts[0]!.channels.map((c) => c.name);
  const { planes } = await readChannels(file, 0, names, zlibCodec);
  const facts = await exrFacts(file, 0);
  await source.close();
  const number = (p: Plane) => (p instanceof Uint16Array ? halfToNumber(p[0]!) : p[0]!);
  return { part: file.parts[0]!, facts, pixel: Object.fromEntries(names.map((n, i) => [n, number(planes[i]!)])) };
}

describe('EXR files', () => {
  test('in a log space hold colour that is divided by alpha, encoded and multiplied again, and say so', async () => {
    const { readBack } = await writeFrame(
      task('log.exr', [fill([0.18, 0.18, 0.18], 0.5)], { space: 'ACEScct', sampleType: 'float' }),
    );
    const { part, facts, pixel } = await read('log.exr');
    // ACEScct of 0.18 is 0.4135884 (S-2016-001, table of values).
    expect(pixel.R! / 0.5).toBeCloseTo(0.4135884, 4);
    expect(pixel.A).toBe(0.5);
    expect(part.attributes.get('alpha')?.value).toBe('premultiplied');
    expect(part.attributes.get('space')?.value).toBe('ACEScct');
    expect(JSON.stringify([...part.attributes].filter(([k]) => k !== 'channels'))).not.toMatch(/lin_|linear/i);
    expect(facts.alpha).toBe('premultiplied');
    expect(readBack).toMatchObject({ proved: true, alpha: 0, tagged: { maxCode: 0 } });
  });

  test('carry A only when the total has alpha', async () => {
    const plain = await writeFrame(task('plain.exr', [fill([0.5, 0.2, 0.1], 1, 'plus')]));
    expect((await read('plain.exr')).part.channels.map((c) => c.name)).toEqual(['B', 'G', 'R']);
    expect(plain.readBack).toMatchObject({ proved: true, alpha: null });
    const aces = await writeFrame(task('aces.exr', [fill([0.5, 0.2, 0.1], 1, 'plus')], { kind: 'aces' }));
    expect((await read('aces.exr')).part.channels.map((c) => c.name)).toEqual(['B', 'G', 'R']);
    expect(aces.readBack!.proved).toBe(true);
    await writeFrame(task('clear.exr', [fill([0.5, 0.2, 0.1], 0.25)]));
    expect((await read('clear.exr')).pixel.A).toBe(0.25);
  });

  test('say when they are: frame 1001 at 24 is 41 seconds and 17 frames, as a reference library reads it', async () => {
    await writeFrame(task('time.exr', [fill([1, 1, 1], 1)]));
    const said = execFileSync('oiiotool', ['--info', '-v', join(folder, 'time.exr')], { encoding: 'utf8' });
    expect(said).toMatch(/smpte:TimeCode: (?:"|)00:00:41:17/);
  });

  test('keep rates as fractions', async () => {
    await writeFrame(task('rate.exr', [fill([1, 1, 1], 1)], {}, 23.976));
    expect((await read('rate.exr')).part.attributes.get('framesPerSecond')?.value).toEqual([24000, 1001]);
  });
});

const clipping = { below: 0, above: 0, notFinite: 0 };

describe('what a file cannot hold', () => {
  const of = async (colour: [number, number, number], settings: Partial<OutputSettings>, view = 'Untoned') => {
    const job = task('clipped.any', [fill(colour, 1, 'plus')], settings);
    const kept = { viewing: { ...plainViewing, view }, pictures: join(folder, 'pictures') };
    return (await writeFrame({ ...job, ...kept })).clipping;
  };
  test('of a picture: what the display cuts off; of light: what a half cannot hold', async () => {
    expect(await of([0.5, 0.5, 0.5], { kind: 'png' })).toEqual(clipping);
    expect(await of([0.5, 0.5, 2], { kind: 'png' })).toEqual({ ...clipping, above: 1 });
    // A pure green of AP1 lies outside Rec.709: its red falls below 0.
    expect(await of([0, 0.5, 0], { kind: 'png' })).toEqual({ ...clipping, below: 1 });
    expect(await of([1e5, 0, -1], {})).toEqual({ ...clipping, above: 1 });
    expect(await of([1e5, 0, -1], { sampleType: 'float' })).toEqual(clipping);
  });
});

describe('pictures of 16 bits', () => {
  test.each(['png', 'tiff'] as const)(
    'a %s holds what the viewing gives, rounded once, and is proved by its samples',
    async (kind) => {
      const job = task(`deep.${kind}`, [fill([0.18, 0.4, 3], 1, 'plus')], { kind, bits: 16 });
      const { readBack } = await writeFrame(job);
      expect(readBack).toMatchObject({ proved: true, tagged: { maxCode: expect.any(Number) } });
      expect(readBack!.tagged.maxCode).toBeLessThanOrEqual(1);
      const { deep } = await decodePicture(readFileSync(job.path));
      // The viewing of one pixel by core's own steps.
      const heap = new Heap(kernels());
      const [r, g, b] = [0.18, 0.4, 3].map((v) => heap.placeFloats([v, v, v, v])) as [number, number, number];
      prepareSteps(colour.view('ACEScg', plainViewing), heap)(r, g, b, 1);
      const codes = [r, g, b].map((p) => Math.round(65535 * Math.min(1, Math.max(0, heap.floats(p, 1)[0]!))));
      expect([...deep!.subarray(0, 3)]).toEqual(codes);
    },
  );

  test.each([
    ['png', 8],
    ['png', 16],
    ['tiff', 8],
    ['tiff', 16],
  ] as const)('a %s of %i bits holds alpha and colour without it, where it is asked for', async (kind, bits) => {
    const settings = { kind, bits, transparent: true } as const;
    const job = task(`clear${bits}.${kind}`, [fill([0.36, 0.1, 0.02], 0.3)], settings);
    const { readBack } = await writeFrame(job);
    expect(readBack).toMatchObject({ proved: true });
    expect(readBack!.alpha).toBeLessThanOrEqual(0.5 / (bits === 16 ? 65535 : 255) + 1e-6);
    const { rgba, deep, alpha } = await decodePicture(readFileSync(job.path));
    const most = bits === 16 ? 65535 : 255;
    expect(alpha![0]).toBeCloseTo(Math.round(0.3 * most) / most, 6);
    // The viewing of what covers by 0.3: a fill's colour is straight.
    const heap = new Heap(kernels());
    const [r, g, b] = [0.36, 0.1, 0.02].map((v) => heap.placeFloats([v, v, v, v])) as [number, number, number];
    prepareSteps(colour.view('ACEScg', plainViewing), heap)(r, g, b, 1);
    const found = bits === 16 ? deep! : rgba;
    [r, g, b].forEach((p, c) => expect(Math.abs(found[c]! - heap.floats(p, 1)[0]! * most)).toBeLessThanOrEqual(0.51));
    if (kind === 'tiff') {
      // TIFF 6.0, section 18: ExtraSamples (338), a SHORT of 2 for alpha that colour is not multiplied by.
      const file = readFileSync(job.path);
      const directory = file.readUInt32LE(4);
      const entries = Array.from({ length: file.readUInt16LE(directory) }, (_, i) => directory + 2 + 12 * i);
      const extra = entries.find((at) => file.readUInt16LE(at) === 338)!;
      expect([file.readUInt16LE(extra + 2), file.readUInt32LE(extra + 4), file.readUInt16LE(extra + 8)]).toEqual([
        3, 1, 2,
      ]);
    }
    // A file without it is not what was written.
    const plain = await encodePngSamples(
      new Uint8Array(width * height * 3).fill(100),
      { width, height, channels: 3 },
      'srgb',
    );
    writeFileSync(job.path, plain);
    const { shown } = { shown: new Uint8Array(width * height * 4).fill(100) };
    const total = [0.1, 0.1, 0.1, 0.3].map((v) => new Float32Array(width * height).fill(v));
    const again = await prove(opened(job), {
      width,
      height,
      shown,
      deep: undefined,
      total,
      hasAlpha: true,
      clipping,
    });
    expect(again.proved).toBe(false);
  });

  test('a total without alpha gives a PNG without it', async () => {
    const job = task('covers.png', [fill([0.18, 0.4, 3], 1, 'plus')], { kind: 'png', transparent: true });
    expect((await writeFrame(job)).readBack).toMatchObject({ proved: true, alpha: null });
    expect((await decodePicture(readFileSync(job.path))).alpha).toBeUndefined();
  });

  test('one whose samples were changed is not proved', async () => {
    const job = task('changed.png', [fill([0.18, 0.4, 3], 1, 'plus')], { kind: 'png', bits: 16 });
    await writeFrame(job);
    const { deep } = await decodePicture(readFileSync(job.path));
    const changed = deep!.map((v, i) => (i === 5 ? v ^ 1 : v));
    writeFileSync(job.path, await encodePngSamples(changed, { width, height, channels: 3 }, 'srgb'));
    const total = [0, 1, 2, 3].map(() => new Float32Array(width * height));
    const shown = new Uint8Array(width * height * 4).map((_, i) =>
      i % 4 === 3 ? 255 : Math.round(deep![Math.floor(i / 4) * 3 + (i % 4)]! / 257),
    );
    const again = (of: Uint16Array) =>
      prove(opened(job), { width, height, shown, deep: of, total, hasAlpha: false, clipping });
    expect((await again(deep!)).proved).toBe(false);
    expect((await again(changed)).proved).toBe(true);
  });
});

describe('the read-back proof', () => {
  /** Puts a file with these planes in place of the one that was written, and proves again. */
  async function proveAgain(job: WriteTask, planes: number[], attributes: Record<string, ExrAttribute>) {
    const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
    const names = ['R', 'G', 'B', 'A'].slice(0, planes.length);
    const part = {
      compression: 'zip' as const,
      dataWindow: window,
      displayWindow: window,
      channels: names.map((name) => ({ name, type: 'float' as const })),
      attributes,
    };
    await writeWhole(job.path, (sink) =>
      writeExr(
        sink,
        [part],
        (_, top, bottom) => planes.map((v) => new Float32Array((bottom - top + 1) * width).fill(v)),
        zlibCodec,
      ),
    );
    const flat = (v: number) => new Float32Array(width * height).fill(v);
    const total = [0.09, 0.09, 0.09, 0.5].map(flat);
    const { shown } = await shownOf(job);
    return prove(opened(job), { width, height, shown, deep: undefined, total, hasAlpha: true, clipping });
  }
  async function shownOf(job: WriteTask) {
    const { show } = await import('../src/compute/show.ts');
    const planes = [0.09, 0.09, 0.09].map((v) => new Float32Array(width * height).fill(v));
    return { shown: show(planes, [{ steps: colour.view('ACEScg', job.viewing) }]) };
  }
  const tags: Record<string, ExrAttribute> = {
    chromaticities: { type: 'chromaticities', value: rec709 },
  };

  test('fails for another alpha, for a missing one, and for colour that was encoded with alpha in it', async () => {
    const job = task('again.exr', [fill([0.18, 0.18, 0.18], 0.5)], { compression: 'dwaa', sampleType: 'float' });
    expect(await proveAgain(job, [0.09, 0.09, 0.09, 0.4], {})).toMatchObject({
      proved: false,
      alpha: expect.closeTo(0.1),
    });
    expect(await proveAgain(job, [0.09, 0.09, 0.09], {})).toMatchObject({ proved: false });
    expect((await proveAgain(job, [0.09, 0.09, 0.09, 0.5], tags)).proved).toBe(true);
    const log = task('again.exr', [fill([0.18, 0.18, 0.18], 0.5)], { space: 'ACEScct', compression: 'dwaa' });
    const space: Record<string, ExrAttribute> = { space: { type: 'string', value: 'ACEScct' } };
    // ACEScct of 0.09 is 0.3565: what a writer that forgets alpha puts there.
    expect((await proveAgain(log, [0.3565, 0.3565, 0.3565, 0.5], space)).proved).toBe(false);
    expect((await proveAgain(log, [0.2068, 0.2068, 0.2068, 0.5], space)).proved).toBe(true);
    const straight = { ...space, alpha: { type: 'string', value: 'straight' } as ExrAttribute };
    expect((await proveAgain(log, [0.4136, 0.4136, 0.4136, 0.5], straight)).proved).toBe(true);
  });
});
