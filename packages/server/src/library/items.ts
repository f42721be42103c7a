import { lookFilesOf, walkEntries, adjustmentsOf, type ColourKey, type LedgerDocument } from '@june-haze/core';
import type { LibraryChange, LibraryItem } from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Db } from '../database/connect.ts';
import type { Database } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { Examined } from './examine.ts';
import { removeBundle } from './store.ts';

type ItemRow = Selectable<Database['library_items']>;
type ShotRow = Pick<Selectable<Database['shots']>, 'id' | 'name' | 'config_id' | 'variables' | 'viewing'>;

/** What was dropped, examined and kept in the library folder under its content's name. */
export type Kept = Omit<Examined, 'files'> & { readonly id: string };

/** Lists what was kept; the same content again is the same item. */
export async function addItem(db: Db, name: string, { id, kind, facts, use }: Kept): Promise<string> {
  const title = name
    .split(/[/\\]/)
    .at(-1)!
    .replace(/\.(zip|ocioz?)$/i, '');
  await db
    .insertInto('library_items')
    .values({ id, kind, name: title, facts: JSON.stringify(facts), use: use && JSON.stringify(use) })
    .onConflict((c) => c.column('id').doNothing())
    .execute();
  return id;
}

export async function listItems(db: Db): Promise<LibraryItem[]> {
  const [rows, shots, sources] = await Promise.all([
    db.selectFrom('library_items').selectAll().orderBy('created_at').execute(),
    db
      .selectFrom('shots')
      .innerJoin('ledger_revisions as r', (j) =>
        j.onRef('r.shot_id', '=', 'shots.id').onRef('r.number', '=', 'shots.ledger_head'),
      )
      .select(['shots.id', 'name', 'config_id', 'variables', 'viewing', 'r.document'])
      .execute(),
    db.selectFrom('sources').select(['shot_id', 'pattern', 'declared_space']).execute(),
  ]);
  return rows.map((row, i) => ({
    id: row.id,
    kind: row.kind,
    name: row.name,
    version: rows.slice(0, i + 1).filter((r) => r.name === row.name && r.kind === row.kind).length,
    createdAt: row.created_at.toISOString(),
    facts: row.facts,
    use: row.use,
    usedBy: shots.flatMap((shot) =>
      usesOf(
        row,
        shot,
        sources.filter((s) => s.shot_id === shot.id),
      ),
    ),
  }));
}

function usesOf(
  row: ItemRow,
  shot: ShotRow & { document: LedgerDocument },
  sources: readonly { pattern: string; declared_space: string | null }[],
): LibraryItem['usedBy'] {
  const declared = row.use?.as === 'conversion' ? sources.filter((s) => s.declared_space === row.name) : [];
  const by = (how: string) => ({ shotId: shot.id, name: shot.name, how });
  return [
    ...(shot.config_id === row.id ? [by('its config')] : []),
    ...(shot.viewing.lookFile?.id === row.id ? [by('viewing look')] : []),
    ...entriesWith(shot.document, row.id).map((name) => by(`baked into ${name}`)),
    ...declared.map((s) => by(`declared space of ${s.pattern}`)),
  ];
}

/** Names of the entries whose adjustments use a LUT or CDL. */
function entriesWith(document: LedgerDocument, id: string): string[] {
  const uses = (e: LedgerDocument['entries'][number]) =>
    adjustmentsOf(e).some((a) => 'lookFile' in a && a.lookFile?.id === id);
  return [...walkEntries(document.entries)].filter(uses).map((e) => e.name);
}

export async function requireItem(db: Db, id: string): Promise<ItemRow> {
  const row = await db.selectFrom('library_items').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw new RequestError(404, 'This item is no longer in the Library.');
  return row;
}

export async function changeItem(db: Db, id: string, change: LibraryChange): Promise<void> {
  const row = await requireItem(db, id);
  if (change.use && row.kind === 'config') throw new RequestError(400, 'A config is neither a look nor a conversion.');
  const renamed = change.name !== undefined && change.name !== row.name;
  if (row.use?.as === 'conversion' && (change.use?.as === 'look' || renamed)) {
    const source = await db
      .selectFrom('sources')
      .select('pattern')
      .where('declared_space', '=', row.name)
      .executeTakeFirst();
    if (source)
      throw new RequestError(409, `${source.pattern} is declared in the space of ${row.name}; declare another first.`);
  }
  await db
    .updateTable('library_items')
    .set({ name: change.name ?? row.name, use: JSON.stringify(change.use ?? row.use) })
    .where('id', '=', id)
    .execute();
}

/** Removes an item that no shot uses. */
export async function removeItem(db: Db, folder: string, id: string): Promise<void> {
  await requireItem(db, id);
  const item = (await listItems(db)).find((i) => i.id === id)!;
  if (item.usedBy.length > 0)
    throw new RequestError(
      409,
      `${item.name} is used by ${item.usedBy.map((u) => u.name).join(', ')}; choose another there first.`,
    );
  const setUps = await db.selectFrom('set_ups').select(['name', 'config_id', 'viewing']).execute();
  const setUp = setUps.find((s) => s.config_id === id || s.viewing.lookFile?.id === id);
  if (setUp)
    throw new RequestError(
      409,
      `${item.name} is used by the set-up ${setUp.name}; remove that first, or keep it anew.`,
    );
  await db.deleteFrom('library_items').where('id', '=', id).execute();
  await removeBundle(folder, id);
}

/**
 * What decides a shot's colours: its config and variables, its looks, and the Library's conversions. Looks of the ledger in force, or of
 * `document`; what is no longer in the Library is left out, so that its entry can say so.
 */
export async function colourKey(db: Db, shot: ShotRow, document?: LedgerDocument): Promise<ColourKey> {
  const [items, ledger] = await Promise.all([
    db.selectFrom('library_items').selectAll().where('kind', '!=', 'config').orderBy('created_at').execute(),
    document ?? ledgerInForce(db, shot.id),
  ]);
  const rows = items.filter((i) => i.kind === 'lut');
  const wanted = new Set([...(shot.viewing.lookFile ? [shot.viewing.lookFile.id] : []), ...lookFilesOf(ledger)]);
  const looks = [...wanted].filter((id) => items.some((i) => i.id === id));
  const conversions = rows.flatMap(({ id, name, use }) => (use?.as === 'conversion' ? [{ id, name, to: use.to }] : []));
  return { config: shot.config_id, variables: shot.variables, looks, conversions };
}

async function ledgerInForce(db: Db, shotId: string): Promise<LedgerDocument> {
  const row = await db
    .selectFrom('shots')
    .innerJoin('ledger_revisions as r', (j) =>
      j.onRef('r.shot_id', '=', 'shots.id').onRef('r.number', '=', 'shots.ledger_head'),
    )
    .where('shots.id', '=', shotId)
    .select('r.document')
    .executeTakeFirstOrThrow();
  return row.document;
}
