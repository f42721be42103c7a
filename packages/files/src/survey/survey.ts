import { join } from 'node:path';
import { realpath } from 'node:fs/promises';
import {
  describeSource,
  findProblems,
  gatherMaterial,
  type LookedMaterial,
  type Material,
  type MoreEvidence,
  type Problem,
  type SurveySource,
} from '@june-haze/core';
import { lookAtMember } from './look.ts';
import { measureSource, readableFrames, sampledFrames } from './measure.ts';
import { strangersAmong } from './strangers.ts';
import { walkFolder } from './walk.ts';

export interface SurveyOptions {
  /** The shot's rate, to hold the material's against. */
  readonly rate?: number;
  /** Evidence from a config's rules or a person's. */
  readonly more?: MoreEvidence;
  /** Looks at the pixels of every frame, not of a handful. */
  readonly full?: boolean;
}

export interface Survey {
  readonly sources: readonly SurveySource[];
  readonly problems: readonly Problem[];
}

/** What Intake finds in a folder: sources and what is wrong with them. Rejects only when the folder itself cannot be read. */
export async function surveyFolder(folder: string, options: SurveyOptions = {}): Promise<Survey> {
  const root = await realpath(folder).catch(() => {
    throw new Error(`${folder}: there is no such folder.`);
  });
  const locate = (file: string) => Promise.resolve(join(root, file));
  const all: { material: LookedMaterial; source: SurveySource }[] = [];
  for (const [i, found] of gatherMaterial((await walkFolder(root)).sequences).entries()) {
    const material = await lookAtMaterial(found, locate, options.full ?? false);
    all.push({ material, source: describeSource(material, `s${i + 1}`, options.more) });
  }
  return { sources: all.map((a) => a.source), problems: findProblems(all, options.rate) };
}

/** Reads every header of a source and measures the pixels of a handful of frames, or of all. */
export async function lookAtMaterial(
  found: Material,
  locate: (file: string) => Promise<string>,
  full: boolean,
): Promise<LookedMaterial> {
  const members = [];
  for (const member of found.members) members.push(await lookAtMember(member, { locate }));
  const frames = full ? readableFrames({ members }) : sampledFrames({ members });
  const measures = [];
  for (const frame of frames) measures.push(await measureSource({ members }, frame, locate));
  return { ...found, members, measures, full, strangers: await strangersAmong(found, locate) };
}
