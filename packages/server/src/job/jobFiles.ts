import { readdir } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join } from 'node:path';
import {
  framesInShot,
  nameOfFrame,
  ownFrame,
  pictureMember,
  planSource,
  sourcePasses,
  stepOf,
  type FileFacts,
  type LookedMember,
  type PlanSource,
} from '@june-haze/core';
import { blackPart, decodedPart, decodeFile, openExrPart, readFacts, type OpenPart } from '@june-haze/files';
import type { Job } from '@june-haze/contract';

/** A source of a job with what its first files say, and the frames that there are files for. */
export interface JobSource {
  readonly name: string;
  readonly pattern: string;
  /** One, or one for each pass. */
  readonly members: readonly JobMember[];
  /** Numbers that there are files for, in order; none for a still or a movie. */
  readonly numbers: readonly number[] | undefined;
  /** Of the picture; its passes are those of all members, their parts counted through. */
  readonly facts: FileFacts;
  readonly settings: Job['sources'][string];
}

/** Files of a source: all of it, or those of a pass. */
interface JobMember {
  readonly pass: string | null;
  readonly folder: string;
  readonly pattern: string;
  readonly numbers: readonly number[] | undefined;
  readonly facts: FileFacts;
  /** The number of the files' own part 0 within the source. */
  readonly firstPart: number;
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

/** Looks for a source's files and reads the first ones' headers. Throws a JobError when there are none. */
export async function findJobSource(folder: string, name: string, settings: JobSource['settings']): Promise<JobSource> {
  const patterns = Object.entries(settings.files ?? {});
  const members: JobMember[] = [];
  for (const [pass, pattern] of patterns.length ? patterns : [[null, settings.pattern] as const]) {
    const before = members.at(-1);
    const firstPart = before ? before.firstPart + before.facts.parts : 0;
    members.push({ pass, firstPart, ...(await findMember(folder, name, pattern)) });
  }
  const looked = members.map((m): LookedMember => {
    const sequence = { pattern: m.pattern, padding: 0, frames: m.numbers ?? [], missing: [], step: 1 };
    return { pass: m.pass, sequence, looks: [{ file: m.pattern, frame: 0, facts: m.facts }], repeats: [] };
  });
  const picture = members[looked.indexOf(pictureMember({ members: looked }))]!;
  const passes = sourcePasses({ members: looked }).map(({ pass }) => ({
    ...pass,
    role: settings.roles?.[pass.name] ?? pass.role,
  }));
  const numbers = members.flatMap((m) => m.numbers ?? []);
  return {
    name,
    pattern: basename(settings.pattern),
    members,
    numbers: numbers.length ? [...new Set(numbers)].sort((a, b) => a - b) : undefined,
    facts: { ...picture.facts, passes },
    settings,
  };
}

/** Looks for files by their pattern and reads the first one's header. */
async function findMember(
  folder: string,
  source: string,
  path: string,
): Promise<Pick<JobMember, 'folder' | 'pattern' | 'numbers' | 'facts'>> {
  const full = besideJob(folder, path);
  const [place, pattern] = [dirname(full), basename(full)];
  const numbers = pattern.includes('#') ? await numbersOf(place, pattern) : undefined;
  if (numbers?.length === 0) throw new JobError(`sources.${source}: there are no files ${path}.`);
  const first = join(place, numbers ? nameOfFrame(pattern, numbers[0]!) : pattern);
  const facts = await readFacts(first, basename(first)).catch((e: NodeJS.ErrnoException) => {
    if (e.code === 'ENOENT') throw new JobError(`sources.${source}: there is no file ${path}.`);
    throw new JobError(`sources.${source}: ${e.message}`);
  });
  return { folder: place, pattern, numbers, facts };
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

/** A file of a frame: its own number, and which of the source's files hold it. */
interface FoundFile {
  readonly path: string;
  readonly name: string;
  readonly number: number;
  readonly member: JobMember;
}

/** The file of a part for a frame; undefined for a frame that is left black. Throws a JobError that names a frame that is missing and shall stop. */
function fileOfSource(source: JobSource, part: number, frame: number): FoundFile | undefined {
  const { settings, members } = source;
  const { own, begins, still } = lasting(source);
  const paced = still ? own.firstFrame : ownFrame(own, begins, settings, frame);
  if (paced === undefined && settings.beyond === 'nothing') return undefined;
  const number = paced ?? frame + settings.offset;
  const member = members.findLast((m) => m.firstPart <= part)!;
  const found = member.numbers ? fileNumber(source, member, number) : number;
  if (found === undefined) return undefined;
  const name = member.numbers ? nameOfFrame(member.pattern, found) : member.pattern;
  return { path: join(member.folder, name), name, number, member };
}

/** Opens a part of a source's files for a frame. Throws a JobError that names a frame that is missing and shall stop. */
export async function openJobPart(source: JobSource, part: number, frame: number): Promise<OpenPart> {
  const file = fileOfSource(source, part, frame);
  if (!file) return blackPart(`${source.pattern}, frame ${frame}`, source.facts);
  const { path, name, number, member } = file;
  if (member.facts.kind === 'exr') return openExrPart(path, name, part - member.firstPart);
  const said = member.numbers ? await readFacts(path, name) : member.facts;
  return decodedPart(name, await decodeFile(path, name, said, Math.max(0, number - 1), null));
}

/** The EXR that a part of a source lies in at a frame, and its number there; undefined where it is none, or is left black. */
export function exrOfSource(
  source: JobSource,
  part: number,
  frame: number,
): { path: string; name: string; part: number } | undefined {
  const file = fileOfSource(source, part, frame);
  if (file?.member.facts.kind !== 'exr') return undefined;
  return { path: file.path, name: file.name, part: part - file.member.firstPart };
}

/** The number of the file that serves; undefined for one that shall be black. */
function fileNumber(
  { name, settings }: JobSource,
  { pattern, numbers }: JobMember,
  wanted: number,
): number | undefined {
  if (numbers!.includes(wanted)) return wanted;
  if (settings.missing === 'black') return undefined;
  if (settings.missing === 'hold') return numbers!.findLast((n) => n < wanted) ?? numbers![0];
  throw new JobError(`sources.${name}: ${nameOfFrame(pattern, wanted)} is missing.`);
}
