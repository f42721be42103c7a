import { existsSync, readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import {
  ColourFileError,
  compilePlan,
  lookFilesOf,
  openBundledLut,
  readBundle,
  readLut,
  PlanError,
  ShotColour,
  UnknownNameError,
  type LutView,
  type Plan,
  type Size,
  type Transform,
} from '@june-haze/core';
import { openConfig } from '@june-haze/files';
import { jobSchema, ledgerOfJob, whyNoJob, type Job } from '@june-haze/contract';
import { besideJob, findJobSource, JobError, jobPlanSource, type JobSource } from './jobFiles.ts';

/** A job with its files found: what every frame is made from. */
export interface OpenedJob {
  readonly job: Job;
  readonly folder: string;
  readonly colour: ShotColour;
  readonly sources: readonly JobSource[];
  readonly size: Size;
}

/** Reads a job file. Throws a JobError that names the place that is wrong. */
export async function readJob(path: string): Promise<Job> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new JobError(`${path}: there is no such file.`);
  });
  let found: unknown;
  try {
    found = JSON.parse(text);
  } catch (e) {
    throw new JobError(`${path}: this is no JSON: ${(e as Error).message}`);
  }
  const why = whyNoJob(found);
  if (why !== undefined) throw new JobError(`${path}: ${why}`);
  return jobSchema.parse(found);
}

/** Finds a job's files and opens its colours. `folder` is what its names are relative to. Throws a JobError with its sentence. */
export async function openJob(job: Job, folder: string): Promise<OpenedJob> {
  const colour = inWords(() => {
    const variables = new Map(Object.entries(job.variables));
    const config = job.config === null ? undefined : openConfig(besideJob(folder, job.config), variables);
    return new ShotColour(config, lookFiles(job, folder), [], viewLuts(job, folder));
  });
  const sources: JobSource[] = [];
  for (const [name, settings] of Object.entries(job.sources)) sources.push(await findJobSource(folder, name, settings));
  const first = sources[0]?.facts;
  if (!job.size && !first) throw new JobError('size: without a source, the job must say how large its picture is.');
  const size = job.size ? { width: job.size[0], height: job.size[1] } : { width: first!.width, height: first!.height };
  return { job, folder, colour, sources, size };
}

/** The LUTs and CDLs that a job names: files, or archives of one, beside it. */
function lookFiles(job: Job, folder: string): Map<string, Transform> {
  const named = new Set([
    ...lookFilesOf(ledgerOfJob(job)),
    ...(job.viewing?.lookFile ? [job.viewing.lookFile.id] : []),
  ]);
  return new Map([...named].map((id) => [id, openLut(folder, id)]));
}

/** The show LUT that a job is seen through. */
function viewLuts({ viewing }: Job, folder: string): LutView[] {
  if (!viewing?.viewLut) return [];
  const { id, from, encoding } = viewing.viewLut;
  return [{ name: viewing.view, from, encoding, transform: openLut(folder, id) }];
}

function openLut(folder: string, id: string): Transform {
  const path = besideJob(folder, id);
  if (!existsSync(path)) throw new JobError(`${path}: there is no such file.`);
  const bytes = readFileSync(path);
  return bytes[0] === 0x50 && bytes[1] === 0x4b ? openBundledLut(readBundle(bytes, path), path) : readLut(bytes, path);
}

/** The plan of a frame. Throws a JobError that names the entry. */
export function jobPlan({ job, colour, sources, size }: OpenedJob, frame: number): Plan {
  return inWords(() => {
    const why = colour.whyNotWorking(job.working);
    if (why !== undefined) throw new JobError(`working: ${why}`);
    for (const { name, settings } of sources)
      if (!colour.knows(settings.space))
        throw new JobError(`sources.${name}: there is no colour space "${settings.space}".`);
    const { alphaFrom } = job;
    const pass = sources
      .find((s) => s.name === alphaFrom?.source)
      ?.facts.passes.find((p) => p.name === alphaFrom?.pass);
    if (alphaFrom && !pass)
      throw new JobError(`alphaFrom: there is no pass "${alphaFrom.pass}" of "${alphaFrom.source}".`);
    return compilePlan(ledgerOfJob(job), sources.map(jobPlanSource), job.working, colour, { frame, size });
  });
}

/** Errors of colours and plans as those of the job. */
export function inWords<T>(make: () => T): T {
  try {
    return make();
  } catch (e) {
    if (e instanceof PlanError || e instanceof UnknownNameError || e instanceof ColourFileError)
      throw new JobError(e.message);
    throw e instanceof JobError || !(e instanceof Error) ? e : new JobError(e.message);
  }
}
