import { join } from 'node:path';
import { realpath } from 'node:fs/promises';
import {
  describeSource,
  findProblems,
  gatherMaterial,
  type FrameMeasures,
  type LookedMaterial,
  type LookedMember,
  type Material,
  type MoreEvidence,
  type Problem,
  type SurveySource,
} from '@june-haze/core';
import { lookAtMember, type LookPlaces } from './look.ts';
import { measureSource, readableFrames, sampledFrames, slimMember } from './measure.ts';
import { strangersAmong } from './strangers.ts';
import { walkFolder } from './walk.ts';

export interface SurveyOptions {
  /** The shot's rate, to hold the material's against. */
  readonly rate?: number;
  /** Evidence from a config's rules or a person's. */
  readonly more?: MoreEvidence;
  /** Looks at the pixels of every frame, not of a handful. */
  readonly full?: boolean;
  /** On worker threads, where there are some. */
  readonly beside?: SurveyThreads;
}

/** What of a survey other threads do. Files are named below the folder. */
export interface SurveyThreads {
  readonly look: NonNullable<LookPlaces['look']>;
  /** Measures the pixels of a frame of a source below a folder. */
  readonly measure: (source: Measured, frame: number, folder: string) => Promise<FrameMeasures>;
}

type Measured = Parameters<typeof measureSource>[0];
/** Frames measured at a time. */
const together = 2;

export interface Survey {
  readonly sources: readonly SurveySource[];
  readonly problems: readonly Problem[];
}

/** What Intake finds in a folder: sources and what is wrong with them. Rejects only when the folder itself cannot be read. */
export async function surveyFolder(folder: string, options: SurveyOptions = {}): Promise<Survey> {
  const root = await realpath(folder).catch(() => {
    throw new Error(`${folder}: there is no such folder.`);
  });
  const all: { material: LookedMaterial; source: SurveySource }[] = [];
  for (const [i, found] of gatherMaterial((await walkFolder(root)).sequences).entries()) {
    const material = await lookAtMaterial(found, root, options);
    all.push({ material, source: describeSource(material, `s${i + 1}`, options.more) });
  }
  return { sources: all.map((a) => a.source), problems: findProblems(all, options.rate) };
}

/** Reads every header of a source and measures the pixels of a handful of frames, or of all. */
async function lookAtMaterial(
  found: Material,
  root: string,
  { full = false, beside }: SurveyOptions,
): Promise<LookedMaterial> {
  const locate = (file: string) => Promise.resolve(join(root, file));
  const members: LookedMember[] = [];
  for (const member of found.members)
    members.push(await lookAtMember(member, { locate, ...(beside ? { look: beside.look } : {}) }));
  const frames = full ? readableFrames({ members }) : sampledFrames({ members });
  const slim = { members: members.map(slimMember) };
  const measures: FrameMeasures[] = [];
  for (let at = 0; at < frames.length; at += together)
    measures.push(
      ...(await Promise.all(
        frames
          .slice(at, at + together)
          .map((frame) => (beside ? beside.measure(slim, frame, root) : measureSource({ members }, frame, locate))),
      )),
    );
  return { ...found, members, measures, full, strangers: await strangersAmong(found, locate) };
}
