import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, join, resolve } from 'node:path';
import {
  countOfFrames,
  isOneFile,
  holdsPictures,
  holdsStraightAlpha,
  settingsOfJobOutput,
  sizeOfOutput,
  type OutputSettings,
  type ReadBack,
} from '@june-haze/contract';
import { evaluateStrips, framePlace, writeWhole } from '@june-haze/files';
import { evaluateShown } from '../compute/evaluateShown.ts';
import { threadHeap } from '../compute/evaluateFrame.ts';
import { frameAside } from '../compute/writeFrame.ts';
import { proveFramesOf } from '../compute/movieTasks.ts';
import { prove } from '../compute/readBack.ts';
import { provePicturesOf } from '../compute/sheetTasks.ts';
import { intoFileSpace } from '../compute/writeLinear.ts';
import type { ProofTask, WrittenFrame } from '../compute/writeTask.ts';
import { openPartOf } from './evaluateInto.ts';
import { JobError } from './jobFiles.ts';
import { filesOfJobFrame, framesOf, planOutput, timeOf, type JobWriting } from './jobOutput.ts';
import { jobPlan, openJob, readJob, type OpenedJob } from './openJob.ts';

/** Which of a job's frames a file is; where left out, its name tells. */
export interface WhichFrame {
  readonly output?: string;
  readonly frame?: number;
}

export interface VerifiedByJob {
  readonly output: string;
  /** Of a movie or a contact sheet its first. */
  readonly frame: number;
  /** One of each frame of the file. */
  readonly readBacks: readonly ReadBack[];
}

/**
 * Holds a file against the job that it was made from: what the job's ledger and viewing show, made anew from its sources, against the file decoded by
 * its own tags. Throws a JobError with its sentence.
 */
export async function verifyByJob(path: string, jobPath: string, which: WhichFrame = {}): Promise<VerifiedByJob> {
  const job = await readJob(jobPath);
  const opened = await openJob(job, dirname(resolve(jobPath)));
  const { writing, frame } = findFrame(opened, path, which);
  const settings = settingsOfJobOutput(writing.output, job, (name) => name);
  const { kind, name } = writing.output;
  if (kind === 'passes')
    throw new JobError(`${name}: passes are proved by their samples; "june compare" holds them against the source.`);
  if (!settings || !job.viewing)
    throw new JobError(`${name}: a proof shows both through the viewing, and this output or its job has none for it.`);
  const task = { workingSpace: job.working, viewing: viewingOf(job.viewing), colour: opened.colour, ...opened.size };
  const verify = isOneFile(writing.output) ? verifyOneFile : verifyFrame;
  const readBacks = await verify(opened, writing, { ...task, settings, path, pictures: undefined }, frame);
  return { output: name, frame, readBacks };
}

/** A job's viewing; its files are opened with its colours already. */
const viewingOf = ({ viewLut: _, ...viewing }: NonNullable<OpenedJob['job']['viewing']>): ProofTask['viewing'] =>
  viewing;

/** The output and the frame that a file is, by name unless they are said. */
function findFrame(opened: OpenedJob, path: string, which: WhichFrame): { writing: JobWriting; frame: number } {
  const { job } = opened;
  const outputs = job.outputs.filter((o) => which.output === undefined || o.name === which.output);
  if (!outputs.length) throw new JobError(`The job has no output "${which.output ?? ''}".`);
  for (const output of outputs) {
    const writing = planOutput(opened, output, undefined);
    const frames = framesOf(job, output);
    if (which.output !== undefined && which.frame !== undefined) return { writing, frame: which.frame };
    if (isOneFile(output) && basename(writing.pattern) === basename(path)) return { writing, frame: frames[0]! };
    for (const frame of frames)
      if (filesOfJobFrame(writing, frame).some((f) => basename(f) === basename(path))) return { writing, frame };
  }
  throw new JobError(`${basename(path)} is no file of the job by its name; say which with --output and --frame.`);
}

type Verify = (opened: OpenedJob, writing: JobWriting, task: ProofTask, frame: number) => Promise<ReadBack[]>;

/** What the job makes of a frame now. */
function evaluated(opened: OpenedJob, task: ProofTask, frame: number): Promise<WrittenFrame> {
  const plan = jobPlan(opened, frame);
  const heap = threadHeap();
  return evaluateShown({ ...task, plan }, (onBand) =>
    evaluateStrips({
      plan,
      heap,
      size: opened.size,
      open: openPartOf(opened, frame),
      onBand: (row, rows, quad) => onBand(row, rows, quad, heap),
    }),
  );
}

const verifyFrame: Verify = async (opened, _writing, task, frame) => {
  const made = await evaluated(opened, task, frame);
  if (!holdsPictures(task.settings)) intoFileSpace(task, made);
  return [await prove(task, made)];
};

/** Frames of a movie or a contact sheet are made aside, as it is put together of them. */
const verifyOneFile: Verify = async (opened, { output }, task, first) => {
  const folder = await mkdtemp(join(tmpdir(), 'june-verify-'));
  try {
    const settings: OutputSettings = task.settings;
    const count = countOfFrames(settings);
    const frames = { folder, alpha: holdsStraightAlpha(settings), count };
    for (let i = 0; i < count; i++) {
      const made = await evaluated(opened, task, first + i * settings.step);
      const bytes = frameAside(made, frames.alpha);
      await writeWhole(framePlace(frames, i), (sink) => sink.write(0, bytes));
    }
    const { rate } = timeOf(opened, output, first);
    const whole = {
      ...task,
      ...sizeOfOutput(settings, task),
      rate,
      timecode: '',
      words: settings,
      frames,
      picturesFolder: undefined,
    };
    return await (settings.kind === 'sheet' ? provePicturesOf(whole) : proveFramesOf(whole, { first: 0, count }));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
};
