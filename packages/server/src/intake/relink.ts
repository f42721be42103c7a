import { RequestError } from '../errors.ts';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { firstLook } from './bringIn.ts';
import type { SourceRow } from './sourceState.ts';

/**
 * Points a source to another folder or pattern: material that moved, or another version. Declarations, roles and the ledger's references
 * stay. Throws a 409 RequestError when what lies there has another size, or lacks passes that the source had.
 */
export async function relink(
  { db, pool, media }: { db: Db; pool: ComputePool; media: MediaFolders },
  source: SourceRow,
  folder: string,
  pattern: string,
): Promise<void> {
  const material = await media.material(folder, pattern);
  const { facts } = await firstLook(pool, media, folder, material);
  const had = source.facts;
  if (facts.width !== had.width || facts.height !== had.height)
    throw new RequestError(
      409,
      `${pattern} in ${folder} is ${facts.width}×${facts.height}, the source was ${had.width}×${had.height}: this is other material.`,
    );
  const names = new Set(facts.passes.map((p) => p.name));
  const lacking = had.passes.filter((p) => !names.has(p.name)).map((p) => p.name);
  if (lacking.length)
    throw new RequestError(
      409,
      `${pattern} in ${folder} lacks ${lacking.slice(0, 5).join(', ')}: this is other material.`,
    );
  await db
    .updateTable('sources')
    .set({ folder, pattern, facts: JSON.stringify(facts), checked_at: null, check_failure: null })
    .where('id', '=', source.id)
    .execute();
}
