import { isDeepStrictEqual } from 'node:util';
import { sortedUnique } from '@june-haze/core';
import type { ChangedFile } from '@june-haze/files';
import type { ComputePool } from '../compute/pool.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import type { Db } from '../database/connect.ts';
import { changeFacts } from './changeFacts.ts';
import { stampSource } from './fileStamps.ts';
import type { SourceRow } from './sourceState.ts';

/** What became of a source's files since they were looked at. */
export interface FileChanges {
  /** Frames whose files have another size or time. */
  readonly changed: readonly number[];
  /** Frames whose files are gone. */
  readonly gone: readonly number[];
  /** Frames that came to it. */
  readonly added: readonly number[];
  /** Its folder, or all of it, is not there any more. */
  readonly moved: boolean;
  /** Some file is another thing now than when that was last asked. */
  readonly moving: boolean;
}

export interface ChangePlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
}

/** Compares a source's files with what was stored of them, and keeps what each is now. Reads next to nothing of them. */
export async function findChanges(
  { db, pool, media }: ChangePlaces,
  row: SourceRow,
  lookForMore = true,
): Promise<FileChanges> {
  const known = await db.selectFrom('source_files').selectAll().where('source_id', '=', row.id).execute();
  const frames = new Map(known.map((k) => [k.file, k.frame]));
  const folder = await media.locate(row.folder).catch(() => undefined);
  const files = known.map((k) => ({
    file: k.file,
    bytes: k.bytes,
    modifiedAt: k.modified_at,
    changedAt: k.changed_at,
    print: k.print,
  }));
  const found =
    folder === undefined
      ? files.map(({ file }) => ({ file, now: null }))
      : await pool.run('findChangedFiles', { folder, files });
  const moved = await keepNow(db, row.id, known, found);
  const changed = found.flatMap((f) => (f.now === null ? [] : [frames.get(f.file)!]));
  const gone = found.flatMap((f) => (f.now === null ? [frames.get(f.file)!] : []));
  const had = new Set(frames.values());
  const material =
    folder !== undefined && lookForMore ? await media.material(row.folder, row.pattern).catch(() => undefined) : null;
  const added = new Set(material?.members.flatMap((m) => m.sequence.frames.filter((f) => !had.has(f))) ?? []);
  row.facts.damaged.forEach((d) => added.delete(d.frame));
  const all = known.length > 0 && new Set(gone).size === had.size;
  return {
    changed: sortedUnique(changed),
    gone: sortedUnique(gone),
    added: sortedUnique([...added]),
    moved: folder === undefined || (all && material === undefined),
    moving: moved,
  };
}

/** Keeps what files are now; returns whether that is another thing than before. */
async function keepNow(
  db: Db,
  sourceId: string,
  known: readonly { readonly file: string; readonly now: string | null }[],
  found: readonly ChangedFile[],
): Promise<boolean> {
  const now = new Map(found.map((f) => [f.file, f.now ?? 'gone']));
  const others = known.filter((k) => k.now !== (now.get(k.file) ?? null));
  if (!others.length) return false;
  await db.transaction().execute(async (t) => {
    for (const { file } of others)
      await t
        .updateTable('source_files')
        .set({ now: now.get(file) ?? null })
        .where('source_id', '=', sourceId)
        .where('file', '=', file)
        .execute();
    await stampSource(t, sourceId);
  });
  return true;
}

/** What became of a source: its pixels are others than before, or it is to be looked at again by itself. */
export interface Noticed {
  readonly again: boolean;
  readonly changed: boolean;
}

/**
 * Keeps what became of a source's files as a finding. It is to be looked at again by itself when frames came to it, or some were still being
 * written.
 */
export async function noticeChanges(places: ChangePlaces, row: SourceRow, lookForMore = true): Promise<Noticed> {
  const { db } = places;
  const found = await findChanges(places, row, lookForMore);
  const grown = found.added.length > 0 && !found.changed.length && !found.gone.length;
  if (grown || (lookForMore && row.facts.growing.length > 0)) {
    await db.updateTable('sources').set({ checked_at: null }).where('id', '=', row.id).execute();
    return { again: true, changed: found.moving };
  }
  const frames = sortedUnique([...found.changed, ...found.gone]);
  const had = row.facts.findings.find((f) => f.kind === 'changed-files');
  const text = frames.length ? changeWords(found) : undefined;
  if (had?.text === text && isDeepStrictEqual(had?.frames ?? [], frames))
    return { again: false, changed: found.moving };
  const finding = {
    kind: 'changed-files' as const,
    source: row.id,
    pass: null,
    file: null,
    frames,
    sampled: false,
    text: text ?? '',
  };
  await db.transaction().execute((t) =>
    changeFacts(t, row.id, (facts) => ({
      ...facts,
      findings: [...facts.findings.filter((f) => f.kind !== 'changed-files'), ...(frames.length ? [finding] : [])],
    })),
  );
  return { again: false, changed: true };
}

function changeWords({ changed, gone, moved }: FileChanges): string {
  if (moved) return 'its files are not there any more: they were moved, renamed or removed';
  return [
    ...(changed.length ? [`${changed.length} of its files changed since they were looked at`] : []),
    ...(gone.length ? [`${gone.length} are not there any more`] : []),
  ].join(', ');
}
