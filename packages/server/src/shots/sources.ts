import { stat } from 'node:fs/promises';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { SourceFacts } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';

/** Reads every frame's header and says what the sequence is. Bad frames are listed, not fatal, unless none is readable. */
export async function examineSequence(
  pool: ComputePool,
  media: MediaFolders,
  folder: string,
  pattern: string,
): Promise<{ facts: SourceFacts; guess: string | undefined }> {
  const sequence = await media.sequence(folder, pattern);
  const frames = sequence.frames.length ? sequence.frames : [0];
  const damaged: SourceFacts['damaged'] = [];
  let first: Awaited<ReturnType<typeof look>> | undefined;
  const look = async (frame: number) => {
    const path = await media.frameFile(folder, pattern, frame);
    return pool.run('inspectFile', { path, name: nameOf(path) });
  };
  const results = await Promise.allSettled(frames.map(look));
  results.forEach((result, i) => {
    const frame = frames[i]!;
    if (result.status === 'rejected') damaged.push({ frame, message: (result.reason as Error).message });
    else if (result.value.truncated)
      damaged.push({ frame, message: `${pattern}: frame ${frame} ends early; render it again.` });
    if (result.status === 'fulfilled') first ??= result.value;
  });
  if (!first) throw new RequestError(400, damaged[0]?.message ?? `${pattern} holds nothing that can be read.`);
  const { guess, evidence, passes, attributes, layout, width, height, rate, compression, sampleType, bytes } = first;
  return {
    guess,
    facts: {
      firstFrame: frames[0]!,
      lastFrame: frames.at(-1)!,
      still: sequence.frames.length === 0,
      missing: [...sequence.missing],
      damaged,
      width,
      height,
      rate,
      compression,
      sampleType,
      bytesPerFrame: bytes,
      passes: [...passes],
      attributes,
      layout,
      evidence: [...evidence],
    },
  };
}

const nameOf = (path: string) => path.split('/').at(-1)!;

export async function bringIn(
  db: Db,
  shotId: string,
  folder: string,
  pattern: string,
  facts: SourceFacts,
  guess: string | undefined,
): Promise<string> {
  const same = await db
    .selectFrom('sources')
    .select('id')
    .where('shot_id', '=', shotId)
    .where('folder', '=', folder)
    .where('pattern', '=', pattern)
    .executeTakeFirst();
  if (same) throw new RequestError(409, `${pattern} is already in this shot.`);
  const { id } = await db
    .insertInto('sources')
    .values({
      shot_id: shotId,
      folder,
      pattern,
      facts: JSON.stringify(facts),
      declared_space: guess ?? null,
      confirmed: false,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  if (facts.rate) await db.updateTable('shots').set({ rate: facts.rate }).where('id', '=', shotId).execute();
  return id;
}

/** A file's identity for caches: changes whenever the file does. */
export async function identityOf(path: string): Promise<string> {
  const s = await stat(path).catch(() => undefined);
  if (!s) throw new RequestError(404, `${nameOf(path)}: the file is not there any more.`);
  return `${s.size.toString(36)}-${Math.round(s.mtimeMs).toString(36)}`;
}
