import { sql } from 'kysely';
import type { Db } from '../database/connect.ts';
import { asNumbered } from '@june-haze/core';
import { offsetOf, pacingOf } from './frameFiles.ts';
import type { SourceRow } from './sourceState.ts';

/** What a file is, in the order of names: as it was looked at, or as it is since it changed. */
const hashOfFiles = sql<string>`coalesce(md5(string_agg(
  file || '/' || coalesce(now, bytes || '-' || modified_at || '-' || coalesce(print, '')), '|' order by file)), '')`;

/** Keeps the hash over all that a source's files are now: everything that is cached of its pixels names it. */
export async function stampSource(db: Db, sourceId: string): Promise<void> {
  await db
    .updateTable('sources')
    .set({
      stamp: (eb) => eb.selectFrom('source_files').where('source_id', '=', sourceId).select(hashOfFiles.as('stamp')),
    })
    .where('id', '=', sourceId)
    .execute();
}

/** The same before their content was looked at. */
const hashOfNames = sql<string>`coalesce(md5(string_agg(
  file || '/' || coalesce(now, bytes || '-' || modified_at), '|' order by file)), '')`;
/** Whether the content of all was looked at; null before any was looked at at all. */
const allPrinted = sql<boolean | null>`bool_and(now is not null or print is not null)`;

/** What the files are that serve frames of a source. */
export interface FilesOfFrames {
  /** A hash over all that is known of them. */
  readonly files: string;
  /** A hash over their names, sizes and times. */
  readonly names: string;
  /**
   * Their content is in the first hash: before it was looked at, only the second tells whether they are the same. Null: nothing was looked at
   * yet, and neither tells.
   */
  readonly printed: boolean | null;
}

/** What the files of some sources are that serve frames of the shot. By source. */
export async function filesOfFrames(
  db: Db,
  rows: readonly SourceRow[],
  first: number,
  last: number,
): Promise<Record<string, FilesOfFrames>> {
  const stamps: Record<string, FilesOfFrames> = {};
  for (const row of rows) {
    const { facts, reading } = row;
    // One file may serve many frames: a still, a movie, a still pass among moving ones, a frame that is held or comes again.
    const { speed, beyond } = pacingOf(reading ?? {});
    const again = speed !== asNumbered.speed || beyond !== asNumbered.beyond;
    const held = reading?.onFault === 'hold' || again;
    const all = facts.still || facts.fileKind === 'movie' || held || facts.files?.some((f) => f.still);
    const offset = offsetOf(row);
    let query = db.selectFrom('source_files').where('source_id', '=', row.id);
    if (!all) query = query.where('frame', '>=', first - offset).where('frame', '<=', last - offset);
    const { files, names, printed } = await query
      .select([hashOfFiles.as('files'), hashOfNames.as('names'), allPrinted.as('printed')])
      .executeTakeFirstOrThrow();
    const place = `${row.folder}/${row.pattern}`;
    stamps[row.id] = { files: `${place} ${files}`, names: `${place} ${names}`, printed };
  }
  return stamps;
}

/** A hash over what the files of some sources are that serve frames of the shot. By source. */
export async function stampsOfFrames(...of: Parameters<typeof filesOfFrames>): Promise<Record<string, string>> {
  return Object.fromEntries(Object.entries(await filesOfFrames(...of)).map(([id, { files }]) => [id, files]));
}
