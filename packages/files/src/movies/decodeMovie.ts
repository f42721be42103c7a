import { spawn } from 'node:child_process';
import { FormatError, rateFraction, type FileFacts } from '@june-haze/core';
import type { DecodedFile } from '../formats/decodedFile.ts';

/** Matrices by the stream's own name for them; an untagged movie of HD size is BT.709 (common practice, no source). */
const matrices: Readonly<Record<string, string>> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  bt470bg: 'smpte170m',
  bt2020nc: 'bt2020',
  bt2020c: 'bt2020',
};

/** What must be known of a movie to decode it. */
type MovieToRead = Pick<FileFacts, 'width' | 'height' | 'rate' | 'attributes' | 'sampleType' | 'alpha' | 'notes'>;

/** The arguments that decode frames to RGB of 16 bits on standard output, from half a frame before the first. */
function decoding(path: string, facts: MovieToRead, range: 'full' | 'legal', first: number, count: number): string[] {
  const [frames, seconds] = rateFraction(facts.rate ?? 24);
  const matrix = matrices[facts.attributes.matrix ?? ''] ?? (facts.height >= 720 ? 'bt709' : 'smpte170m');
  const yuv = /^(yuv|nv|p0)/.test(facts.attributes['pixel format'] ?? 'yuv');
  const scale = `scale=${yuv ? `in_color_matrix=${matrix}:in_range=${range === 'legal' ? 'tv' : 'pc'}:` : ''}out_range=pc:flags=accurate_rnd+full_chroma_int+full_chroma_inp+bicubic`;
  const constant = facts.notes.some((n) => n.includes('rate varies')) ? [`fps=${frames}/${seconds}`] : [];
  const from = String((Math.max(0, first - 0.5) * seconds) / frames);
  return [
    ...['-v', 'error', '-protocol_whitelist', 'file,pipe', '-nostdin', '-threads', '1', '-ss', from],
    ...['-i', `file:${path}`, '-map', '0:v:0', '-frames:v', String(count), '-fps_mode', 'passthrough'],
    ...['-vf', [...constant, scale].join(','), '-f', 'rawvideo'],
    ...['-pix_fmt', facts.alpha === 'none' ? 'rgb48le' : 'rgba64le', '-'],
  ];
}

const channelsOf = ({ alpha }: MovieToRead) => (alpha === 'none' ? ['R', 'G', 'B'] : ['R', 'G', 'B', 'A']);

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
  const bytes = await output('ffmpeg', decoding(path, facts, range, first, count), name, size * count);
  if (bytes.length < size) throw new FormatError(name, `frame ${first} cannot be decoded.`);
  return Array.from({ length: Math.floor(bytes.length / size) }, (_, i) =>
    split(new Uint16Array(bytes.buffer, bytes.byteOffset + i * size, size / 2), channels, width, height),
  );
}

/**
 * `count` frames of a movie without alpha from `first` one after the other, in one pass: red, green and blue of 16 bits, interleaved, full range. One frame is
 * in memory at a time. Throws a FormatError when it cannot be decoded to its end.
 */
export async function* movieFrames(
  path: string,
  name: string,
  facts: MovieToRead,
  first: number,
  count: number,
  range: 'full' | 'legal',
): AsyncGenerator<Uint16Array> {
  const size = facts.width * facts.height * 3 * 2;
  const words = decoding(path, { ...facts, alpha: 'none' }, range, first, count);
  const child = spawn('ffmpeg', words, { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  child.stderr.on('data', (block: Buffer) => (said = (said + block.toString()).slice(-2000)));
  const ended = new Promise<number | null>((resolve) => {
    child.on('error', () => resolve(null));
    child.on('close', resolve);
  });
  try {
    let frame = Buffer.from(new ArrayBuffer(size));
    let at = 0;
    for await (const block of child.stdout as AsyncIterable<Buffer>) {
      for (let from = 0; from < block.length;) {
        const taken = block.copy(frame, at, from);
        [at, from] = [at + taken, from + taken];
        if (at < size) continue;
        yield new Uint16Array(frame.buffer, 0, size / 2);
        [frame, at] = [Buffer.from(new ArrayBuffer(size)), 0];
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
