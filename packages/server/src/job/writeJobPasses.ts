import { compilePlan, dataRoles, ledgerOfMatte } from '@june-haze/core';
import type { PassToWrite } from '../compute/passesToWrite.ts';
import { writePasses } from '../compute/writePasses.ts';
import { matteOfJob } from './evaluateInto.ts';
import { exrOfSource, JobError, jobPlanSource } from './jobFiles.ts';
import { filesOfJobFrame, timeOf, wordsOf, type JobWriting } from './jobOutput.ts';
import { inWords, type OpenedJob } from './openJob.ts';

/** Writes passes of a job's sources as they came, and its mattes. Throws a sentence where a frame is not there, or samples would not be as they came. */
export async function writeJobPasses(opened: OpenedJob, writing: JobWriting, frame: number): Promise<void> {
  const { job, colour, sources, size } = opened;
  const { output } = writing;
  const passes = (output.passes ?? []).map(({ source: name, pass: called }): PassToWrite => {
    const source = sources.find((s) => s.name === name)!;
    const pass = source.facts.passes.find((p) => p.name === called)!;
    const file = exrOfSource(source, pass.part, frame);
    if (!file)
      throw new JobError(`sources.${name}: frame ${frame} is not there, and a pass is as it came or not at all.`);
    return {
      name: pass.name,
      owner: name,
      path: file.path,
      fileName: file.name,
      part: file.part,
      channels: pass.channels,
      space: source.settings.space,
      isData: dataRoles.has(pass.role),
    };
  });
  const mattes = (output.mattes ?? []).map((name) => ({
    name,
    plane: async () => {
      const ledger = ledgerOfMatte(name, job.mattes);
      const plan = inWords(() => compilePlan(ledger, sources.map(jobPlanSource), job.working, colour, { frame, size }));
      return matteOfJob(opened, plan, frame);
    },
  }));
  const { rate, timecode } = timeOf(opened, output, frame);
  const { other } = await writePasses({
    ...size,
    passes,
    mattes,
    paths: filesOfJobFrame(writing, frame),
    layering: output.layering ?? 'together',
    compression: output.compression ?? 'zip',
    colour,
    rate,
    timecode: { frame: timecode, isAsked: output.timecode !== undefined },
    words: wordsOf(output),
  });
  if (other > 0) throw new JobError(`${other} samples read back otherwise than they came.`);
}
