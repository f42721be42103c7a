import { basename, join } from 'node:path';
import { existsSync } from 'node:fs';
import { canRecode, displayCodes, findSpace, hdrIsApart, isLossless, type CodeEncoding } from '@june-haze/core';
import {
  codesOfSpace,
  extensionOf,
  fileOfFrame,
  fileKindOf,
  filesOfFrame,
  halvesOddSide,
  hasQuality,
  isOneFile,
  isPictureKind,
  mayHoldStraightAlpha,
  sizeOfOutput,
  timecodeFrame,
  windowsOfOutput,
  writesAlpha,
  type Job,
  type JobOutput,
} from '@june-haze/contract';
import { movieSays, type FileWords } from '@june-haze/files';
import { besideJob, JobError } from './jobFiles.ts';
import { inWords, type OpenedJob } from './openJob.ts';

/** What is wrong with an output's passes and mattes. */
function unfitPasses({ job, sources }: OpenedJob, output: JobOutput): string | undefined {
  const { kind, passes = [], mattes = [], layering, pattern, compression = 'zip' } = output;
  if (kind !== 'passes') return passes.length || mattes.length || layering ? `${kind} has no passes.` : undefined;
  if (!passes.length && !mattes.length) return 'there are neither passes nor mattes.';
  if (!isLossless(compression)) return `${compression} loses a little; passes are packed without loss.`;
  for (const { source, pass } of passes) {
    const found = sources.find((s) => s.name === source);
    if (!found) return `there is no source "${source}".`;
    if (found.facts.kind !== 'exr') return `"${source}" is no EXR; only passes of EXR files are packed anew.`;
    if (!found.facts.passes.some((p) => p.name === pass)) return `"${source}" has no pass "${pass}".`;
  }
  const lost = mattes.find((m) => !Object.hasOwn(job.mattes, m));
  if (lost !== undefined) return `there is no matte "${lost}".`;
  if (layering === 'files' && !pattern.includes('{pass}'))
    return `${pattern} has no {pass}, and each pass has a file of its own.`;
  return undefined;
}

/** All files of a frame, in the order of its passes and mattes where each has its own. */
export function filesOfJobFrame({ output, pattern }: JobWriting, frame: number): string[] {
  const { kind, layering = 'together', passes = [], mattes = [], offset = 0 } = output;
  const chosen = passes.map(({ source, pass }) => ({ sourceId: source, pass }));
  return filesOfFrame({ pattern, settings: { kind, layering, passes: chosen, mattes, offset } }, frame);
}

/** The file of a frame: its number in the name is the frame's and the output's offset. */
export const fileOfJobFrame = ({ output, pattern }: JobWriting, frame: number): string =>
  fileOfFrame({ pattern, settings: { offset: output.offset ?? 0 } }, frame);

/** What an output's files say besides pixels and colours. */
export const wordsOf = ({ owner = '', comments = '' }: JobOutput): FileWords => ({ owner, comments });

/** The frames that an output writes: those that were asked for, its own or the job's; every nth from the first. */
export function framesOf(
  job: Pick<Job, 'frames'>,
  { frames, step = 1 }: Pick<JobOutput, 'frames' | 'step'>,
  asked?: readonly [first: number, last: number],
): number[] {
  const [first, last] = asked ?? frames ?? job.frames;
  return Array.from({ length: Math.max(0, Math.floor((last - first) / step) + 1) }, (_, i) => first + i * step);
}

/** The rate that an output's files say, and a frame's time code as a count of frames. */
export function timeOf({ job }: OpenedJob, output: JobOutput, frame: number) {
  const { rate = job.rate, timecode, step = 1 } = output;
  const [firstFrame, lastFrame] = output.frames ?? job.frames;
  const range = { firstFrame, lastFrame, step, timecode: timecode ?? null };
  return { rate, timecode: timecodeFrame(range, rate, frame) };
}

/** How an output's pictures are made and written, with all that it leaves out filled in. */
export interface JobWriting {
  readonly output: JobOutput;
  /** Where the files go; hash marks stand for the frame. */
  readonly pattern: string;
}

/** The sample types that a kind can hold, its usual one first; a movie's are its codec's. */
const sampleTypes: Readonly<Record<JobOutput['kind'], readonly string[]>> = {
  exr: ['half', 'float'],
  aces: ['half'],
  png: ['uint8', 'uint16'],
  jpeg: ['uint8'],
  tiff: ['uint8', 'uint16'],
  dpx: ['uint10'],
  movie: [],
  sheet: [],
  passes: [],
};

/** Looks whether an output can be written, before anything is. Throws a JobError that names it and what is wrong. */
export function planOutput(opened: OpenedJob, output: JobOutput, to: string | undefined): JobWriting {
  const { job, folder, colour } = opened;
  const refuse = (why: string) => new JobError(`outputs, ${output.name}: ${why}`);
  const why =
    unfitSettings(output) ??
    unfitPasses(opened, output) ??
    unfitName(output, framesOf(job, output).length > 1) ??
    unfitSize(opened, output);
  if (why !== undefined) throw refuse(why);
  if (output.space !== null && !colour.knows(output.space)) throw refuse(`there is no colour space "${output.space}".`);
  if (output.kind === 'aces' && !colour.linearTwin(job.working))
    throw refuse(`${job.working} has no known way to ACES2065-1.`);
  if (output.space === null && output.kind !== 'aces' && output.kind !== 'passes') {
    const { viewing } = job;
    if (!viewing) throw refuse('through the viewing, but the job has none; give it a space or the job a viewing.');
    inWords(() => colour.view(job.working, viewing));
  }
  const unsaid = isPictureKind(output.kind) ? unsaidCodes(opened, output) : undefined;
  if (unsaid !== undefined) throw refuse(unsaid);
  const path = besideJob(folder, output.pattern);
  return { output, pattern: to === undefined ? path : join(to, basename(path)) };
}

/** What kind of files an output's are, with what is usual where it says nothing. */
export const fileOf = ({ kind, codec = 'h264', sheetFile = 'png' }: JobOutput) => ({ kind, codec, sheetFile });

/** What of an output's settings its kind does not have, as a sentence. */
function unfitSettings(output: JobOutput): string | undefined {
  const { kind, space, sampleType, compression, codec, quality, codes, alpha, dither } = output;
  const types = sampleTypes[kind];
  const picture = isPictureKind(kind);
  if (sampleType && !types.includes(sampleType))
    return `${kind} has no samples of type ${sampleType}; ${types.length ? `there are ${types.join(' and ')}` : 'its codec settles them'}.`;
  if (compression && kind !== 'exr' && kind !== 'passes') return `${kind} has no choice of packing.`;
  if (codec && kind !== 'movie') return `${kind} has no codec.`;
  if (quality && !hasQuality(fileOf(output))) return `${kind} has no quality.`;
  if ((output.columns || output.labels !== undefined || output.sheetFile) && kind !== 'sheet')
    return `${kind} has neither columns nor labels.`;
  if (codes && (!picture || space !== null)) return 'codes are of pictures through the viewing.';
  if (alpha !== undefined && kind !== 'exr' && kind !== 'aces' && !mayHoldStraightAlpha(fileOf(output)))
    return `${kind} has no choice of alpha.`;
  if (output.keepWindow && (kind !== 'exr' || !output.crop)) return 'only a part, of an EXR, has another data window.';
  if (dither && (!picture || isOneFile(output) || sampleType === 'uint16')) return 'dither is of 8-bit pictures.';
  if (kind === 'aces' && space !== null) return 'the ACES container is in ACES2065-1; it takes no space.';
  if (kind === 'dpx' && (space === null || findSpace(space)?.family !== 'log'))
    return 'a DPX holds a log curve; give it one of the log spaces.';
  return undefined;
}

/** What is wrong with the name of an output's files. */
function unfitName(output: JobOutput, many: boolean): string | undefined {
  const { kind, pattern } = output;
  const marks = basename(pattern).includes('#');
  if (!isOneFile(output))
    return marks || !many ? undefined : `${pattern} has no hash marks: all frames would be one file.`;
  const ending = `.${extensionOf(fileOf(output))}`;
  const what = kind === 'movie' ? 'movie of this codec' : 'sheet of this kind';
  if (marks) return `${pattern} has hash marks, and a ${kind} is one file.`;
  return pattern.endsWith(ending) ? undefined : `a ${what} ends in ${ending}, and ${pattern} does not.`;
}

/** Why files of an output cannot say what their codes are. */
function unsaidCodes(opened: OpenedJob, output: JobOutput): string | undefined {
  const { kind, codec = 'h264', codes } = output;
  const called = output.space ?? opened.job.viewing!.display;
  const own = displayCodesOf(opened);
  if (codes && own && !canRecode(own, codes)) return hdrIsApart;
  const encoding = encodingOfOutput(opened, output);
  if (!encoding)
    return `${kindWords[kind]} files cannot be tagged for ${called}; those of sRGB, BT.1886, Display P3, P3 gamma 2.6, PQ and HLG can.`;
  const file = fileKindOf(fileOf(output));
  const profiled = file === 'jpeg' || file === 'tiff';
  if ((profiled && !displayCodes[encoding].iccCurve) || (kind === 'movie' && !movieSays(codec, encoding)))
    return `${kind === 'movie' ? `${codec} movies` : `${kindWords[kind]} files`} cannot say codes of ${displayCodes[encoding].name}.`;
  return undefined;
}

const kindWords = {
  exr: 'EXR',
  aces: 'EXR',
  dpx: 'DPX',
  png: 'PNG',
  jpeg: 'JPEG',
  tiff: 'TIFF',
  movie: 'Movie',
  sheet: 'Contact sheet',
  passes: 'EXR',
} as const;

/** What the codes of the viewing's display are; undefined where it does not say. */
export const displayCodesOf = ({ job, colour }: OpenedJob): CodeEncoding | undefined =>
  job.viewing && colour.displayEncoding(job.viewing.display, job.viewing.view);

/** The part of the job's picture that an output shows, and the size of its files. */
export const sizeOfJobOutput = ({ size }: OpenedJob, { kind, crop, width }: JobOutput) =>
  sizeOfOutput({ kind, crop: crop ?? null, width: width ?? null }, size);

/** The windows of an EXR output's files. */
export const windowsOfJobOutput = ({ size }: OpenedJob, { kind, crop, width, keepWindow }: JobOutput) =>
  windowsOfOutput({ kind, crop: crop ?? null, width: width ?? null, keepWindow: keepWindow === true }, size);

/** What is wrong with the size of an output's files. */
function unfitSize(opened: OpenedJob, output: JobOutput): string | undefined {
  const { crop, width, height } = sizeOfJobOutput(opened, output);
  const whole = opened.size;
  if (crop.x + crop.width > whole.width || crop.y + crop.height > whole.height)
    return `the part of ${crop.width}×${crop.height} from ${crop.x}, ${crop.y} does not lie in ${whole.width}×${whole.height}.`;
  if (windowsOfJobOutput(opened, output).between)
    return 'in this size the part would begin between two pixels of the window.';
  const { kind, codec } = fileOf(output);
  const odd = halvesOddSide({ kind, codec, alpha: writesAlpha(output) }, { width, height });
  return odd ? `${codec} halves colour, and ${width}×${height} has an odd side.` : undefined;
}

/** What pictures of an output are tagged as; undefined for what they cannot be. */
export function encodingOfOutput(opened: OpenedJob, { space, codes }: JobOutput): CodeEncoding | undefined {
  if (space === null) return codes ?? displayCodesOf(opened);
  return codesOfSpace(space);
}

/** Throws a JobError for the first file that is there already. */
export function refuseInTheWay(writing: JobWriting, frames: readonly number[]): void {
  const { output } = writing;
  const first = frames.flatMap((f) => filesOfJobFrame(writing, f)).find((p) => existsSync(p));
  if (first !== undefined)
    throw new JobError(`outputs, ${output.name}: ${first} is already there; --overwrite replaces it.`);
}
