import { stat } from 'node:fs/promises';
import type { Db } from '../database/connect.ts';
import { changeFacts } from './changeFacts.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
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
}

/** Times are kept in milliseconds, with what a file system makes of them. */
const sameTime = (a: number, b: number) => Math.abs(a - b) < 2;

/** Compares a source's files with what was stored of them. Reads no file. */
export async function findChanges(db: Db, media: MediaFolders, row: SourceRow): Promise<FileChanges> {
  const known = await db.selectFrom('source_files').selectAll().where('source_id', '=', row.id).execute();
  const folder = await media.locate(row.folder).catch(() => undefined);
  if (folder === undefined) return { changed: [], gone: known.map((k) => k.frame), added: [], moved: true };
  const changed = new Set<number>();
  const gone = new Set<number>();
  for (const file of known) {
    const now = await stat(`${folder}/${file.file}`).catch(() => undefined);
    if (!now) gone.add(file.frame);
    else if (now.size !== file.bytes || !sameTime(now.mtimeMs, file.modified_at)) changed.add(file.frame);
  }
  const material = await media.material(row.folder, row.pattern).catch(() => undefined);
  const had = new Set(known.map((k) => k.frame));
  const added = new Set(material?.members.flatMap((m) => m.sequence.frames.filter((f) => !had.has(f))) ?? []);
  row.facts.damaged.forEach((d) => added.delete(d.frame));
  const sorted = (set: Set<number>) => [...set].sort((a, b) => a - b);
  return {
    changed: sorted(changed),
    gone: sorted(gone),
    added: sorted(added),
    moved: known.length > 0 && gone.size > 0 && new Set(known.map((k) => k.frame)).size === gone.size && !material,
  };
}

/**
 * Keeps what became of a source's files as a finding. Returns whether they are to be looked at again by themselves: frames came to it, or
 * some were still being written.
 */
export async function noticeChanges(db: Db, media: MediaFolders, row: SourceRow): Promise<boolean> {
  const found = await findChanges(db, media, row);
  const grown = found.added.length > 0 && !found.changed.length && !found.gone.length;
  if (grown || row.facts.growing.length > 0) {
    await db.updateTable('sources').set({ checked_at: null }).where('id', '=', row.id).execute();
    return true;
  }
  const frames = [...found.changed, ...found.gone].sort((a, b) => a - b);
  const others = row.facts.findings.filter((f) => f.kind !== 'changed-files');
  if (!frames.length && others.length === row.facts.findings.length) return false;
  const finding = {
    kind: 'changed-files' as const,
    source: row.id,
    pass: null,
    file: null,
    frames,
    sampled: false,
    text: changeWords(found),
  };
  await db.transaction().execute((t) =>
    changeFacts(t, row.id, (facts) => ({
      ...facts,
      findings: [...facts.findings.filter((f) => f.kind !== 'changed-files'), ...(frames.length ? [finding] : [])],
    })),
  );
  return false;
}

function changeWords({ changed, gone, moved }: FileChanges): string {
  if (moved) return 'its files are not there any more: they were moved, renamed or removed';
  return [
    ...(changed.length ? [`${changed.length} of its files changed since they were looked at`] : []),
    ...(gone.length ? [`${gone.length} are not there any more`] : []),
  ].join(', ');
}
