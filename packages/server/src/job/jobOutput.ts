import { basename, join } from 'node:path';
import { existsSync } from 'node:fs';
import { encodingOfSpace, findSpace, nameOfFrame, type CodeEncoding } from '@june-haze/core';
import type { JobOutput } from '@june-haze/contract';
import { besideJob, JobError } from './jobFiles.ts';
import { inWords, type OpenedJob } from './openJob.ts';

/** How an output's pictures are made and written, with all that it leaves out filled in. */
export interface JobWriting {
  readonly output: JobOutput;
  /** Where the files go; hash marks stand for the frame. */
  readonly pattern: string;
}

/** The sample types that a kind can hold, its usual one first. */
const sampleTypes = { exr: ['half', 'float'], png: ['uint8', 'uint16'] } as const;
const written = Object.keys(sampleTypes) as (keyof typeof sampleTypes)[];

/** Looks whether an output can be written, before anything is. Throws a JobError that names it and what is wrong. */
export function planOutput(opened: OpenedJob, output: JobOutput, to: string | undefined): JobWriting {
  const { job, folder, colour } = opened;
  const refuse = (why: string) => new JobError(`outputs, ${output.name}: ${why}`);
  const kind = written.find((k) => k === output.kind);
  if (!kind) throw refuse(`${output.kind} is not written from a job yet; there are ${written.join(' and ')}.`);
  const types: readonly string[] = sampleTypes[kind];
  if (output.sampleType && !types.includes(output.sampleType))
    throw refuse(`${output.kind} has no samples of type ${output.sampleType}; there are ${types.join(' and ')}.`);
  if (output.compression && kind !== 'exr') throw refuse(`${output.kind} has no choice of packing.`);
  if (output.codec || output.quality) throw refuse(`${output.kind} has neither codec nor quality.`);
  if (output.space !== null && !colour.knows(output.space)) throw refuse(`there is no colour space "${output.space}".`);
  if (output.space === null) {
    const { viewing } = job;
    if (!viewing) throw refuse('through the viewing, but the job has none; give it a space or the job a viewing.');
    inWords(() => colour.view(job.working, viewing));
  }
  if (kind === 'png' && pngEncoding(opened, output) === undefined)
    throw refuse(
      `PNG files cannot be tagged for ${output.space ?? job.viewing!.display}; those of sRGB, BT.1886, Display P3, P3 gamma 2.6 and PQ can.`,
    );
  const path = besideJob(folder, output.pattern);
  const pattern = to === undefined ? path : join(to, basename(path));
  if (!basename(pattern).includes('#') && job.frames[0] !== job.frames[1])
    throw refuse(`${output.pattern} has no hash marks: all frames would be one file.`);
  return { output, pattern };
}

/** What PNG files of an output are tagged as; undefined for what they cannot be. */
export function pngEncoding({ job, colour }: OpenedJob, { space }: JobOutput): CodeEncoding | undefined {
  if (space === null) return colour.displayEncoding(job.viewing!.display, job.viewing!.view);
  const found = findSpace(space);
  // A camera's curve of BT.709 is not what a display decodes.
  return found && found.encoding !== 'rec709' ? encodingOfSpace(found.name) : undefined;
}

/** Throws a JobError for the first file that is there already. */
export function refuseInTheWay({ output, pattern }: JobWriting, frames: readonly number[]): void {
  const first = frames.map((f) => nameOfFrame(pattern, f)).find((p) => existsSync(p));
  if (first !== undefined)
    throw new JobError(`outputs, ${output.name}: ${first} is already there; --overwrite replaces it.`);
}
