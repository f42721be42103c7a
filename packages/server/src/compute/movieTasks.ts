import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import {
  blockDifferences,
  comparePictures,
  codesOfVideo,
  coloursOf,
  coveringCodes,
  displayCodes,
  encodingOfSpace,
  recodePicture,
  toEightBits,
  type CodeEncoding,
  type FileFacts,
  type VideoPlane,
} from '@june-haze/core';
import type { OutputSettings, ReadBack } from '@june-haze/contract';
import {
  decodeFrame,
  encodeMovie,
  framePlace,
  readFacts,
  storedFrames,
  type FrameSamples,
  type MovieToWrite,
  type StoredFrame,
} from '@june-haze/files';
import { figuresOf, saveProofPictures, strayedOf } from './readBack.ts';
import { encodingOf, opened, type OpenedTask, type WriteTask } from './writeTask.ts';

export interface MovieTask extends Pick<WriteTask, 'viewing' | 'colour' | 'rate' | 'width' | 'height' | 'path'> {
  readonly settings: OutputSettings;
  readonly timecode: string;
  readonly words: MovieToWrite['words'];
  readonly frames: MovieToWrite['frames'];
  /** Where the three proof pictures of the first frame go. */
  readonly picturesFolder: string | undefined;
}

/** Some frames of a movie, by their places in it. */
export interface MoviePart extends MovieTask {
  readonly first: number;
  readonly count: number;
}

/** What a reader that ignores all tags takes a movie's codes for: video of BT.709 on a display of BT.1886 (common practice, no source). */
const untagged: CodeEncoding = 'bt1886';

/**
 * How far the means of 99 of 100 8x8 blocks may stray, in code values of 255: rounding of Y'CbCr to 8 bits moves B by up to 1.4 (ITU-R BT.709-6,
 * item 3.2: 0.5 + 1.8556 / 2), the rest is what the encoder leaves out (measured on the demo, with room; no source).
 */
const blockLimits = { h264: 3, vp9: 3, prores: 2 } as const;

/** The same for alpha, which is packed without loss: of 16 bits the encoder cuts off all but 10, of which its reader shows 12. */
const alphaLimit = 1 / 1023 + 1 / 4095;

/** The same with its colours opened. */
export type OpenedMovie = Omit<MovieTask, 'colour'> & Pick<OpenedTask, 'colour'>;

const movieOf = (task: OpenedMovie): MovieToWrite => ({
  codec: task.settings.codec,
  quality: task.settings.quality,
  rate: task.rate,
  timecode: task.timecode,
  words: task.words,
  frames: task.frames,
  encoding: encodingOf(task),
});

/** Puts a movie together of its frames. */
export const encodeMovieFile = (task: MovieTask): Promise<void> => encodeMovie(movieOf(opened(task)), task.path);

/**
 * Decodes some frames of a movie by its own tags and compares each with what was shown. Its samples become codes by the standard's own numbers, not
 * by the filters that it was written with.
 */
export const proveMovieFrames = (task: MoviePart): Promise<ReadBack[]> => proveFramesOf(opened(task), task);

/** The same for who has the colours open. */
export async function proveFramesOf(
  task: OpenedMovie,
  { first, count }: Pick<MoviePart, 'first' | 'count'>,
): Promise<ReadBack[]> {
  const { path } = task;
  const name = basename(path);
  const facts = await readFacts(path, name);
  const judge = judgeOf(facts, task);
  const readBacks: ReadBack[] = [];
  for await (const stored of storedFrames(path, name, facts, first, count)) {
    const frame = first + readBacks.length;
    const file = framePlace(task.frames, frame);
    const written = decodeFrame(await readFile(file), file);
    const { shown, readBack, tagged, ignoring } = judge(written, stored, frame === 0);
    if (frame === 0 && task.picturesFolder !== undefined)
      await saveProofPictures(task.picturesFolder, task, { shown, tagged, ignoring });
    readBacks.push(readBack);
  }
  if (readBacks.length < count)
    throw new Error(`${name}: it reads back ${first + readBacks.length} frames of ${first + count}.`);
  return readBacks;
}

/** How a frame that was read is held against what was shown. */
function judgeOf(facts: FileFacts, task: OpenedMovie) {
  const movie = movieOf(task);
  const { encoding } = movie;
  const found = foundEncoding(facts);
  const faults = faultsOf(facts, movie, task);
  const limit = blockLimits[movie.codec];
  return (written: FrameSamples, stored: StoredFrame, isKept: boolean) => {
    const shown = toCodes(written.samples, written.channels);
    const read = codesOfVideo(stored);
    const tagged = recodePicture(read, found ?? untagged, encoding);
    const ignoring = recodePicture(read, untagged, encoding);
    const alpha = stored.alpha && written.channels === 4 ? largestAlphaApart(written, stored.alpha, stored.bits) : null;
    const { largest, most } = blockDifferences(shown, tagged, task.width);
    const difference = figuresOf(comparePictures(shown, tagged, task.width, encoding));
    const same = (found ?? untagged) === untagged;
    const readBack: ReadBack = {
      tagged: difference,
      ignoring: same ? difference : figuresOf(strayedOf(shown, ignoring, task.width, encoding, isKept)),
      tags: `video tags say ${found ? displayCodes[found].name : 'nothing that is known'}, ${facts.range ?? 'no'} range`,
      alpha,
      judged: [
        `lossy: means of 99 % of 8×8 blocks differ by at most ${most.toFixed(2)} of ${limit} code values, the largest by ${largest.toFixed(2)}`,
        ...(alpha === null ? [] : [`alpha differs by at most ${alpha.toFixed(4)} of ${alphaLimit.toFixed(4)}`]),
        ...faults,
      ].join('; '),
      proved: most <= limit && (alpha ?? 0) <= alphaLimit && faults.length === 0,
    };
    return { shown, readBack, tagged, ignoring };
  };
}

/** The codes that a movie's own tags say. */
const foundEncoding = ({ evidence }: FileFacts): CodeEncoding | undefined => {
  const space = evidence.find((e) => e.from === 'colour tags')?.space;
  return space === undefined ? undefined : encodingOfSpace(space);
};

/** What a movie says of itself that is not what was written. */
function faultsOf(facts: FileFacts, movie: MovieToWrite, size: { width: number; height: number }): string[] {
  const found = foundEncoding(facts);
  return [
    ...(found === movie.encoding ? [] : ['its tags are not the ones that were written']),
    ...((facts.alpha === 'none') === !movie.frames.alpha
      ? []
      : [facts.alpha === 'none' ? 'it has no alpha' : 'it has alpha']),
    ...(facts.frames === movie.frames.count ? [] : [`it says ${facts.frames} frames`]),
    ...(facts.width === size.width && facts.height === size.height ? [] : ['its size is another']),
    ...(Math.abs((facts.rate ?? 0) - movie.rate) < 0.001 * movie.rate ? [] : [`its rate is ${facts.rate}`]),
  ];
}

/** The colours of samples of 16 bits as RGBA8 codes that cover. */
export const toCodes = (samples: Uint16Array, channels: 3 | 4 = 3): Uint8Array =>
  coveringCodes(toEightBits(channels === 3 ? samples : coloursOf(samples)));

/** The largest difference, 0 … 1, of a frame's alpha from that of a movie. */
function largestAlphaApart({ samples }: FrameSamples, alpha: VideoPlane, bits: number): number {
  const greatest = 2 ** bits - 1;
  let most = 0;
  for (let i = 0; i < alpha.length; i++)
    most = Math.max(most, Math.abs(samples[4 * i + 3]! / 65535 - alpha[i]! / greatest));
  return most;
}
