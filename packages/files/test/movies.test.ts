import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blockDifferences, type CodeEncoding } from '@june-haze/core';
import {
  decodeFrame,
  decodeMovieFrames,
  encodeFrame,
  encodeMovie,
  framePlace,
  movieFrames,
  movieSays,
  noWords,
  readFacts,
  type FramesAside,
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

/** The same with alpha beside each: 0, what covers, and steps between. */
const frameWithAlpha = (f: number) => {
  const colours = frame(f);
  return Uint16Array.from({ length: width * height * 4 }, (_, i) => {
    const pixel = Math.floor(i / 4);
    return i % 4 < 3 ? colours[pixel * 3 + (i % 4)]! : alphaAt((pixel + 7 * f) % (width * height));
  });
};
const alphaAt = (pixel: number) => (pixel < 64 ? 0 : pixel < 128 ? 65535 : (pixel * 1009) % 65536);

/** Frames of the ramps in a folder of their own. */
function writeFrames(name: string, numbers: readonly number[], alpha = false): FramesAside {
  const frames = { folder: join(folder, name), alpha };
  mkdirSync(frames.folder);
  for (const f of numbers) {
    const samples = alpha ? frameWithAlpha(f) : frame(f);
    writeFileSync(framePlace(frames, f), encodeFrame({ width, height, channels: alpha ? 4 : 3, samples }));
  }
  return frames;
}
const numbersTo = (n: number) => Array.from({ length: n }, (_, f) => f);

const usual = { folder: join(folder, 'frames'), alpha: false };
beforeAll(() => void writeFrames('frames', numbersTo(count)));
afterAll(() => rmSync(folder, { recursive: true }));

const movie = (change: Partial<MovieToWrite> = {}): MovieToWrite => ({
  codec: 'h264',
  quality: 80,
  encoding: 'bt1886',
  rate: 24,
  timecode: '00:00:41:17',
  words: noWords,
  frames: { ...usual, count },
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
  const written = { width, height, channels: 3 as const, samples: frame(3) };
  const bytes = encodeFrame(written);
  expect(decodeFrame(bytes, 'x')).toEqual(written);
  const covered = { width, height, channels: 4 as const, samples: frameWithAlpha(3) };
  expect(decodeFrame(encodeFrame(covered), 'x')).toEqual(covered);
  expect(() => decodeFrame(encodeFrame(covered).subarray(0, -1), 'x.pam')).toThrow('x.pam: the file is cut short.');
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

test('ProRes with alpha: what covers and what is empty stay so, the rest within a code, and another reader sees the same', async () => {
  const written = movie({ codec: 'prores', frames: { ...writeFrames('covered', numbersTo(3), true), count: 3 } });
  const path = pathOf(written, 'covered');
  await encodeMovie(written, path);
  expect(probe(path)).toMatchObject({ profile: '4444', color_primaries: 'bt709', color_range: 'tv', width, height });
  const facts = await readFacts(path, path);
  expect(facts.alpha).toBe('straight');
  // A code of the 10 bits that the encoder keeps, and one of the 12 that its reader shows.
  const limit = 65535 * (1 / 1023 + 1 / 4095);
  let f = 0;
  for await (const samples of movieFrames(path, 'movie', facts, 0, 3, 'legal')) {
    const made = frameWithAlpha(f++);
    const apart = { alpha: 0, whole: 0, colour: 0 };
    made.forEach((v, i) => {
      const off = Math.abs(samples[i]! - v);
      if (i % 4 < 3) apart.colour = Math.max(apart.colour, off);
      else apart.alpha = Math.max(apart.alpha, off);
      if (i % 4 === 3 && (v === 0 || v === 65535)) apart.whole = Math.max(apart.whole, off);
    });
    expect(apart.whole).toBe(0);
    expect(apart.alpha).toBeLessThanOrEqual(limit);
    expect(apart.colour).toBeLessThan(65535 * (6 / 1023));
  }
  expect(f).toBe(3);
  // As a source: the same alpha, 0 … 1.
  const [first] = await decodeMovieFrames(path, path, facts, 0, 1, 'legal');
  expect([first!.planes.A![0], first!.planes.A![64]]).toEqual([0, 1]);
  // The movie library's own way from its alpha to 8 bits.
  const raw = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-vf',
    'alphaextract',
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gray',
    '-',
  ]);
  const off = Array.from(raw, (v, i) => Math.abs(v - alphaAt(i) / 257));
  expect(Math.max(...off)).toBeLessThan(2);
});

test('a movie without alpha keeps saying that it has none', async () => {
  const written = movie({ codec: 'prores' });
  await encodeMovie(written, pathOf(written, 'plain'));
  expect((await readFacts(pathOf(written, 'plain'), 'plain.mov')).alpha).toBe('none');
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
  const written = movie({ frames: { ...writeFrames('long', numbersTo(150)), count: 150 } });
  await encodeMovie(written, pathOf(written, 'long'));
  expect(Number(probe(pathOf(written, 'long')).duration)).toBe(6.25);
});

test('codecs say what they have numbers for', () => {
  expect(movieSays('prores', 'srgb')).toBe(false);
  expect(movieSays('prores', 'bt1886')).toBe(true);
  expect(movieSays('h264', 'p3Cinema')).toBe(false);
  expect(movieSays('vp9', 'displayP3')).toBe(true);
});

test('what is not there is said with the movie’s name, and leaves nothing', async () => {
  const empty = movie({ frames: { folder: join(folder, 'nowhere'), alpha: false, count } });
  await expect(encodeMovie(empty, join(folder, 'none.mp4'))).rejects.toThrow(
    'none.mp4: of its 10 frames the 1. is gone',
  );
  expect([existsSync(join(folder, 'none.mp4')), readdirSync(folder).filter((n) => n.startsWith('.'))]).toEqual([
    false,
    [],
  ]);
});

test('a frame that is gone is no end: there is no movie of the frames before it', async () => {
  const of = movie({ frames: { ...writeFrames('holed', [0, 1, 3]), count: 4 } });
  await expect(encodeMovie(of, join(folder, 'holed.mp4'))).rejects.toThrow('holed.mp4: of its 4 frames the 3. is gone');
  expect(existsSync(join(folder, 'holed.mp4'))).toBe(false);
});
