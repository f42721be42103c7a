import { stat } from 'node:fs/promises';
import { guessRole, type FrameSequence } from '@june-haze/core';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { SourceFacts } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';

interface Examined {
  readonly facts: SourceFacts;
  readonly guess: string | undefined;
}

/**
 * Reads every frame's header and says what a sequence is, or a set of one file per pass. Bad frames are listed, not fatal, unless
 * none is readable.
 */
export async function examineSequence(
  pool: ComputePool,
  media: MediaFolders,
  folder: string,
  pattern: string,
): Promise<Examined> {
  if (!pattern.includes('{pass}')) return examineOne(pool, media, folder, await media.sequence(folder, pattern));
  const { members } = await media.passSet(folder, pattern);
  const examined = await Promise.all(
    members.map(async ({ pass, sequence }) => ({
      pass,
      pattern: sequence.pattern,
      ...(await examineOne(pool, media, folder, sequence)),
    })),
  );
  return joinSet(examined);
}

/** A set as one source: parts are counted through its files, passes carry the names that their files do. */
function joinSet(members: readonly (Examined & { pass: string; pattern: string })[]): Examined {
  const beauty = members.find((m) => guessRole(m.pass) === 'beauty') ?? members[0]!;
  const files = members.map((m) => ({ pattern: m.pattern, parts: m.facts.layout!.length }));
  const frames = (pick: (f: SourceFacts) => number[]) =>
    [...new Set(members.flatMap((m) => pick(m.facts)))].sort((a, b) => a - b);
  let first = 0;
  const passes = members.flatMap((m) => {
    const before = first;
    first += m.facts.layout!.length;
    return m.facts.passes.map((p) => {
      const plain = p.role === 'beauty' || m.facts.passes.length === 1;
      const name = plain ? m.pass : `${m.pass}.${p.name}`;
      return { ...p, name, role: plain ? guessRole(m.pass) : p.role, part: p.part + before };
    });
  });
  const firstFrame = Math.min(...members.map((m) => m.facts.firstFrame));
  const lastFrame = Math.max(...members.map((m) => m.facts.lastFrame));
  const short = (f: SourceFacts) =>
    Array.from({ length: lastFrame - firstFrame + 1 }, (_, i) => firstFrame + i).filter(
      (n) => f.missing.includes(n) || (!f.still && (n < f.firstFrame || n > f.lastFrame)),
    );
  return {
    guess: beauty.guess,
    facts: {
      ...beauty.facts,
      firstFrame,
      lastFrame,
      missing: frames(short),
      damaged: members.flatMap((m) => m.facts.damaged),
      bytesPerFrame: members.reduce((n, m) => n + m.facts.bytesPerFrame, 0),
      passes,
      files,
      layout: members.map((m) => `${m.pass}: ${m.facts.layout!.join('; ')}`),
    },
  };
}

async function examineOne(
  pool: ComputePool,
  media: MediaFolders,
  folder: string,
  sequence: FrameSequence,
): Promise<Examined> {
  const { pattern } = sequence;
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
    else if (result.value.facts.missingChunks > 0)
      damaged.push({ frame, message: `${pattern}: frame ${frame} ends early; render it again.` });
    if (result.status === 'fulfilled') first ??= result.value;
  });
  if (!first) throw new RequestError(400, damaged[0]?.message ?? `${pattern} holds nothing that can be read.`);
  const { guess, evidence } = first;
  const { passes, attributes, layout, width, height, rate, codec, sampleType, bytes } = first.facts;
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
      compression: codec,
      sampleType,
      bytesPerFrame: bytes,
      passes: [...passes],
      attributes: { ...attributes },
      layout: [...layout],
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
