import { spawn } from 'node:child_process';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { displayCodes, isHdr, rateFraction, type CodeEncoding } from '@june-haze/core';
import { temporaryName } from '../abandoned.ts';
import type { FileWords } from '../fileWords.ts';
import { WriteError } from '../writeWhole.ts';
import { frameNames, framePlace } from './movieFrame.ts';

/** How a movie is packed. */
export type MovieCodec = 'h264' | 'vp9' | 'prores';

export interface MovieToWrite {
  readonly codec: MovieCodec;
  /** 1 … 100, 100 the best; ProRes has no choice of it. */
  readonly quality: number;
  /** What the pictures' codes are, with code points of ITU-T H.273. */
  readonly encoding: CodeEncoding;
  readonly rate: number;
  /** Of the first frame, hh:mm:ss:ff: in movies that have a place for it (MOV). */
  readonly timecode: string;
  readonly words: FileWords;
  /** Where its frames lie, `0000000.ppm` the first of them, and how many there are. */
  readonly frames: { readonly folder: string; readonly count: number };
}

/** The movie library's words for code points of ITU-T H.273. */
const primaryWords: Readonly<Record<number, string>> = { 1: 'bt709', 9: 'bt2020', 12: 'smpte432' };
const transferWords: Readonly<Record<number, string>> = {
  1: 'bt709',
  13: 'iec61966-2-1',
  16: 'smpte2084',
  18: 'arib-std-b67',
};
const matrixWords: Readonly<Record<number, string>> = { 1: 'bt709', 9: 'bt2020nc' };

/** Transfers that the stream of a codec has no number for, so that it would say nothing. */
const unsaid: Readonly<Record<MovieCodec, readonly number[]>> = { h264: [], vp9: [], prores: [13] };

/** Whether a codec's movies can say codes of a kind. */
export function movieSays(codec: MovieCodec, encoding: CodeEncoding): boolean {
  const points = displayCodes[encoding].codePoints;
  return points !== undefined && !unsaid[codec].includes(points[1]);
}

/** Threads of an encoder: a number of its own, whatever machine it is, since the bytes that it writes depend on it. */
const threads = 4;

/** What each codec is told. Rates of 8 bits for what a display of SDR shows, 10 for HDR; ProRes has 10 always. */
function codecWords({ codec, quality }: MovieToWrite, deep: boolean): string[] {
  // The encoders' own scales of constant quality run from 0, the best, to 51 and 63.
  const factor = (worst: number) => String(Math.max(1, Math.round(((100 - quality) / 100) * worst)));
  if (codec === 'h264') return ['-c:v', 'libx264', '-preset', 'medium', '-crf', factor(51)];
  if (codec === 'vp9')
    return ['-c:v', 'libvpx-vp9', '-crf', factor(63), '-b:v', '0', '-row-mt', '1', '-cpu-used', deep ? '3' : '2'];
  return ['-c:v', 'prores_ks', '-profile:v', 'hq'];
}

/** The format of Y'CbCr samples: colour at half the width, and height but for ProRes. */
const samplesOf = (codec: MovieCodec, deep: boolean): string =>
  codec === 'prores' ? 'yuv422p10le' : deep ? 'yuv420p10le' : 'yuv420p';

/** The arguments that write a movie to a path, and nothing else of the machine or the time into it: the same pictures give the same bytes. */
function argumentsOf(movie: MovieToWrite, path: string): string[] {
  const { codec, encoding, rate, frames } = movie;
  const [primaries, transfer, matrix] = displayCodes[encoding].codePoints!;
  const deep = isHdr(encoding);
  const [over, under] = rateFraction(rate);
  const tags = [primaryWords[primaries]!, transferWords[transfer]!, matrixWords[matrix]!] as const;
  // Legal range of Y'CbCr (ITU-R BT.709-6, item 5.6); each sample rounded to the nearest.
  const scale = `scale=out_color_matrix=${matrix === 9 ? 'bt2020' : 'bt709'}:out_range=tv:flags=accurate_rnd+full_chroma_int+full_chroma_inp+bicubic+bitexact`;
  const said = `setparams=range=tv:color_primaries=${tags[0]}:color_trc=${tags[1]}:colorspace=${tags[2]}`;
  const container = { h264: ['-movflags', '+faststart+write_colr'], vp9: [], prores: ['-movflags', '+write_colr'] };
  return [
    ...['-v', 'error', '-y', '-nostdin', '-protocol_whitelist', 'file,pipe'],
    ...['-f', 'image2', '-framerate', `${over}/${under}`, '-start_number', '0'],
    ...['-i', `file:${join(frames.folder, frameNames)}`, '-frames:v', String(frames.count)],
    ...['-map_metadata', '-1', '-vf', [scale, `format=${samplesOf(codec, deep)}`, said].join(',')],
    ...codecWords(movie, deep),
    ...['-threads', String(threads), '-color_primaries', tags[0], '-color_trc', tags[1]],
    ...['-colorspace', tags[2], '-color_range', 'tv', ...container[codec]],
    ...(codec === 'prores' ? ['-timecode', movie.timecode] : []),
    ...(movie.words.owner ? ['-metadata', `copyright=${movie.words.owner}`] : []),
    ...(movie.words.comments ? ['-metadata', `comment=${movie.words.comments}`] : []),
    ...['-fflags', '+bitexact', '-flags:v', '+bitexact', `file:${path}`],
  ];
}

/**
 * Puts frames (as `encodeFrame` makes them, `0000000.ppm` and so on, without a gap) together to a movie that says what its codes are in
 * its stream and in its container. It is there whole or not at all. The same pictures give the same bytes. Throws a WriteError with what
 * the encoder said.
 */
export async function encodeMovie(movie: MovieToWrite, path: string): Promise<void> {
  await mkdir(dirname(path), { recursive: true });
  const ending = extname(path);
  // The container goes by the ending, which a temporary name does not have: it lies in a folder that does.
  const temporary = join(dirname(path), temporaryName(basename(path)));
  const format = { '.mp4': 'mp4', '.webm': 'webm', '.mov': 'mov' }[ending];
  if (!format) throw new WriteError(basename(path), `there are no movies ending in ${ending}.`);
  const words = argumentsOf(movie, temporary);
  words.splice(-1, 0, '-f', format);
  try {
    await encode(words, basename(path));
    // The encoder takes a frame that is not there for the end.
    await requireFrames(movie, basename(path));
    const handle = await open(temporary, 'r+');
    await handle.sync().finally(() => handle.close());
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}

async function requireFrames({ frames: { folder, count } }: MovieToWrite, name: string): Promise<void> {
  const there = new Set(await readdir(folder).catch(() => []));
  for (let i = 0; i < count; i++)
    if (!there.has(basename(framePlace(folder, i))))
      throw new WriteError(name, `of its ${count} frames the ${i + 1}. is gone; write it again.`);
}

function encode(words: readonly string[], name: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn('ffmpeg', words, { stdio: ['ignore', 'ignore', 'pipe'] });
    let said = '';
    child.stderr.on('data', (block: Buffer) => (said = (said + block.toString()).slice(-2000)));
    child.on('error', () => reject(new WriteError(name, 'movies need ffmpeg, which is not installed.')));
    child.on('close', (code) => {
      if (code === 0) return resolve();
      const full = /No space left/i.test(said);
      const why = full
        ? 'the disk is full; make room and write it again.'
        : `the encoder failed (${said.trim().split('\n').at(-1)?.slice(0, 200) ?? `code ${code}`}).`;
      reject(new WriteError(name, why));
    });
  });
}
