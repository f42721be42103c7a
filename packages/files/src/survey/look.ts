import { stat } from 'node:fs/promises';
import {
  fileOfFrame,
  framesOf,
  type FileFacts,
  type FileLook,
  type LookedMember,
  type MaterialMember,
} from '@june-haze/core';
import { ForeignFile, readFacts } from '../formats/facts.ts';
import { findRepeats, type FrameFileSize } from './repeats.ts';

/** Files that changed this recently may still be written. */
const youngMilliseconds = 10_000;
/** How long such a file is watched. */
const watchMilliseconds = 250;

/** A file to look at: where it lies, and what it is called. Plain data. */
export interface FileToLookAt {
  readonly path: string;
  readonly file: string;
  readonly frame: number;
}

/** How a member's files are found and looked at. */
export interface LookPlaces {
  /** The real path of a relative one; rejects with a sentence when it may not be read. */
  readonly locate: (file: string) => Promise<string>;
  /** Looks at a batch; on worker threads where there are some. */
  readonly look?: (files: readonly FileToLookAt[]) => Promise<FileLook[]>;
  /** Finds frames that hold the same bytes; on a worker thread where there are some. */
  readonly findRepeats?: (files: readonly FrameFileSize[]) => ReturnType<typeof findRepeats>;
  /** Called after each batch with how many files it had. */
  readonly onLook?: (count: number) => void;
}

/** How many files make a batch; a smaller one is the last of its member. */
export const lookBatch = 48;

/** Looks at the header of every file of a member. Faults are results, never thrown. */
export async function lookAtMember(member: MaterialMember, places: LookPlaces): Promise<LookedMember> {
  const frames = framesOf(member.sequence);
  const look = places.look ?? lookAtFiles;
  const batches = Array.from({ length: Math.ceil(frames.length / lookBatch) }, (_, i) =>
    frames.slice(i * lookBatch, (i + 1) * lookBatch),
  );
  const share = sharedPasses();
  const looked = await Promise.all(
    batches.map(async (some) => {
      const faults: FileLook[] = [];
      const files: FileToLookAt[] = [];
      for (const frame of some) {
        const file = fileOfFrame(member.sequence, frame);
        await places.locate(file).then(
          (path) => files.push({ path, file, frame }),
          (error: Error) => faults.push({ file, frame, fault: { kind: 'unreadable-frame', message: error.message } }),
        );
      }
      const looks = [...faults, ...(await look(files)).map(share)];
      places.onLook?.(some.length);
      return looks;
    }),
  );
  const looks = looked.flat().sort((a, b) => a.frame - b.frame);
  const sizes = looks.flatMap((l) => ('facts' in l ? [{ file: l.file, frame: l.frame, bytes: l.facts.bytes }] : []));
  const repeats = await (places.findRepeats?.(sizes) ?? findRepeats(sizes, places.locate));
  return { ...member, looks, repeats };
}

/** Lets looks whose files hold the same passes share them: what twenty thousand frames have alike is kept, and described, once. */
function sharedPasses(): (look: FileLook) => FileLook {
  const known = new Map<string, FileFacts['passes']>();
  return (look) => {
    if (!('facts' in look)) return look;
    const { passes } = look.facts;
    const key = JSON.stringify(passes);
    if (!known.has(key)) known.set(key, passes);
    return { ...look, facts: { ...look.facts, passes: known.get(key)! } };
  };
}

/** Files looked at beside each other: opening one waits more than it works. */
const beside = 4;

/** Looks at some files, a few at a time. */
export async function lookAtFiles(files: readonly FileToLookAt[]): Promise<FileLook[]> {
  const looks: FileLook[] = [];
  for (let at = 0; at < files.length; at += beside)
    looks.push(...(await Promise.all(files.slice(at, at + beside).map(lookAtFile))));
  return looks;
}

async function lookAtFile({ path, file, frame }: FileToLookAt): Promise<FileLook> {
  try {
    const facts = await readFacts(path, file);
    if (facts.missingChunks === 0 || !(await isGrowing(path))) return { file, frame, facts };
    return { file, frame, fault: { kind: 'growing', message: `${file}: it is still being written.` } };
  } catch (error) {
    const { message } = error as Error;
    if (error instanceof ForeignFile) return { file, frame, fault: { kind: 'foreign-file', message } };
    return { file, frame, fault: { kind: (await isGrowing(path)) ? 'growing' : 'unreadable-frame', message } };
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
