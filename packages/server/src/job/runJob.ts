import { dirname, resolve } from 'node:path';
import { nameOfFrame } from '@june-haze/core';
import type { ComputePool } from '../compute/pool.ts';
import { JobError } from './jobFiles.ts';
import { planOutput, refuseInTheWay, type JobWriting } from './jobOutput.ts';
import { jobPlan, openJob, readJob } from './openJob.ts';

export interface RunOptions {
  /** One output by name; all of them when left out. */
  readonly output?: string;
  readonly frames?: readonly [first: number, last: number];
  /** Another folder for the files; their names stay. */
  readonly to?: string;
  readonly overwrite: boolean;
}

export interface FrameReport {
  readonly frame: number;
  readonly file: string;
  readonly ok: boolean;
  /** What is wrong with it; empty when nothing is. */
  readonly message: string;
}
export interface OutputReport {
  readonly output: string;
  readonly frames: readonly FrameReport[];
}

/**
 * Does a job. Everything that can be known before is looked at first, and nothing is written when something is wrong with it: the document,
 * its files, colours and outputs, and files in the way. Then every frame is written; a fault of one lets the others go on.
 */
export async function runJob(
  path: string,
  options: RunOptions,
  pool: Pick<ComputePool, 'run' | 'threads'>,
  onOutput: (report: OutputReport) => void,
): Promise<boolean> {
  const job = await readJob(path);
  const chosen = options.output === undefined ? job.outputs : job.outputs.filter((o) => o.name === options.output);
  if (!chosen.length)
    throw new JobError(
      options.output === undefined
        ? `${path}: the job has no outputs.`
        : `${path}: there is no output "${options.output}"; there are ${job.outputs.map((o) => o.name).join(', ') || 'none'}.`,
    );
  const [first, last] = options.frames ?? job.frames;
  if (last < first) throw new JobError('The frames run backwards.');
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const found = await openJob({ ...job, frames: [first, last] }, dirname(resolve(path)));
  jobPlan(found, first);
  const writings = chosen.map((o) => planOutput(found, o, options.to));
  refuseSameFiles(writings, frames);
  if (!options.overwrite) writings.forEach((w) => refuseInTheWay(w, frames));
  const stamp = `${process.pid} ${Date.now()}`;
  let whole = true;
  for (const writing of writings) {
    const report = await writeAll(path, stamp, writing, frames, options, pool);
    if (report.frames.some((f) => !f.ok)) whole = false;
    onOutput(report);
  }
  return whole;
}

/** Two outputs to the same files would leave only one of them. */
function refuseSameFiles(writings: readonly JobWriting[], frames: readonly number[]): void {
  const seen = new Map<string, string>();
  for (const { output, pattern } of writings)
    for (const frame of frames) {
      const file = nameOfFrame(pattern, frame);
      const other = seen.get(file);
      if (other !== undefined && other !== output.name)
        throw new JobError(`outputs, ${output.name}: ${file} is also written by ${other}.`);
      seen.set(file, output.name);
    }
}

async function writeAll(
  path: string,
  stamp: string,
  { output, pattern }: JobWriting,
  frames: readonly number[],
  { to }: RunOptions,
  pool: Pick<ComputePool, 'run' | 'threads'>,
): Promise<OutputReport> {
  const reports = new Array<FrameReport>(frames.length);
  let next = 0;
  const one = async () => {
    while (next < frames.length) {
      const i = next++;
      const frame = frames[i]!;
      const file = nameOfFrame(pattern, frame);
      reports[i] = await pool.run('runJobFrame', { path, stamp, output: output.name, to, frame }).then(
        () => ({ frame, file, ok: true, message: '' }),
        (e: unknown) => ({ frame, file, ok: false, message: (e as Error).message }),
      );
    }
  };
  await Promise.all(Array.from({ length: Math.min(pool.threads, frames.length) }, one));
  return { output: output.name, frames: reports };
}
