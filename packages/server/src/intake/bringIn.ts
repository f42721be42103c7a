import { fileOfFrame, framesOf, usualFacts, type LookedMember, type Material } from '@june-haze/core';
import { identityOfState, stateOf } from '@june-haze/files';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { applyRoleHabits } from './roleHabits.ts';
import { evidenceFor } from './spaceRules.ts';
import { storedFacts, type Examined } from './storedFacts.ts';
import type { SourceFacts } from '@june-haze/contract';

/** So many files are tried until one can be read. */
const tries = 24;

/**
 * What one readable file of each member says, and what the names say of the rest: enough to show a source while all its files are looked
 * at. Throws a 400 RequestError when none can be read.
 */
export async function firstLook(
  pool: ComputePool,
  media: MediaFolders,
  folder: string,
  material: Material,
  more: Parameters<typeof storedFacts>[1] = () => [],
): Promise<Examined> {
  const members: LookedMember[] = [];
  for (const member of material.members) {
    const frames = framesOf(member.sequence);
    const order = frames.length <= tries ? frames : [...frames.slice(0, tries - 1), frames.at(-1)!];
    const looks: LookedMember['looks'][number][] = [];
    for (const frame of order) {
      const file = fileOfFrame(member.sequence, frame);
      const path = await media.locate(`${folder}/${file}`);
      const [look] = await pool.run('lookAtSome', [{ path, file, frame }]);
      if ('facts' in look! && look.facts.missingChunks === 0) {
        looks.splice(0, looks.length, look);
        break;
      }
      looks.push(look!);
    }
    members.push({ ...member, looks: usualFacts(looks) ? looks.filter((l) => 'facts' in l) : looks, repeats: [] });
  }
  return storedFacts({ ...material, members, measures: [], full: false }, more);
}

/** Puts a source into a shot as it lies, its space a guess. Throws a 409 RequestError when it is there already. */
export async function addSource(
  db: Db,
  shotId: string,
  folder: string,
  pattern: string,
  { facts, guess }: Examined,
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
      facts: JSON.stringify(await applyRoleHabits(db, facts)),
      declared_space: guess ?? null,
      confirmed: false,
      confirmed_by: null,
      checked_at: null,
      check_failure: null,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  await takeRate(db, shotId, facts);
  return id;
}

/** A shot takes the rate of the first moving source that says one. */
async function takeRate(db: Db, shotId: string, { rate, still }: SourceFacts): Promise<void> {
  if (rate === null || still) return;
  const others = await db.selectFrom('sources').select('facts').where('shot_id', '=', shotId).execute();
  const said = others.filter((o) => o.facts.rate !== null && !o.facts.still);
  if (said.length === 1) await db.updateTable('shots').set({ rate }).where('id', '=', shotId).execute();
}

/** Brings material of a folder into a shot; returns the new sources' ids and a sentence for each that could not be brought in. */
export async function bringIn(
  places: { db: Db; pool: ComputePool; media: MediaFolders; libraryFolder: string },
  shotId: string,
  folder: string,
  patterns: readonly string[],
): Promise<{ ids: string[]; refused: string[] }> {
  const { db, pool, media } = places;
  const materials = await media.materials(folder, patterns);
  const more = await evidenceFor(places, shotId, folder, patterns);
  const ids: string[] = [];
  const refused: RequestError[] = [];
  for (const [i, pattern] of patterns.entries()) {
    const material = materials[i];
    try {
      if (!material) throw new RequestError(404, `${pattern} is not in ${folder}.`);
      const examined = await firstLook(pool, media, folder, material, more);
      ids.push(await addSource(db, shotId, folder, pattern, examined));
    } catch (error) {
      if (!(error instanceof RequestError)) throw error;
      refused.push(error);
    }
  }
  // One bad file among many is told by name, and does not keep the others out.
  if (refused.length && !ids.length) throw refused[0]!;
  return { ids, refused: refused.map((e) => e.message) };
}

/** A file's identity for caches: changes whenever the file does. */
export async function identityOf(path: string): Promise<string> {
  const state = await stateOf(path);
  if (!state) throw new RequestError(404, `${path.split('/').at(-1)}: the file is not there any more.`);
  return identityOfState(state);
}
