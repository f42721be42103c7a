import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { timecodeOfFrame } from '@june-haze/core';
import { encodeMovie, framePlace, writeSheet } from '@june-haze/files';
import { fileKindOf, isOneFile, usualQuality, writesAlpha } from '@june-haze/contract';
import type { ComputePool } from '../compute/pool.ts';
import { JobError } from './jobFiles.ts';
import {
  encodingOfOutput,
  fileOf,
  filesOfJobFrame,
  framesOf,
  planOutput,
  refuseInTheWay,
  timeOf,
  wordsOf,
  type JobWriting,
} from './jobOutput.ts';
import { jobPlan, openJob, readJob, type OpenedJob } from './openJob.ts';

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
  for (const [first, last] of [options.frames ?? job.frames, ...chosen.map((o) => o.frames ?? job.frames)])
    if (last < first) throw new JobError('The frames run backwards.');
  const found = await openJob(job, dirname(resolve(path)));
  const writings = chosen.map((o) => planOutput(found, o, options.to));
  const framesTo = new Map(writings.map((w) => [w, framesOf(job, w.output, options.frames)]));
  for (const [first] of framesTo.values()) jobPlan(found, first!);
  refuseSameFiles(framesTo);
  if (!options.overwrite) framesTo.forEach((frames, w) => refuseInTheWay(w, frames));
  const writer = { path, stamp: `${process.pid} ${Date.now()}`, to: options.to, pool };
  let whole = true;
  for (const writing of writings) {
    const own = framesTo.get(writing)!;
    const report = await (isOneFile(writing.output)
      ? writeOneFile(writer, found, writing, own)
      : writeAll(writer, writing, own));
    if (report.frames.some((f) => !f.ok)) whole = false;
    onOutput(report);
  }
  return whole;
}

/** Two outputs to the same files would leave only one of them. */
function refuseSameFiles(framesTo: ReadonlyMap<JobWriting, readonly number[]>): void {
  const seen = new Map<string, string>();
  for (const [writing, frames] of framesTo) {
    const { output } = writing;
    for (const frame of frames) {
      for (const file of filesOfJobFrame(writing, frame)) {
        const other = seen.get(file);
        if (other !== undefined && other !== output.name)
          throw new JobError(`outputs, ${output.name}: ${file} is also written by ${other}.`);
        seen.set(file, output.name);
      }
    }
  }
}

interface Writer {
  readonly path: string;
  readonly stamp: string;
  readonly to: string | undefined;
  readonly pool: Pick<ComputePool, 'run' | 'threads'>;
}

/** Writes the frames of an output; `aside` gives another place for a frame's file than its name. */
async function writeAll(
  { path, stamp, to, pool }: Writer,
  writing: JobWriting,
  frames: readonly number[],
  aside?: (index: number) => string,
): Promise<OutputReport> {
  const { output } = writing;
  const reports = new Array<FrameReport>(frames.length);
  let next = 0;
  const one = async () => {
    while (next < frames.length) {
      const i = next++;
      const frame = frames[i]!;
      const [file] = filesOfJobFrame(writing, frame) as [string];
      const place = aside ? { file: aside(i) } : {};
      reports[i] = await pool.run('runJobFrame', { path, stamp, output: output.name, to, frame, ...place }).then(
        () => ({ frame, file, ok: true, message: '' }),
        (e: unknown) => ({ frame, file, ok: false, message: (e as Error).message }),
      );
    }
  };
  await Promise.all(Array.from({ length: Math.min(pool.threads, frames.length) }, one));
  return { output: output.name, frames: reports };
}

/** Writes the frames of what becomes one file beside it, hidden, and puts it together of them; when one fails there is none. */
async function writeOneFile(
  writer: Writer,
  opened: OpenedJob,
  writing: JobWriting,
  frames: readonly number[],
): Promise<OutputReport> {
  const { output, pattern } = writing;
  const folder = join(dirname(pattern), `.${basename(pattern)}.${randomUUID()}`);
  const aside = { folder, alpha: writesAlpha(output) };
  try {
    const report = await writeAll(writer, writing, frames, (i) => framePlace(aside, i));
    const failed = report.frames.find((f) => !f.ok);
    const why = failed ? `no ${output.kind} is made: frame ${failed.frame} failed.` : await put();
    if (why === undefined) return report;
    return { ...report, frames: report.frames.map((f) => (f.ok ? { ...f, ok: false, message: why } : f)) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  function put(): Promise<string | undefined> {
    const count = frames.length;
    const same = {
      quality: output.quality ?? usualQuality(fileKindOf(fileOf(output))),
      encoding: encodingOfOutput(opened, output)!,
      words: wordsOf(output),
      frames: { ...aside, count },
    };
    const { rate, timecode } = timeOf(opened, output, frames[0]!);
    const time = { rate, timecode: timecodeOfFrame(Math.max(0, timecode), rate) };
    const labels = output.labels === false ? null : frames.map(String);
    const { codec, sheetFile } = fileOf(output);
    const made =
      output.kind === 'sheet'
        ? writeSheet({ ...same, file: sheetFile, columns: output.columns ?? null, labels }, pattern)
        : encodeMovie({ ...same, ...time, codec }, pattern);
    return made.then(
      () => undefined,
      (e: unknown) => (e as Error).message,
    );
  }
}
