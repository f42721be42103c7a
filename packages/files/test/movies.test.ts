import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blockDifferences, type CodeEncoding } from '@june-haze/core';
import {
  decodeFrame,
  encodeFrame,
  encodeMovie,
  movieFrames,
  movieSays,
  noWords,
  readFacts,
  type MovieCodec,
  type MovieToWrite,
} from '../src/index.ts';

// Movies are held against ffprobe, which reads streams and containers by the standards: ITU-T H.273 for the words of colour.

const folder = mkdtempSync(join(tmpdir(), 'june-movies-'));
const [width, height, count] = [64, 36, 10];

/** Smooth ramps that move, of 16 bits. */
const frame = (f: number) =>
  Uint16Array.from({ length: width * height * 3 }, (_, i) => {
    const [x, y, c] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width), i % 3];
    return Math.round(65535 * (0.15 + 0.7 * [x / width, y / height, (x + y + 2 * f) / (width + height + 20)][c]!));
  });

beforeAll(() => {
  mkdirSync(join(folder, 'frames'));
  for (let f = 0; f < count; f++)
    writeFileSync(join(folder, `frames/${String(f).padStart(7, '0')}.ppm`), encodeFrame(frame(f), { width, height }));
});
afterAll(() => rmSync(folder, { recursive: true }));

const movie = (change: Partial<MovieToWrite> = {}): MovieToWrite => ({
  codec: 'h264',
  quality: 80,
  encoding: 'bt1886',
  rate: 24,
  timecode: '00:00:41:17',
  words: noWords,
  frames: { folder: join(folder, 'frames'), count },
  ...change,
});
const endings = { h264: 'mp4', vp9: 'webm', prores: 'mov' } as const;
const pathOf = (m: MovieToWrite, name = 'movie') => join(folder, `${name}_${m.encoding}.${endings[m.codec]}`);

const probe = (path: string) =>
  (
    JSON.parse(
      execFileSync('ffprobe', ['-v', 'error', '-count_packets', '-show_streams', '-of', 'json', path], {
        encoding: 'utf8',
      }),
    ) as { streams: Record<string, unknown>[] }
  ).streams[0]!;

test('a frame’s file holds every sample, and what is cut short is refused', () => {
  const bytes = encodeFrame(frame(3), { width, height });
  expect(decodeFrame(bytes, 'x')).toEqual({ width, height, samples: frame(3) });
  expect(() => decodeFrame(bytes.subarray(0, -1), '0000003.ppm')).toThrow('0000003.ppm: the file is cut short.');
  expect(() => decodeFrame(Buffer.from('P5\n1 1\n'), 'x')).toThrow('no frame of a movie');
});

describe.each<[MovieCodec, CodeEncoding, string, string, string, string]>([
  ['h264', 'bt1886', 'bt709', 'bt709', 'bt709', 'yuv420p'],
  ['h264', 'srgb', 'bt709', 'iec61966-2-1', 'bt709', 'yuv420p'],
  ['h264', 'pq', 'bt2020', 'smpte2084', 'bt2020nc', 'yuv420p10le'],
  ['h264', 'hlg', 'bt2020', 'arib-std-b67', 'bt2020nc', 'yuv420p10le'],
  ['vp9', 'bt1886', 'bt709', 'bt709', 'bt709', 'yuv420p'],
  ['vp9', 'displayP3', 'smpte432', 'iec61966-2-1', 'bt709', 'yuv420p'],
  ['prores', 'bt1886', 'bt709', 'bt709', 'bt709', 'yuv422p10le'],
  ['prores', 'hlg', 'bt2020', 'arib-std-b67', 'bt2020nc', 'yuv422p10le'],
  ['prores', 'pq', 'bt2020', 'smpte2084', 'bt2020nc', 'yuv422p10le'],
])('%s of %s', (codec, encoding, primaries, transfer, matrix, samples) => {
  const written = movie({ codec, encoding });
  const path = () => pathOf(written);
  beforeAll(() => encodeMovie(written, path()));

  test('says what its codes are, how many frames it has and how fast they run', () => {
    expect(probe(path())).toMatchObject({
      width,
      height,
      color_primaries: primaries,
      color_transfer: transfer,
      color_space: matrix,
      color_range: 'tv',
      pix_fmt: samples,
      r_frame_rate: '24/1',
      nb_read_packets: String(count),
    });
  });

  test('Intake reads it as the same codes', async () => {
    const facts = await readFacts(path(), path());
    const wanted = { bt1886: 'Rec.709', srgb: 'sRGB', displayP3: 'Display P3', pq: 'PQ', hlg: 'HLG', p3Cinema: '' }[
      encoding
    ];
    expect(facts.evidence[0]).toMatchObject({ from: 'colour tags', space: wanted });
    expect([facts.frames, facts.rate, facts.range]).toEqual([count, 24, 'legal']);
  });

  test('every frame reads back near what it was made of', async () => {
    const facts = await readFacts(path(), path());
    let f = 0;
    const codes = (from: Uint16Array) =>
      Uint8Array.from({ length: width * height * 4 }, (_, i) =>
        i % 4 === 3 ? 255 : Math.round(from[Math.floor(i / 4) * 3 + (i % 4)]! / 257),
      );
    for await (const samples of movieFrames(path(), 'movie', facts, 0, count, 'legal')) {
      expect(blockDifferences(codes(frame(f)), codes(samples), width).most).toBeLessThan(3);
      f++;
    }
    expect(f).toBe(count);
  });

  test('the same frames give the same bytes, and nothing half-written stays', async () => {
    await encodeMovie(written, pathOf(written, 'again'));
    expect(Buffer.compare(readFileSync(pathOf(written, 'again')), readFileSync(path()))).toBe(0);
    expect(readdirSync(folder).filter((n) => n.startsWith('.'))).toEqual([]);
  });
});

test('from the middle on, frames are those of their numbers', async () => {
  const written = movie({ codec: 'prores' });
  await encodeMovie(written, pathOf(written));
  const facts = await readFacts(pathOf(written), pathOf(written));
  const blue = (samples: Uint16Array) => samples[2]!;
  const all: number[] = [];
  for await (const s of movieFrames(pathOf(written), 'm', facts, 0, count, 'legal')) all.push(blue(s));
  const some: number[] = [];
  for await (const s of movieFrames(pathOf(written), 'm', facts, 6, 3, 'legal')) some.push(blue(s));
  expect(some).toEqual(all.slice(6, 9));
  expect(new Set(all).size).toBeGreaterThan(5);
});

test('rates are fractions, a MOV has the timecode of its first frame, and 150 frames at 24 are 6.25 s', async () => {
  const slow = movie({ codec: 'prores', rate: 23.976 });
  await encodeMovie(slow, pathOf(slow, 'slow'));
  expect(probe(pathOf(slow, 'slow'))).toMatchObject({ r_frame_rate: '24000/1001', tags: { timecode: '00:00:41:17' } });
  const long = join(folder, 'long');
  mkdirSync(long);
  for (let f = 0; f < 150; f++)
    writeFileSync(join(long, `${String(f).padStart(7, '0')}.ppm`), encodeFrame(frame(f), { width, height }));
  const written = movie({ frames: { folder: long, count: 150 } });
  await encodeMovie(written, pathOf(written, 'long'));
  expect(Number(probe(pathOf(written, 'long')).duration)).toBe(6.25);
});

test('codecs say what they have numbers for', () => {
  expect(movieSays('prores', 'srgb')).toBe(false);
  expect(movieSays('prores', 'bt1886')).toBe(true);
  expect(movieSays('h264', 'p3Cinema')).toBe(false);
  expect(movieSays('vp9', 'displayP3')).toBe(true);
});

test('what the encoder refuses is said with the movie’s name, and leaves nothing', async () => {
  const empty = movie({ frames: { folder: join(folder, 'nowhere'), count } });
  await expect(encodeMovie(empty, join(folder, 'none.mp4'))).rejects.toThrow(/^none\.mp4: the encoder failed/);
  expect([existsSync(join(folder, 'none.mp4')), readdirSync(folder).filter((n) => n.startsWith('.'))]).toEqual([
    false,
    [],
  ]);
});

test('a frame that is gone is no end: there is no movie of the frames before it', async () => {
  const holed = join(folder, 'holed');
  mkdirSync(holed);
  for (const f of [0, 1, 3])
    writeFileSync(join(holed, `${String(f).padStart(7, '0')}.ppm`), encodeFrame(frame(f), { width, height }));
  const of = movie({ frames: { folder: holed, count: 4 } });
  await expect(encodeMovie(of, join(folder, 'holed.mp4'))).rejects.toThrow('holed.mp4: of its 4 frames the 3. is gone');
  expect(existsSync(join(folder, 'holed.mp4'))).toBe(false);
});
