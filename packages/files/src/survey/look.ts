import { stat } from 'node:fs/promises';
import { fileOfFrame, framesOf, type FileLook, type LookedMember, type MaterialMember } from '@june-haze/core';
import { ForeignFile, readFacts } from '../formats/facts.ts';
import { findRepeats } from './repeats.ts';

/** Files that changed this recently may still be written. */
const youngMilliseconds = 10_000;
/** How long such a file is watched. */
const watchMilliseconds = 250;

/** How a path of a member is found, and who reads its facts: a worker thread, or this one. */
export interface LookPlaces {
  /** The real path of a relative one; rejects with a sentence when it may not be read. */
  readonly locate: (file: string) => Promise<string>;
  readonly facts?: typeof readFacts;
  /** Called after each file. */
  readonly onLook?: () => void;
}

/** How many files are open at a time. */
const together = 16;

/** Looks at the header of every file of a member. Faults are results, never thrown. */
export async function lookAtMember(member: MaterialMember, places: LookPlaces): Promise<LookedMember> {
  const frames = framesOf(member.sequence);
  const looks: FileLook[] = [];
  let next = 0;
  const one = async () => {
    while (next < frames.length) {
      const i = next++;
      const frame = frames[i]!;
      looks[i] = await lookAtFile(fileOfFrame(member.sequence, frame), frame, places);
      places.onLook?.();
    }
  };
  await Promise.all(Array.from({ length: Math.min(together, frames.length) }, one));
  return { ...member, looks, repeats: await findRepeats(looks, places.locate) };
}

async function lookAtFile(file: string, frame: number, places: LookPlaces): Promise<FileLook> {
  let path: string | undefined;
  try {
    path = await places.locate(file);
    const facts = await (places.facts ?? readFacts)(path, file);
    if (facts.missingChunks === 0 || !(await isGrowing(path))) return { file, frame, facts };
    return { file, frame, fault: { kind: 'growing', message: `${file}: it is still being written.` } };
  } catch (error) {
    const message = (error as Error).message;
    if (error instanceof ForeignFile || /^ForeignFile/.test((error as Error).stack ?? ''))
      return { file, frame, fault: { kind: 'foreign-file', message } };
    const growing = path !== undefined && (await isGrowing(path));
    return { file, frame, fault: { kind: growing ? 'growing' : 'unreadable-frame', message } };
  }
}

/** Whether a file became longer while it was watched for a moment. */
async function isGrowing(path: string): Promise<boolean> {
  const before = await stat(path).catch(() => undefined);
  if (!before || Date.now() - before.mtimeMs > youngMilliseconds) return false;
  await new Promise((done) => setTimeout(done, watchMilliseconds));
  const after = await stat(path).catch(() => undefined);
  return after !== undefined && after.size !== before.size;
}
