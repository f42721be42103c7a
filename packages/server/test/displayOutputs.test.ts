import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  builtinColour,
  codeOfLight,
  compilePlan,
  decodeDpx,
  displayCodes,
  isHdr,
  kernels,
  requireSpace,
  runSteps,
  ShotColour,
  conversion,
  type CodeEncoding,
  type Entry,
} from '@june-haze/core';
import type { OutputSettings, Viewing } from '@june-haze/contract';
import { decodeMovieFrames, decodePicture, encodeFrame, encodeMovie, framePlace, readFacts } from '@june-haze/files';
import { encodeMovieFile, proveMovieFrames, type MovieTask } from '../src/compute/movieTasks.ts';
import { proveSheet, writeSheetFile } from '../src/compute/sheetTasks.ts';
import { writeFrame } from '../src/compute/writeFrame.ts';
import type { WriteTask } from '../src/compute/writeTask.ts';
import { masterSettings, plainViewing } from './landing.ts';

// Files for displays of every kind, and log files: what they hold by the published formulas, what they say, and that the proof sees a wrong tag.

const folder = mkdtempSync(join(tmpdir(), 'june-displays-'));
afterAll(() => rmSync(folder, { recursive: true }));
const [width, height] = [16, 8];
const colour = new ShotColour();

const fill = (light: [number, number, number], alpha = 1): Entry => ({
  id: 'fill',
  name: 'Mist',
  kind: 'fill',
  enabled: true,
  operation: alpha < 1 ? 'over' : 'plus',
  mix: 1,
  adjustments: [],
  colour: light,
  alpha,
});

function task(
  name: string,
  entry: Entry,
  settings: Partial<OutputSettings>,
  viewing: Partial<Viewing> = {},
): WriteTask {
  return {
    plan: compilePlan({ version: 1, entries: [entry] }, [], 'Linear Rec.709', colour),
    files: {},
    workingSpace: 'Linear Rec.709',
    viewing: { ...plainViewing, view: 'Untoned', ...viewing },
    colour: { key: builtinColour, folder },
    rate: 24,
    timecode: 1001,
    seed: 1001,
    settings: { ...masterSettings, ...settings },
    width,
    height,
    path: join(folder, name),
    pictures: undefined,
  };
}

const light: [number, number, number] = [0.5, 0.2, 0.05];
/** Rec.709 light in a display's primaries, by its codes' own formulas in float64. */
function codesOf(encoding: CodeEncoding): number[] {
  const to = requireSpace(
    isHdr(encoding)
      ? 'Linear Rec.2020'
      : encoding === 'srgb' || encoding === 'bt1886'
        ? 'Linear Rec.709'
        : 'Linear P3-D65',
  );
  const rgb = runSteps(conversion(requireSpace('Linear Rec.709'), to), light.map((l) => [l]) as never, kernels());
  // The viewing's 1 is 100 cd/m² for HDR, whose own scale here is relative to 203 (ITU-R BT.2408-7).
  const scale = isHdr(encoding) ? 100 / 203 : 1;
  const seen = Float64Array.from(rgb, (p) => p[0]! * scale);
  displayCodes[encoding].bound?.back(seen);
  return [...seen].map((l) => codeOfLight(l, encoding));
}

describe.each<[string, CodeEncoding, string]>([
  ['Rec.709', 'bt1886', 'cICP: Rec.709, BT.709 curve'],
  ['P3-D65', 'p3Cinema', 'ICC profile'],
  ['Rec.2100 PQ', 'pq', 'cICP: BT.2020, PQ'],
  ['Rec.2100 HLG', 'hlg', 'cICP: BT.2020, HLG'],
])('a PNG of 16 bits through %s', (display, encoding, says) => {
  test('holds the display’s codes by its published curve, says what they are, and is proved by that', async () => {
    const job = task(`${encoding}.png`, fill(light), { kind: 'png', bits: 16 }, { display });
    const { readBack } = await writeFrame(job);
    expect(readBack).toMatchObject({ proved: true, tags: `${says} says ${displayCodes[encoding].name}` });
    const { deep } = await decodePicture(readFileSync(job.path));
    codesOf(encoding).forEach((code, c) => expect(Math.abs(deep![c]! / 65535 - code)).toBeLessThan(2e-4));
    // Whoever takes them for sRGB sees something else.
    expect(readBack!.ignoring.deltaE.mean).toBeGreaterThan(1);
  });
});

test('through PQ, written as HLG: the same light in its codes, tagged and proved so', async () => {
  const job = task('pq as hlg.png', fill(light), { kind: 'png', bits: 16, codes: 'hlg' }, { display: 'Rec.2100 PQ' });
  const { readBack } = await writeFrame(job);
  expect(readBack).toMatchObject({ proved: true, tags: 'cICP: BT.2020, HLG says Rec.2100 HLG' });
  const { deep } = await decodePicture(readFileSync(job.path));
  codesOf('hlg').forEach((code, c) => expect(Math.abs(deep![c]! / 65535 - code)).toBeLessThan(2e-4));
});

describe('a contact sheet', () => {
  const settings = { kind: 'sheet', columns: 2, firstFrame: 1001, lastFrame: 1005, step: 2 } as const;
  /** Three frames of the fill, brighter and brighter, on a sheet. */
  async function sheetOf(name: string, own: Partial<OutputSettings> = {}) {
    const frames = { folder: join(folder, `frames of ${name}`), alpha: false };
    mkdirSync(frames.folder, { recursive: true });
    const all: Partial<OutputSettings> = { ...settings, ...own };
    for (let i = 0; i < 3; i++) {
      const job = task('', fill(light.map((v) => v * (i + 1) * 0.5) as typeof light), all);
      expect((await writeFrame({ ...job, path: framePlace(frames, i) })).readBack).toBeNull();
    }
    const { path, ...same } = task(name, fill(light), all);
    const rest = { timecode: '', words: same.settings, frames: { ...frames, count: 3 } };
    const sheet: MovieTask = { ...same, ...rest, path, picturesFolder: join(folder, `proof of ${name}`) };
    await writeSheetFile(sheet);
    return sheet;
  }

  test('holds its frames in their places, as the reference image library reads them, and each is proved', async () => {
    const sheet = await sheetOf('sheet.png');
    const readBacks = await proveSheet(sheet);
    expect(readBacks.map((r) => [r.proved, r.tagged.maxCode])).toEqual(Array(3).fill([true, 0]));
    expect(readBacks[0]!.tags).toMatch(/says sRGB/);
    // Gaps of 2 pixels, labels of 7 and a gap: frame 1005 is the third, in the second row.
    const info = execFileSync('oiiotool', ['--info', '-v', sheet.path], { encoding: 'utf8' });
    expect(info).toMatch(/ 38 x +40, 3 channel, uint8 png/);
    const pixel = (x: number, y: number) =>
      JSON.parse(
        execFileSync('/usr/bin/python3', ['-c', readPixel, sheet.path, String(x), String(y)], { encoding: 'utf8' }),
      ) as number[];
    const code = (l: number) => 255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * Math.min(1, l) ** (1 / 2.4) - 0.055);
    [
      [2 + 5, 2 + 5, 0.5],
      [2 + 16 + 2 + 5, 2 + 5, 1],
      [2 + 5, 2 + 8 + 2 + 7 + 2 + 5, 1.5],
    ].forEach(([x, y, times]) =>
      pixel(x!, y!).forEach((v, c) => expect(Math.abs(v - code(light[c]! * times!))).toBeLessThanOrEqual(0.51)),
    );
    // A digit's dot below the first picture, and the ground beside it.
    expect(pixel(2 + 2, 2 + 8 + 2)).toEqual([160, 160, 160]);
    expect(pixel(0, 0)).toEqual([24, 24, 24]);
  });

  test('as a JPEG is judged by its blocks; one frame that is another is found', async () => {
    const sheet = await sheetOf('sheet.jpg', { sheetFile: 'jpeg', quality: 100 });
    expect((await proveSheet(sheet)).every((r) => r.proved)).toBe(true);
    const samples = new Uint16Array(width * height * 3).fill(30_000);
    writeFileSync(framePlace(sheet.frames, 1), encodeFrame({ width, height, channels: 3, samples }));
    expect((await proveSheet(sheet)).map((r) => r.proved)).toEqual([true, false, true]);
  });

  test('of which a frame is gone is not written', async () => {
    const sheet = await sheetOf('short.png');
    rmSync(sheet.path);
    rmSync(framePlace(sheet.frames, 2));
    await expect(writeSheetFile(sheet)).rejects.toThrow('short.png: of its 3 frames the 3. is gone; write it again.');
    expect(existsSync(sheet.path)).toBe(false);
  });
});

const readWindows = `
import sys, OpenImageIO as oiio
s = oiio.ImageBuf(sys.argv[1]).spec()
print(s.x, s.y, s.width, s.height, "in", s.full_width, s.full_height)
`;

/** A pixel of a picture, as the reference image library has it. */
const readPixel = `
import sys, json, OpenImageIO as oiio
buf = oiio.ImageBuf(sys.argv[1])
print(json.dumps([round(v * 255, 3) for v in buf.getpixel(int(sys.argv[2]), int(sys.argv[3]))]))
`;

describe('codes that go back as they came, without the viewing', () => {
  // A view that tones shows something else than the codes of the numbers.
  const toned = { view: 'ACES SDR' };

  test.each([
    ['png', 8],
    ['png', 16],
    ['tiff', 16],
    ['jpeg', 8],
  ] as const)('%s of %i bits: sRGB’s own formula (IEC 61966-2-1), whatever the view is', async (kind, bits) => {
    const job = task(`back${bits}.${kind}`, fill(light), { kind, bits, space: 'sRGB', quality: 100 }, toned);
    const { readBack } = await writeFrame(job);
    expect(readBack).toMatchObject({ proved: true });
    expect(readBack!.tags).toMatch(/says sRGB/);
    const { rgba, deep } = await decodePicture(readFileSync(job.path));
    const most = bits === 16 ? 65_535 : 255;
    light.forEach((v, c) => {
      const code = v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055;
      const found = bits === 16 ? deep![c]! : rgba[c]!;
      expect(Math.abs(found - code * most)).toBeLessThanOrEqual(bits === 16 ? 3 : kind === 'jpeg' ? 1.5 : 0.51);
    });
  });

  test('light above 1 is cut off, and the tried frame says how much of it', async () => {
    const job = task('bright.png', fill([4, 0.2, 0.1]), { kind: 'png', space: 'sRGB' }, toned);
    const { readBack, clipping } = await writeFrame({ ...job, pictures: join(folder, 'bright') });
    expect(clipping).toEqual({ below: 0, above: 1, notFinite: 0 });
    expect(readBack!.tagged.maxCode).toBeGreaterThan(3);
  });

  test('a space that no display takes is none of a picture’s: it is seen through the viewing', async () => {
    const job = task('seen.png', fill(light), { kind: 'png', space: 'ACEScct' });
    expect((await writeFrame(job)).readBack).toMatchObject({ proved: true });
    const { rgba } = await decodePicture(readFileSync(job.path));
    codesOf('srgb').forEach((code, c) => expect(Math.abs(rgba[c]! - 255 * code)).toBeLessThanOrEqual(1));
  });
});

test.each([
  ['png', 8],
  ['tiff', 8],
  ['jpeg', 8],
] as const)('between the codes of a %s of %i bits chance decides: the mean is what it was', async (kind, bits) => {
  const job = task(`dither.${kind}`, fill(light), { kind, bits, dither: true, quality: 100, space: null });
  expect((await writeFrame({ ...job, width: 128, height: 128 })).readBack).toMatchObject({ proved: true });
  const { rgba } = await decodePicture(readFileSync(job.path));
  codesOf('srgb').forEach((code, c) => {
    const distinct = new Set<number>();
    let sum = 0;
    for (let i = c; i < rgba.length; i += 4) {
      sum += rgba[i]!;
      distinct.add(rgba[i]!);
    }
    expect(Math.abs(sum / (rgba.length / 4) - 255 * code)).toBeLessThan(kind === 'jpeg' ? 0.3 : 0.05);
    expect(distinct.size).toBeGreaterThan(1);
  });
});

test.each<[CodeEncoding, string]>([
  ['bt1886', 'jpeg'],
  ['displayP3', 'tiff'],
])('codes of %s that show the same light as the viewing’s sRGB, in a %s', async (codes, kind) => {
  const settings = { kind: kind as 'jpeg' | 'tiff', codes: codes as 'bt1886', bits: 16 as const };
  const job = task(`same_${codes}.${kind}`, fill(light), settings);
  const { readBack } = await writeFrame(job);
  expect(readBack).toMatchObject({ proved: true, tags: `ICC profile says ${displayCodes[codes].name}` });
  const { rgba } = await decodePicture(readFileSync(job.path));
  codesOf(codes).forEach((code, c) => expect(Math.abs(rgba[c]! - 255 * code)).toBeLessThanOrEqual(2));
});

describe('DPX', () => {
  const log = { kind: 'dpx' as const, space: 'S-Log3 S-Gamut3.Cine' };
  test('holds the log curve within half a code of 10 bits, names it, and a reference library reads it', async () => {
    const job = task('log.dpx', fill([0.18, 0.18, 0.18]), log);
    const { readBack } = await writeFrame(job);
    expect(readBack).toMatchObject({
      proved: true,
      tags: 'transfer says logarithmic, description says S-Log3 S-Gamut3.Cine',
    });
    // S-Log3's technical summary: 18 % grey is code 420 of 1023.
    const { planes } = decodeDpx(readFileSync(job.path), 'log.dpx');
    for (const c of ['R', 'G', 'B']) expect(planes[c]![0]! * 1023).toBeCloseTo(420, 3);
    const script =
      'import sys, OpenImageIO as o; b = o.ImageBuf(sys.argv[1]); s = b.spec(); print(s.width, s.height, [round(x * 1023) for x in b.getpixel(0, 0)], s.get_string_attribute("dpx:Transfer"), s.get_string_attribute("ImageDescription"), s.get_string_attribute("dpx:TimeCode"))';
    const said = execFileSync('/usr/bin/python3', ['-c', script, job.path], { encoding: 'utf8' }).trim();
    expect(said).toBe('16 8 [420, 420, 420] Logarithmic S-Log3 S-Gamut3.Cine 00:00:41:17');
    // Intake knows it again by itself.
    expect((await readFacts(job.path, job.path)).evidence[0]).toMatchObject({ space: 'S-Log3 S-Gamut3.Cine' });
  });

  test('light that half covers lies over black before it is encoded: there is no alpha to say otherwise', async () => {
    const job = task('soft.dpx', fill([0.36, 0.36, 0.36], 0.5), log);
    expect((await writeFrame(job)).readBack).toMatchObject({ proved: true });
    const { planes } = decodeDpx(readFileSync(job.path), 'soft.dpx');
    expect(planes.R![0]! * 1023).toBeCloseTo(420, 3);
  });

  test('what lies outside of the codes is counted', async () => {
    const counted = async (l: [number, number, number]) =>
      (await writeFrame({ ...task('cut.dpx', fill(l), log), pictures: join(folder, 'pictures') })).clipping;
    expect(await counted([1, 1, 1])).toEqual({ below: 0, above: 0, notFinite: 0 });
    // Code 1023 of S-Log3 is about 38 times white.
    expect(await counted([60, 60, 60])).toEqual({ below: 0, above: 1, notFinite: 0 });
    expect(await counted([-0.5, -0.5, -0.5])).toEqual({ below: 1, above: 0, notFinite: 0 });
  });
});

describe('sizes and parts', () => {
  const half = { width: 8 };
  test.each([
    ['exr', {}],
    ['aces', {}],
    ['png', { bits: 16 as const }],
    ['jpeg', {}],
    ['tiff', { bits: 8 as const }],
    ['dpx', { space: 'ACEScct' }],
  ] as const)('a %s of half the size holds what even light is, and is proved', async (kind, more) => {
    const job = task(`small.${kind === 'aces' ? 'exr' : kind}`, fill(light), { kind, ...half, ...more });
    const kept = { ...job, pictures: join(folder, 'small') };
    const { readBack } = await writeFrame(kept);
    expect(readBack).toMatchObject({ proved: true });
    const said = execFileSync('oiiotool', ['--info', job.path], { encoding: 'utf8' });
    expect(said).toMatch(/ 8 x +4, 3 channel/);
  });

  test('a part is the data window in the shot’s display window, where that is asked for', async () => {
    const crop = { x: 4, y: 2, width: 6, height: 4 };
    const windows = (path: string) =>
      execFileSync('/usr/bin/python3', ['-c', readWindows, path], { encoding: 'utf8' }).trim();
    const own = task('window.exr', fill(light, 0.5), { crop, keepWindow: true });
    expect((await writeFrame(own)).readBack).toMatchObject({ proved: true });
    expect(windows(own.path)).toBe('4 2 6 4 in 16 8');
    const twice = task('twice.exr', fill(light, 0.5), { crop, keepWindow: true, width: 12 });
    expect((await writeFrame(twice)).readBack).toMatchObject({ proved: true });
    expect(windows(twice.path)).toBe('8 4 12 8 in 32 16');
    const plain = task('plain.exr', fill(light, 0.5), { crop });
    await writeFrame(plain);
    expect(windows(plain.path)).toBe('0 0 6 4 in 6 4');
  });

  test('a part is cut out to the sample; alpha is filtered with its colour and stays within 0 … 1', async () => {
    const soft = task('soft.exr', fill([0.4, 0.2, 0.1], 0.5), {
      sampleType: 'float',
      crop: { x: 4, y: 2, width: 5, height: 3 },
    });
    expect((await writeFrame(soft)).readBack).toMatchObject({ proved: true, alpha: 0 });
    const large = task('large.exr', fill([0.4, 0.2, 0.1], 0.5), { sampleType: 'float', width: 40 });
    expect((await writeFrame(large)).readBack).toMatchObject({ proved: true });
    const script =
      'import sys, OpenImageIO as o; b = o.ImageBuf(sys.argv[1]); s = b.spec(); p = b.get_pixels(o.FLOAT); print(s.width, s.height, p.min((0, 1)).tolist(), p.max((0, 1)).tolist())';
    const said = (path: string) => execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' }).trim();
    expect(said(soft.path)).toMatch(/^5 3 \[0\.2\d*, 0\.1\d*, 0\.05\d*, 0\.5\] \[0\.2\d*, 0\.1\d*, 0\.05\d*, 0\.5\]$/);
    expect(said(large.path)).toMatch(/^40 20 /);
  });
});

describe('a movie’s proof', () => {
  const [w, h, count] = [64, 36, 4];
  const movieTask = (name: string, settings: Partial<OutputSettings> = {}): MovieTask => ({
    settings: { ...masterSettings, kind: 'movie', quality: 80, codes: 'bt1886', ...settings },
    viewing: { ...plainViewing, view: 'Untoned' },
    colour: { key: builtinColour, folder },
    words: masterSettings,
    rate: 24,
    width: w,
    height: h,
    path: join(folder, name),
    timecode: '00:00:00:00',
    frames: { folder: join(folder, 'frames'), alpha: false, count },
    picturesFolder: join(folder, 'proof'),
  });
  beforeAll(() => {
    mkdirSync(join(folder, 'frames'));
    // Saturated bands: what a wrong matrix or curve does shows in them.
    const samples = Uint16Array.from({ length: w * h * 3 }, (_, i) => {
      const [x, y, c] = [Math.floor(i / 3) % w, Math.floor(i / 3 / w), i % 3];
      return Math.round(65535 * (Math.floor(x / 22) === c ? 0.2 + (0.7 * y) / h : 0.1));
    });
    for (let f = 0; f < count; f++)
      writeFileSync(
        framePlace({ folder: join(folder, 'frames'), alpha: false }, f),
        encodeFrame({ width: w, height: h, channels: 3, samples }),
      );
  });
  const prove = (of: MovieTask) => proveMovieFrames({ ...of, first: 0, count });

  test.each(['h264', 'vp9', 'prores'] as const)('%s reads back as shown, frame by frame', async (codec) => {
    const of = movieTask(`good.${{ h264: 'mp4', vp9: 'webm', prores: 'mov' }[codec]}`, { codec });
    await encodeMovieFile(of);
    const proof = await prove(of);
    expect(proof.map((p) => [p.proved, p.tags])).toEqual(
      Array(count).fill([true, 'video tags say Rec.709, gamma 2.4, legal range']),
    );
    expect(readFileSync(join(folder, 'proof/tagged.png')).length).toBeGreaterThan(100);
  });

  test('a movie that says other codes than were written is not proved', async () => {
    const of = movieTask('tags.mp4');
    await encodeMovie({ ...of, codec: 'h264', quality: 80, encoding: 'srgb' }, of.path);
    const [first] = await prove(of);
    expect(first).toMatchObject({ proved: false, tags: 'video tags say sRGB, legal range' });
    expect(first!.judged).toContain('its tags are not the ones that were written');
  });

  test('a movie whose matrix is said wrongly is not proved, though its other tags are right', async () => {
    const of = movieTask('matrix.mp4');
    await encodeMovieFile({ ...of, path: join(folder, 'right.mp4') });
    const wrong = ['-bsf:v', 'h264_metadata=matrix_coefficients=6', '-c', 'copy'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(folder, 'right.mp4'), ...wrong, of.path]);
    const [first] = await prove(of);
    expect(first!.proved).toBe(false);
    expect(Number(/at most ([\d.]+) of/.exec(first!.judged)![1])).toBeGreaterThan(3);
  });

  test('ProRes holds the total’s alpha, whole where a frame has none, and one of another alpha is not proved', async () => {
    const own = { kind: 'movie', codec: 'prores', codes: 'bt1886', transparent: true } as const;
    const frames = { folder: join(folder, 'covered'), alpha: true };
    mkdirSync(frames.folder);
    const [soft, whole] = [fill(light, 0.3), fill(light)];
    for (const [i, entry] of [soft, whole].entries())
      await writeFrame({ ...task('', entry, own), path: framePlace(frames, i) });
    const of = { ...movieTask('covered.mov', own), width, height, frames: { ...frames, count: 2 } };
    await encodeMovieFile(of);
    const proof = await proveMovieFrames({ ...of, first: 0, count: 2 });
    expect(proof.map((p) => [p.proved, p.alpha! < 0.0013])).toEqual(Array(2).fill([true, true]));
    expect(proof[1]!.alpha).toBe(0);
    const facts = await readFacts(of.path, of.path);
    const [first, second] = await decodeMovieFrames(of.path, of.path, facts, 0, 2, 'legal');
    expect(first!.planes.A![0]).toBeCloseTo(0.3, 2);
    // A fill's colour is not multiplied: what covers by 0.3 has the codes of what covers.
    ['R', 'G', 'B'].forEach((c) => expect(first!.planes[c]![0]).toBeCloseTo(second!.planes[c]![0]!, 2));
    // The frames are others now.
    await writeFrame({ ...task('', fill(light, 0.31), own), path: framePlace(frames, 0) });
    const [other] = await proveMovieFrames({ ...of, first: 0, count: 1 });
    expect(other!.proved).toBe(false);
    expect(other!.judged).toContain('alpha differs by at most 0.0099');
    // A movie that lost its alpha is not what was written.
    await encodeMovieFile({
      ...movieTask('covered.mov', { ...own, transparent: false }),
      frames: { folder: join(folder, 'frames'), alpha: false, count: 2 },
    });
    const lost = {
      ...movieTask('covered.mov', own),
      frames: { folder: join(folder, 'frames'), alpha: true, count: 2 },
    };
    for (let i = 0; i < 2; i++)
      writeFileSync(
        framePlace(lost.frames, i),
        encodeFrame({ width: w, height: h, channels: 4, samples: new Uint16Array(w * h * 4).fill(30_000) }),
      );
    expect((await proveMovieFrames({ ...lost, first: 0, count: 1 }))[0]!.judged).toContain('it has no alpha');
  });

  test('a movie that ends early says how far it goes', async () => {
    const of = movieTask('short.mp4');
    await encodeMovieFile({ ...of, frames: { ...of.frames, count: 2 } });
    await expect(prove(of)).rejects.toThrow('short.mp4: it reads back 2 frames of 4.');
  });
});
