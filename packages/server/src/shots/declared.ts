import { sourceReadingSchema } from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import type { DeclaredSource } from '../database/tables.ts';
import { filesOfFrames } from '../intake/fileStamps.ts';
import type { SourceRow } from '../intake/sourceState.ts';

/** What is declared of some sources, and what their files of some frames are, in the order of their ids. */
export async function declaredOf(
  db: Db,
  used: ReadonlySet<string>,
  rows: readonly SourceRow[],
  [first, last]: readonly [number, number],
): Promise<DeclaredSource[]> {
  const own = rows.filter((r) => used.has(r.id)).sort((a, b) => (a.id < b.id ? -1 : 1));
  const stamps = await filesOfFrames(db, own, first, last);
  return own.map((r) => ({
    id: r.id,
    space: r.declared_space,
    reading: sourceReadingSchema.parse(r.reading),
    place: `${r.folder}/${r.pattern}`,
    ...stamps[r.id]!,
  }));
}

/** The sources as they were declared when a run began: its frames are of one piece, whatever is said of them meanwhile. */
export function asDeclared(rows: readonly SourceRow[], declared: readonly DeclaredSource[]): SourceRow[] {
  const said = new Map(declared.map((d) => [d.id, d]));
  return rows.map((row) => {
    const was = said.get(row.id);
    return was ? { ...row, declared_space: was.space, reading: was.reading } : row;
  });
}
