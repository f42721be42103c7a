import { dirname, resolve } from 'node:path';
import { planOutput } from './jobOutput.ts';
import { openJob, readJob, type OpenedJob } from './openJob.ts';
import { writeJobFrame } from './writeJobFrame.ts';

/** A job opened by a thread for one frame after the other: the same job is opened once. */
const opened = new Map<string, Promise<OpenedJob>>();

export interface JobFrameTask {
  readonly path: string;
  /** Tells one state of the job from another. */
  readonly stamp: string;
  readonly output: string;
  readonly to: string | undefined;
  readonly frame: number;
  /** Of a movie's frame: where it lies until the movie is put together. */
  readonly file?: string;
}

/** Writes one frame on this thread. */
export async function runJobFrame({ path, stamp, output, to, frame, file }: JobFrameTask): Promise<string> {
  const key = `${path}\n${stamp}`;
  let job = opened.get(key);
  if (!job) {
    opened.clear();
    job = readJob(path).then((j) => openJob(j, dirname(resolve(path))));
    opened.set(key, job);
  }
  const found = await job;
  const wanted = found.job.outputs.find((o) => o.name === output)!;
  return writeJobFrame(found, planOutput(found, wanted, to), frame, file);
}
