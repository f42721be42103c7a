import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeFrame, encodeJpeg, encodeMovie, encodePngSamples, encodeTiff, type MovieCodec } from '../src/index.ts';

// What files say of their owner and besides is read by the reference image library and by ffprobe.

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'june-words-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const words = { owner: 'The ferry landing', comments: 'Take 3, the lantern lower; Wellen' };
const size = { width: 16, height: 8, channels: 3 as const };
const grey = new Uint8Array(16 * 8 * 3).fill(100);

test.each([
  ['png', () => encodePngSamples(grey, size, 'srgb', words)],
  ['deep.png', () => encodePngSamples(new Uint16Array(16 * 8 * 3).fill(7), size, 'srgb', words)],
  ['jpg', () => encodeJpeg(grey, size, 'srgb', 90, words)],
  ['tif', () => encodeTiff(grey, size, 'srgb', words)],
])('a picture says who owns it and what else is to be known: %s', async (name, encode) => {
  const path = join(folder, `words.${name}`);
  writeFileSync(path, await encode());
  const said = execFileSync('oiiotool', ['--info', '-v', path], { encoding: 'utf8' });
  expect(said).toMatch(/Copyright: "The ferry landing"/);
  expect(said).toMatch(/(ImageDescription|Comment): "Take 3, the lantern lower; Wellen"/);
  // What its codes are is said as before.
  expect(said).toMatch(/16 x +8/);
});

test('a TIFF with a word of three letters, which stands in its directory itself', async () => {
  const path = join(folder, 'short.tif');
  writeFileSync(path, await encodeTiff(grey, size, 'srgb', { owner: 'me', comments: '' }));
  expect(execFileSync('oiiotool', ['--info', '-v', path], { encoding: 'utf8' })).toMatch(/Copyright: "me"/);
});

test.each([
  ['h264', 'mp4'],
  ['vp9', 'webm'],
  ['prores', 'mov'],
] as [MovieCodec, string][])('a movie says so too: %s', async (codec, ending) => {
  const frames = join(folder, `${codec}-frames`);
  mkdirSync(frames);
  const samples = new Uint16Array(64 * 36 * 3).fill(9000);
  writeFileSync(join(frames, '0000000.ppm'), encodeFrame({ width: 64, height: 36, channels: 3, samples }));
  const path = join(folder, `words.${ending}`);
  await encodeMovie(
    {
      codec,
      quality: 80,
      encoding: 'bt1886',
      rate: 24,
      timecode: '01:00:00:00',
      words,
      frames: { folder: frames, alpha: false, count: 1 },
    },
    path,
  );
  const { format, streams } = JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_format', '-show_streams', path], {
      encoding: 'utf8',
    }),
  ) as { format: { tags: Record<string, string> }; streams: { tags?: Record<string, string> }[] };
  const tags = Object.fromEntries(Object.entries(format.tags).map(([k, v]) => [k.toLowerCase(), v]));
  expect(tags).toMatchObject({ copyright: words.owner, comment: words.comments });
  if (codec === 'prores') expect(streams.some((s) => s.tags?.timecode === '01:00:00:00')).toBe(true);
});
