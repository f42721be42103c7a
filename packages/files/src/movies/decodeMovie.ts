import { spawn } from 'node:child_process';
import {
  FormatError,
  rateFraction,
  type FileFacts,
  type StoredType,
  type VideoFrame,
  type VideoPlane,
} from '@june-haze/core';
import { fromColours, fromVideo, isVideo, type VideoMatrix } from './videoCodes.ts';
import type { DecodedFile } from '../formats/decodedFile.ts';

/** Matrices by the stream's own name for them; an untagged movie of HD size is BT.709 (common practice, no source). */
const matrices: Readonly<Record<string, VideoMatrix>> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  bt470bg: 'smpte170m',
  bt2020nc: 'bt2020nc',
  bt2020c: 'bt2020nc',
};

/** What must be known of a movie to decode it. */
type MovieToRead = Pick<
  FileFacts,
  'width' | 'height' | 'rate' | 'range' | 'attributes' | 'sampleType' | 'alpha' | 'notes'
>;

/** The arguments that decode frames to standard output, from half a frame before the first. */
function decoding(path: string, facts: MovieToRead, [first, count]: Frames, filters: string[], pixels: string) {
  const [frames, seconds] = rateFraction(facts.rate ?? 24);
  const constant = facts.notes.some((n) => n.includes('rate varies')) ? [`fps=${frames}/${seconds}`] : [];
  const from = String((Math.max(0, first - 0.5) * seconds) / frames);
  const all = [...constant, ...filters];
  return [
    ...['-v', 'error', '-protocol_whitelist', 'file,pipe', '-nostdin', '-threads', '1', '-ss', from],
    ...['-i', `file:${path}`, '-map', '0:v:0', '-frames:v', String(count), '-fps_mode', 'passthrough'],
    ...(all.length ? ['-vf', all.join(',')] : []),
    ...['-f', 'rawvideo', '-pix_fmt', pixels, '-'],
  ];
}

/** The first of some frames, and how many. */
type Frames = readonly [first: number, count: number];

/** The arguments that decode frames to red, green, blue and alpha of 16 bits. */
const decodingCodes = (path: string, facts: MovieToRead, range: 'full' | 'legal', frames: Frames) =>
  decoding(path, facts, frames, toCodes(facts, range), facts.alpha === 'none' ? 'rgb48le' : 'rgba64le');

const matrixOf = ({ attributes, height }: Pick<MovieToRead, 'attributes' | 'height'>): VideoMatrix =>
  matrices[attributes.matrix ?? ''] ?? (height >= 720 ? 'bt709' : 'smpte170m');

/** Filters from a movie's samples to red, green and blue. */
function toCodes(facts: MovieToRead, range: 'full' | 'legal'): string[] {
  const pixelFormat = facts.attributes['pixel format'] ?? 'yuv420p';
  if (!isVideo(pixelFormat)) return fromColours(facts.alpha !== 'none');
  const { width, height, sampleType } = facts;
  return fromVideo({
    pixelFormat,
    bits: bitsOf[sampleType] ?? 16,
    width,
    height,
    alpha: facts.alpha !== 'none',
    matrix: matrixOf(facts),
    range,
  });
}

const channelsOf = ({ alpha }: Pick<MovieToRead, 'alpha'>) =>
  alpha === 'none' ? ['R', 'G', 'B'] : ['R', 'G', 'B', 'A'];

/** Bits of a movie's samples. */
const bitsOf: Readonly<Partial<Record<StoredType, number>>> = { uint8: 8, uint10: 10, uint12: 12 };

/**
 * The movie library widens alpha to 16 bits by a shift, so that what covers is short of 1: here its own code over its own greatest, as 16 bits.
 * Codes are interleaved, alpha the fourth, and changed in place.
 */
function widenAlpha(codes: Uint16Array, { sampleType }: Pick<MovieToRead, 'sampleType'>): void {
  const bits = bitsOf[sampleType];
  if (bits === undefined) return;
  const most = 2 ** bits - 1;
  for (let i = 3; i < codes.length; i += 4) codes[i] = Math.round(((codes[i]! >> (16 - bits)) / most) * 65535);
}

/**
 * Decodes `count` frames of a movie from `first` (0 is the movie's first) to RGB code values, 0 … 1 over the range that `range` says;
 * alpha where there is one. Frame-exact: seeks to half a frame before. Throws a FormatError when a frame is not there.
 */
export async function decodeMovieFrames(
  path: string,
  name: string,
  facts: MovieToRead,
  first: number,
  count: number,
  range: 'full' | 'legal',
): Promise<DecodedFile[]> {
  const { width, height } = facts;
  const channels = channelsOf(facts);
  const size = width * height * channels.length * 2;
  const bytes = await output('ffmpeg', decodingCodes(path, facts, range, [first, count]), name, size * count);
  if (bytes.length < size) throw new FormatError(name, `frame ${first} cannot be decoded.`);
  return Array.from({ length: Math.floor(bytes.length / size) }, (_, i) =>
    split(frameOf(bytes.buffer as ArrayBuffer, bytes.byteOffset + i * size, size, facts), channels, width, height),
  );
}

/** A decoded frame's codes. */
function frameOf(buffer: ArrayBuffer, from: number, size: number, facts: MovieToRead): Uint16Array {
  const codes = new Uint16Array(buffer, from, size / 2);
  if (facts.alpha !== 'none') widenAlpha(codes, facts);
  return codes;
}

/**
 * `count` frames of a movie from `first` one after the other, in one pass: red, green, blue and, where the movie has it, alpha of 16 bits, interleaved,
 * full range. One frame is in memory at a time. Throws a FormatError when it cannot be decoded to its end.
 */
export async function* movieFrames(
  path: string,
  name: string,
  facts: MovieToRead,
  first: number,
  count: number,
  range: 'full' | 'legal',
): AsyncGenerator<Uint16Array> {
  const size = facts.width * facts.height * channelsOf(facts).length * 2;
  for await (const bytes of pictures(decodingCodes(path, facts, range, [first, count]), size, name))
    yield frameOf(bytes, 0, size, facts);
}

/** A frame as it is stored; alpha where the movie has it, of so many bits as the rest, in full range. */
export interface StoredFrame extends VideoFrame {
  readonly alpha?: VideoPlane;
}

/**
 * `count` frames of a movie from `first`, their samples untouched by any conversion, one in memory at a time. Throws a FormatError for a movie whose
 * samples are no planes of Y'CbCr of 8, 10 or 12 bits, and when it cannot be decoded to its end.
 */
export async function* storedFrames(
  path: string,
  name: string,
  facts: MovieToRead,
  first: number,
  count: number,
): AsyncGenerator<StoredFrame> {
  const pixels = facts.attributes['pixel format'] ?? '';
  const found = /^yuv(a?)(420|422|444)p(10|12)?(?:le)?$/.exec(pixels);
  if (!found) throw new FormatError(name, `its samples (${pixels}) are not read as they are.`);
  const { width, height } = facts;
  const bits = Number(found[3] ?? 8);
  const shared = ({ '420': [2, 2], '422': [2, 1], '444': [1, 1] } as const)[found[2] as '420' | '422' | '444'];
  const small = Math.ceil(width / shared[0]) * Math.ceil(height / shared[1]);
  const counts = [width * height, small, small, ...(found[1] ? [width * height] : [])];
  const size = counts.reduce((a, b) => a + b) * (bits > 8 ? 2 : 1);
  for await (const bytes of pictures(decoding(path, facts, [first, count], [], pixels), size, name)) {
    const all = bits > 8 ? new Uint16Array(bytes) : new Uint8Array(bytes);
    let at = 0;
    const [y, cb, cr, alpha] = counts.map((n) => all.subarray(at, (at += n)));
    yield {
      width,
      height,
      bits,
      shared,
      matrix: matrixOf(facts),
      range: facts.range ?? 'legal',
      y: y!,
      cb: cb!,
      cr: cr!,
      ...(alpha ? { alpha } : {}),
    };
  }
}

/** What the movie library gives out, picture by picture of so many bytes, each in memory of its own. Throws a FormatError when it does not end whole. */
async function* pictures(words: readonly string[], size: number, name: string): AsyncGenerator<ArrayBuffer> {
  const child = spawn('ffmpeg', words, { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  child.stderr.on('data', (block: Buffer) => (said = (said + block.toString()).slice(-2000)));
  const ended = new Promise<number | null>((resolve) => {
    child.on('error', () => resolve(null));
    child.on('close', resolve);
  });
  try {
    let picture = new ArrayBuffer(size);
    let at = 0;
    for await (const block of child.stdout as AsyncIterable<Buffer>) {
      for (let from = 0; from < block.length;) {
        const taken = block.copy(Buffer.from(picture), at, from);
        [at, from] = [at + taken, from + taken];
        if (at < size) continue;
        yield picture;
        [picture, at] = [new ArrayBuffer(size), 0];
      }
    }
    const code = await ended;
    if (code === null) throw new FormatError(name, 'movies need ffmpeg, which is not installed.');
    if (code !== 0 || at > 0)
      throw new FormatError(name, `it cannot be decoded to its end (${said.split('\n')[0]?.slice(0, 200)}).`);
  } finally {
    child.kill('SIGKILL');
  }
}

function split(codes: Uint16Array, channels: readonly string[], width: number, height: number): DecodedFile {
  const n = channels.length;
  const planes = channels.map((_, c) => {
    const plane = new Float32Array(width * height);
    for (let i = 0; i < plane.length; i++) plane[i] = codes[i * n + c]! / 65535;
    return plane;
  });
  return { width, height, planes: Object.fromEntries(channels.map((name, c) => [name, planes[c]!])) };
}

/** A program's output, no more than `limit` bytes of it, in memory of its own. */
function output(program: string, args: readonly string[], name: string, limit: number): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    const whole = Buffer.from(new ArrayBuffer(limit));
    let at = 0;
    let said = '';
    child.stdout.on('data', (block: Buffer) => {
      at += block.copy(whole, at);
    });
    child.stderr.on('data', (block: Buffer) => (said += block.toString()));
    child.on('error', () => reject(new FormatError(name, 'movies need ffmpeg, which is not installed.')));
    child.on('close', (code) => {
      if (code === 0) resolve(whole.subarray(0, at));
      else reject(new FormatError(name, `it cannot be decoded (${said.split('\n')[0]?.slice(0, 200)}).`));
    });
  });
}
