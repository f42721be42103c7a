import { readdir } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join } from 'node:path';
import {
  framesInShot,
  nameOfFrame,
  ownFrame,
  planSource,
  stepOf,
  type FileFacts,
  type PlanSource,
} from '@june-haze/core';
import { blackPart, decodedPart, decodeFile, openExrPart, readFacts, type OpenPart } from '@june-haze/files';
import type { Job } from '@june-haze/contract';

/** A source of a job with what its first file says, and the frames that there are files for. */
export interface JobSource {
  readonly name: string;
  readonly folder: string;
  readonly pattern: string;
  /** Numbers of its files in order; none for a still or a movie. */
  readonly numbers: readonly number[] | undefined;
  readonly facts: FileFacts;
  readonly settings: Job['sources'][string];
}

/** A fault of a job, or of one of its frames: a sentence. */
export class JobError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'JobError';
  }
}

/** A path of a job: names inside it are relative to its folder. */
export const besideJob = (folder: string, path: string): string => (isAbsolute(path) ? path : join(folder, path));

/** Looks for a source's files and reads the first one's header. Throws a JobError when there are none. */
export async function findJobSource(folder: string, name: string, settings: JobSource['settings']): Promise<JobSource> {
  const path = besideJob(folder, settings.pattern);
  const [place, pattern] = [dirname(path), basename(path)];
  const numbered = pattern.includes('#');
  const numbers = numbered ? await numbersOf(place, pattern) : undefined;
  if (numbers?.length === 0) throw new JobError(`sources.${name}: there are no files ${settings.pattern}.`);
  const first = join(place, numbers ? nameOfFrame(pattern, numbers[0]!) : pattern);
  const facts = await readFacts(first, basename(first)).catch((e: NodeJS.ErrnoException) => {
    if (e.code === 'ENOENT') throw new JobError(`sources.${name}: there is no file ${settings.pattern}.`);
    throw new JobError(`sources.${name}: ${e.message}`);
  });
  return { name, folder: place, pattern, numbers, facts, settings };
}

/** Which numbers there are files for, in order. */
async function numbersOf(folder: string, pattern: string): Promise<number[]> {
  const names = await readdir(folder).catch(() => []);
  const [before, after] = pattern.split(/#+(?=[^#]*$)/) as [string, string];
  const fits = names.filter(
    (n) => n.startsWith(before) && n.endsWith(after) && n.length > before.length + after.length,
  );
  const numbers = fits.flatMap((n) => {
    const digits = n.slice(before.length, n.length - after.length);
    return /^-?\d+$/.test(digits) && nameOfFrame(pattern, Number(digits)) === n ? [Number(digits)] : [];
  });
  return numbers.sort((a, b) => a - b);
}

/** A source as the compiler wants it. */
export function jobPlanSource(source: JobSource): PlanSource {
  const { name, facts, settings } = source;
  const { space, alpha, placement, speed, beyond } = settings;
  const { passes, width, height, pixelAspect } = facts;
  const { own, begins, still } = lasting(source);
  return planSource({
    ...{ id: name, name, declaredSpace: space, passes, alpha, width, height, pixelAspect, still },
    firstFrame: begins,
    lastFrame: begins + framesInShot(own, { speed }) - 1,
    reading: { placement, beyond },
  });
}

/** The numbers that a source has, where in the shot it begins, and whether it is one picture for all frames. */
function lasting({ numbers, facts, settings }: JobSource) {
  const last = numbers?.at(-1) ?? facts.frames ?? 1;
  const own = { firstFrame: numbers?.[0] ?? 1, lastFrame: last, step: stepOf(numbers ?? []) };
  return { own, begins: own.firstFrame - settings.offset, still: !numbers && facts.kind !== 'movie' };
}

/** A source's file for a frame, and its own number; undefined for a frame that is left black. Throws a JobError that names a frame that is missing and shall stop. */
function fileOfSource(source: JobSource, frame: number): { path: string; name: string; number: number } | undefined {
  const { folder, pattern, settings, numbers } = source;
  const { own, begins, still } = lasting(source);
  const paced = still ? own.firstFrame : ownFrame(own, begins, settings, frame);
  if (paced === undefined && settings.beyond === 'nothing') return undefined;
  const number = paced ?? frame + settings.offset;
  const found = numbers ? fileNumber(source, number) : number;
  if (found === undefined) return undefined;
  const name = numbers ? nameOfFrame(pattern, found) : pattern;
  return { path: join(folder, name), name, number };
}

/** Opens a part of a source's file for a frame. Throws a JobError that names a frame that is missing and shall stop. */
export async function openJobPart(source: JobSource, part: number, frame: number): Promise<OpenPart> {
  const { pattern, facts, numbers } = source;
  const file = fileOfSource(source, frame);
  if (!file) return blackPart(`${pattern}, frame ${frame}`, facts);
  const { path, name, number } = file;
  if (facts.kind === 'exr') return openExrPart(path, name, part);
  const said = numbers ? await readFacts(path, name) : facts;
  return decodedPart(name, await decodeFile(path, name, said, Math.max(0, number - 1), null));
}

/** The EXR that a frame of a source lies in; undefined where it is none, or is left black. */
export const exrOfSource = (source: JobSource, frame: number): { path: string; name: string } | undefined =>
  source.facts.kind === 'exr' ? fileOfSource(source, frame) : undefined;

/** The number of the file that serves; undefined for one that shall be black. */
function fileNumber({ name, pattern, settings, numbers }: JobSource, wanted: number): number | undefined {
  if (numbers!.includes(wanted)) return wanted;
  if (settings.missing === 'black') return undefined;
  if (settings.missing === 'hold') return numbers!.findLast((n) => n < wanted) ?? numbers![0];
  throw new JobError(`sources.${name}: ${nameOfFrame(pattern, wanted)} is missing.`);
}
