import type { Transaction } from 'kysely';
import type { SourceFacts } from '@june-haze/contract';
import type { Database } from '../database/tables.ts';

/** Changes a source's facts as they are now: the row is locked until the transaction ends, so no other change is lost. */
export async function changeFacts(
  transaction: Transaction<Database>,
  id: string,
  change: (facts: SourceFacts) => SourceFacts,
): Promise<void> {
  const row = await transaction
    .selectFrom('sources')
    .select('facts')
    .where('id', '=', id)
    .forUpdate()
    .executeTakeFirst();
  if (!row) return;
  await transaction
    .updateTable('sources')
    .set({ facts: JSON.stringify(change(row.facts)) })
    .where('id', '=', id)
    .execute();
}
