import type { Db } from '../database/connect.ts';

/** So many reasons are kept of an output; older ones, of lines that say other words by now, go. */
const mostKept = 100;

/** Keeps why a line of the list before writing may be as it is; null takes that back. */
export async function acceptLine(db: Db, outputId: string, text: string, reason: string | null): Promise<void> {
  await db.transaction().execute(async (t) => {
    const row = await t
      .selectFrom('outputs')
      .select('accepted')
      .where('id', '=', outputId)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const others = row.accepted.filter((a) => a.text !== text).slice(1 - mostKept);
    const accepted = reason === null ? others : [...others, { text, reason, at: new Date().toISOString() }];
    await t
      .updateTable('outputs')
      .set({ accepted: JSON.stringify(accepted) })
      .where('id', '=', outputId)
      .execute();
  });
}
