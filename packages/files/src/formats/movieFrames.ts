import { spawn } from 'node:child_process';
import { FormatError, rateFraction, type FileFacts } from '@june-haze/core';
import type { DecodedFile } from './decodedFile.ts';

/** Matrices by the stream's own name for them; an untagged movie of HD size is BT.709 (common practice, no source). */
const matrices: Readonly<Record<string, string>> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  bt470bg: 'smpte170m',
  bt2020nc: 'bt2020',
  bt2020c: 'bt2020',
};

/**
 * Decodes `count` frames of a movie from `first` (0 is the movie's first) to RGB code values, 0 … 1 over the range that `range` says;
 * alpha where there is one. Frame-exact: seeks to half a frame before. Throws a FormatError when a frame is not there.
 */
export async function decodeMovieFrames(
  path: string,
  name: string,
  facts: Pick<FileFacts, 'width' | 'height' | 'rate' | 'attributes' | 'sampleType' | 'alpha' | 'notes'>,
  first: number,
  count: number,
  range: 'full' | 'legal',
): Promise<DecodedFile[]> {
  const { width, height } = facts;
  const [frames, seconds] = rateFraction(facts.rate ?? 24);
  const alpha = facts.alpha !== 'none';
  const channels = alpha ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'];
  const matrix = matrices[facts.attributes.matrix ?? ''] ?? (height >= 720 ? 'bt709' : 'smpte170m');
  const yuv = /^(yuv|nv|p0)/.test(facts.attributes['pixel format'] ?? 'yuv');
  const scale = `scale=${yuv ? `in_color_matrix=${matrix}:in_range=${range === 'legal' ? 'tv' : 'pc'}:` : ''}out_range=pc:flags=accurate_rnd+full_chroma_int+full_chroma_inp+bicubic`;
  const constant = facts.notes.some((n) => n.includes('rate varies')) ? [`fps=${frames}/${seconds}`] : [];
  const bytes = await output(
    'ffmpeg',
    [
      ...[
        '-v',
        'error',
        '-protocol_whitelist',
        'file,pipe',
        '-nostdin',
        '-threads',
        '1',
        '-ss',
        String((Math.max(0, first - 0.5) * seconds) / frames),
      ],
      ...['-i', `file:${path}`, '-map', '0:v:0', '-frames:v', String(count), '-fps_mode', 'passthrough'],
      ...['-vf', [...constant, scale].join(','), '-f', 'rawvideo', '-pix_fmt', alpha ? 'rgba64le' : 'rgb48le', '-'],
    ],
    name,
    width * height * channels.length * 2 * count,
  );
  const size = width * height * channels.length * 2;
  if (bytes.length < size) throw new FormatError(name, `frame ${first} cannot be decoded.`);
  return Array.from({ length: Math.floor(bytes.length / size) }, (_, i) =>
    split(new Uint16Array(bytes.buffer, bytes.byteOffset + i * size, size / 2), channels, width, height),
  );
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
