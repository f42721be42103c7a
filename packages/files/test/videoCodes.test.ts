import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decodeMovieFrames, encodeFrame, readFacts, storedFrames, type StoredFrame } from '../src/index.ts';
import { bars } from '../../core/test/colour/bars.ts';
import { fromVideo, isVideo, toVideo, type VideoMatrix } from '../src/movies/videoCodes.ts';

// Held against the standards' numbers, not against the way back: both ways could be wrong alike.

const folder = mkdtempSync(join(tmpdir(), 'june-video-'));
afterAll(() => rmSync(folder, { recursive: true }));

const filtered = (input: readonly string[], path: string, filters: readonly string[], pixelFormat: string) => {
  const words = [
    '-v',
    'error',
    ...input,
    '-i',
    path,
    '-vf',
    filters.join(','),
    '-f',
    'rawvideo',
    '-pix_fmt',
    pixelFormat,
  ];
  return execFileSync('ffmpeg', [...words, '-'], { maxBuffer: 1 << 26 });
};
const sixteen = (bytes: Buffer) => new Uint16Array(Uint8Array.from(bytes).buffer);

/** A picture of one colour in a frame's file. */
function flat(rgb: readonly number[], width = 8, height = 8): string {
  const samples = Uint16Array.from({ length: width * height * 3 }, (_, i) => Math.round(65535 * rgb[i % 3]!));
  const path = join(folder, 'flat.ppm');
  writeFileSync(path, encodeFrame({ width, height, channels: 3, samples }));
  return path;
}
const samplesOf = (
  pixelFormat: string,
  bits: number,
  matrix: VideoMatrix = 'bt709',
  [width, height] = [8, 8] as readonly [number, number],
) => ({
  pixelFormat,
  bits,
  width,
  height,
  alpha: false,
  matrix,
});

describe('bars of 75 % are the standard’s codes', () => {
  test.each(bars)('%s', (_, rgb, ycc) => {
    const path = flat(rgb);
    const planes = sixteen(filtered([], path, toVideo(samplesOf('yuv444p10le', 10)), 'yuv444p10le'));
    const found = [planes[30]!, planes[64 + 30]!, planes[128 + 30]!];
    expect(Math.max(...found.map((v, c) => Math.abs(v - ycc[c]!)))).toBeLessThanOrEqual(1);
  });
});

describe('white, black and the middle of legal range (BT.709-6, item 5.6; BT.2100-2, table 9)', () => {
  test.each([
    ['yuv420p', 8, 'bt709'],
    ['yuv420p10le', 10, 'bt709'],
    ['yuv422p10le', 10, 'bt709'],
    ['yuv420p10le', 10, 'bt2020nc'],
    ['yuv444p10le', 10, 'smpte170m'],
  ] as const)('%s of %i bits, %s', (pixelFormat, bits, matrix) => {
    const luma = (v: number) => {
      const bytes = filtered([], flat([v, v, v]), toVideo(samplesOf(pixelFormat, bits, matrix)), pixelFormat);
      const planes = bits > 8 ? sixteen(bytes) : bytes;
      return [planes[0], planes[64]];
    };
    const step = 2 ** (bits - 8);
    expect([luma(1), luma(0)]).toEqual([
      [235 * step, 128 * step],
      [16 * step, 128 * step],
    ]);
    // And back, of both and of 126.
    const code = (y: number) => {
      const count = 64 * (pixelFormat.includes('420') ? 1.5 : pixelFormat.includes('422') ? 2 : 3);
      const samples = Array.from({ length: count }, (_, i) => (i < 64 ? y : 128) * step);
      const path = join(folder, 'video.raw');
      writeFileSync(path, bits > 8 ? new Uint8Array(Uint16Array.from(samples).buffer) : Uint8Array.from(samples));
      const input = ['-f', 'rawvideo', '-pix_fmt', pixelFormat, '-s', '8x8'];
      const filters = fromVideo({ ...samplesOf(pixelFormat, bits, matrix), range: 'legal' });
      return [...sixteen(filtered(input, path, filters, 'rgb48le')).subarray(30, 33)];
    };
    expect([code(235), code(16)]).toEqual([Array(3).fill(65535), Array(3).fill(0)]);
    code(126).forEach((v) => expect(Math.abs(v - (110 / 219) * 65535)).toBeLessThanOrEqual(1));
  });
});

test('odd sides: light is exact where colour has fewer samples, there and back', () => {
  const size = [7, 5] as const;
  const path = flat([0.5, 0.25, 0.75], 7, 5);
  const video = samplesOf('yuv420p', 8, 'bt709', size);
  const bytes = filtered([], path, toVideo(video), 'yuv420p');
  expect(bytes.length).toBe(35 + 2 * 12);
  const luma = 0.2126 * 0.5 + 0.7152 * 0.25 + 0.0722 * 0.75;
  expect(Math.abs(bytes[17]! - (16 + 219 * luma))).toBeLessThanOrEqual(0.51);
  writeFileSync(join(folder, 'odd.raw'), bytes);
  const input = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', '7x5'];
  const back = sixteen(filtered(input, join(folder, 'odd.raw'), fromVideo({ ...video, range: 'legal' }), 'rgb48le'));
  [0.5, 0.25, 0.75].forEach((v, c) => expect(Math.abs(back[51 + c]! / 65535 - v)).toBeLessThan(1.4 / 255));
});

test.each(['yuv420p', 'yuv422p', 'yuvj420p', 'uyvy422'])(
  'a movie of %s that another program wrote reads as its codes',
  async (format) => {
    const path = join(folder, `${format}.avi`);
    const full = format === 'yuvj420p';
    const level = 200;
    const source = `color=c=black:s=16x16:d=1:r=5,format=${full ? 'yuvj444p' : 'yuv444p'},geq=lum=${level}:cb=128:cr=128`;
    const codec = full ? ['-c:v', 'mjpeg', '-q:v', '1'] : ['-c:v', format === 'uyvy422' ? 'rawvideo' : 'ffv1'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', source, '-pix_fmt', format, ...codec, path]);
    const facts = await readFacts(path, path);
    const [first] = await decodeMovieFrames(path, path, facts, 0, 1, facts.range ?? 'legal');
    // A file of full range holds 214.
    const wanted = (level - 16) / 219;
    for (const plane of Object.values(first!.planes))
      expect(Math.abs(plane[100]! - wanted)).toBeLessThan(full ? 0.004 : 1e-4);
  },
);

test.each([
  ['rgb24', 'qtrle', 'mov', 1],
  ['argb', 'qtrle', 'mov', 0.5],
  ['rgb48be', 'png', 'mov', 1],
  ['gbrp10le', 'ffv1', 'mkv', 1],
  ['gray', 'ffv1', 'mkv', 1],
  ['bgra', 'ffv1', 'mkv', 0.25],
])(
  'a movie of %s (%s): the greatest code is 1, the others their shares of it',
  async (format, codec, ending, alpha) => {
    const path = join(folder, `${format}.${ending}`);
    const rgba = [1, format === 'gray' ? 1 : 0.5, 1, alpha];
    const samples = Uint16Array.from({ length: 64 * 4 }, (_, i) => Math.round(65535 * rgba[i % 4]!));
    const raw = join(folder, 'rgba.pam');
    writeFileSync(raw, encodeFrame({ width: 8, height: 8, channels: 4, samples }));
    const words = [
      '-v',
      'error',
      '-y',
      '-framerate',
      '5',
      '-f',
      'image2',
      '-i',
      raw,
      '-pix_fmt',
      format,
      '-c:v',
      codec,
    ];
    execFileSync('ffmpeg', [...words, path]);
    const facts = await readFacts(path, path);
    const [first] = await decodeMovieFrames(path, path, facts, 0, 1, facts.range ?? 'legal');
    const found = Object.values(first!.planes).map((p) => p[20]!);
    const wanted = rgba.slice(0, format === 'argb' || format === 'bgra' ? 4 : 3);
    expect(found).toHaveLength(wanted.length);
    // What the writing program makes of a half is its own rounding and dither.
    wanted.forEach((v, c) => expect(Math.abs(found[c]! - v)).toBeLessThan(v === 1 ? 1e-6 : 2 / 255));
  },
);

test('samples are given as they are stored; those of a movie of red, green and blue are refused by a sentence', async () => {
  const path = join(folder, 'stored.mkv');
  const source = 'color=c=black:s=6x4:d=1:r=5,format=yuv422p10le,geq=lum=700:cb=300:cr=600';
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', source, '-c:v', 'ffv1', path]);
  const facts = await readFacts(path, path);
  const found: StoredFrame[] = [];
  for await (const frame of storedFrames(path, 'stored.mkv', facts, 0, 2)) found.push(frame);
  expect(found).toHaveLength(2);
  expect(found[0]).toMatchObject({ width: 6, height: 4, bits: 10, shared: [2, 1], range: 'legal' });
  const { y, cb, cr } = found[0]!;
  expect([new Set(y), new Set(cb), new Set(cr)]).toEqual([new Set([700]), new Set([300]), new Set([600])]);
  expect([y.length, cb.length, cr.length]).toEqual([24, 12, 12]);
  const colours = join(folder, 'colours.mov');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=s=8x8:d=1:r=5', '-c:v', 'qtrle', colours]);
  const first = storedFrames(colours, 'colours.mov', await readFacts(colours, colours), 0, 1).next();
  await expect(first).rejects.toThrow('colours.mov: its samples (rgb24) are not read as they are.');
});

test('Y’CbCr is told from red, green and blue by the name of its format', () => {
  expect(
    ['yuv420p', 'yuvj422p', 'nv12', 'p010le', 'uyvy422', 'yuva444p12le', 'ayuv64le', 'y210le'].every(isVideo),
  ).toBe(true);
  expect(['rgb24', 'gbrp10le', 'bgra', 'pal8', 'gray10le', 'ya8', 'x2rgb10le'].some(isVideo)).toBe(false);
});

test('the head of a frame’s file is short enough to be read alone', () => {
  const samples = new Uint16Array(4);
  const bytes = encodeFrame({ width: 1, height: 1, channels: 4, samples });
  expect(bytes.length - 8).toBeLessThan(120 - 2 * 4);
  expect(readFileSync(flat([0, 0, 0])).length).toBe(8 * 8 * 6 + 'P6\n8 8\n65535\n'.length);
});
