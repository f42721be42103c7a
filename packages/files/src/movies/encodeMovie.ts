import { spawn } from 'node:child_process';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { displayCodes, isHdr, rateFraction, type CodeEncoding } from '@june-haze/core';
import { temporaryName } from '../abandoned.ts';
import type { FileWords } from '../fileWords.ts';
import { WriteError } from '../writeWhole.ts';
import { toVideo, type VideoMatrix } from './videoCodes.ts';
import { frameNames, framePlace, sizeOfFrame, type FramesAside } from './movieFrame.ts';

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
  /** Where its frames lie, and how many there are. Of the codecs only ProRes holds alpha. */
  readonly frames: FramesAside & { readonly count: number };
}

/** The movie library's words for code points of ITU-T H.273. */
const primaryWords: Readonly<Record<number, string>> = { 1: 'bt709', 9: 'bt2020', 12: 'smpte432' };
const transferWords: Readonly<Record<number, string>> = {
  1: 'bt709',
  13: 'iec61966-2-1',
  16: 'smpte2084',
  18: 'arib-std-b67',
};
const matrixWords: Readonly<Record<number, VideoMatrix>> = { 1: 'bt709', 9: 'bt2020nc' };

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
function codecWords({ codec, quality, frames }: MovieToWrite, deep: boolean): string[] {
  // The encoders' own scales of constant quality run from 0, the best, to 51 and 63.
  const factor = (worst: number) => String(Math.max(1, Math.round(((100 - quality) / 100) * worst)));
  if (codec === 'h264') return ['-c:v', 'libx264', '-preset', 'medium', '-crf', factor(51)];
  if (codec === 'vp9')
    return ['-c:v', 'libvpx-vp9', '-crf', factor(63), '-b:v', '0', '-row-mt', '1', '-cpu-used', deep ? '3' : '2'];
  return ['-c:v', 'prores_ks', ...(frames.alpha ? ['-profile:v', '4444', '-alpha_bits', '16'] : ['-profile:v', 'hq'])];
}

/** The format of Y'CbCr samples: colour at half the width, and height but for ProRes; with alpha at each pixel. */
function samplesOf({ codec, frames }: MovieToWrite, deep: boolean): { pixelFormat: string; bits: number } {
  if (codec === 'prores') return { pixelFormat: frames.alpha ? 'yuva444p10le' : 'yuv422p10le', bits: 10 };
  return deep ? { pixelFormat: 'yuv420p10le', bits: 10 } : { pixelFormat: 'yuv420p', bits: 8 };
}

/** The arguments that write a movie to a path, and nothing else of the machine or the time into it: the same pictures give the same bytes. */
function argumentsOf(movie: MovieToWrite, size: { width: number; height: number }, path: string): string[] {
  const { codec, encoding, rate, frames } = movie;
  const [primaries, transfer, matrix] = displayCodes[encoding].codePoints!;
  const deep = isHdr(encoding);
  const [over, under] = rateFraction(rate);
  const tags = [primaryWords[primaries]!, transferWords[transfer]!, matrixWords[matrix]!] as const;
  const video = toVideo({ ...samplesOf(movie, deep), ...size, alpha: frames.alpha, matrix: matrixWords[matrix]! });
  const said = `setparams=range=tv:color_primaries=${tags[0]}:color_trc=${tags[1]}:colorspace=${tags[2]}`;
  const container = { h264: ['-movflags', '+faststart+write_colr'], vp9: [], prores: ['-movflags', '+write_colr'] };
  return [
    ...['-v', 'error', '-y', '-nostdin', '-protocol_whitelist', 'file,pipe'],
    ...['-f', 'image2', '-framerate', `${over}/${under}`, '-start_number', '0'],
    ...['-i', `file:${join(frames.folder, frameNames(frames))}`, '-frames:v', String(frames.count)],
    ...['-filter_threads', '1', '-map_metadata', '-1', '-vf', [...video, said].join(',')],
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
 * Puts frames (as `encodeFrame` makes them, without a gap) together to a movie that says what its codes are in
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
  try {
    const first = await sizeOfFrame(framePlace(movie.frames, 0)).catch(() => {
      throw goneFrame(movie, basename(path), 0);
    });
    const words = argumentsOf(movie, first, temporary);
    words.splice(-1, 0, '-f', format);
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

async function requireFrames(movie: MovieToWrite, name: string): Promise<void> {
  const { frames } = movie;
  const there = new Set(await readdir(frames.folder).catch(() => []));
  for (let i = 0; i < frames.count; i++)
    if (!there.has(basename(framePlace(frames, i)))) throw goneFrame(movie, name, i);
}

const goneFrame = ({ frames }: MovieToWrite, name: string, index: number): WriteError =>
  new WriteError(name, `of its ${frames.count} frames the ${index + 1}. is gone; write it again.`);

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
