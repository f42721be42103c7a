import {
  adjustmentsOf,
  isLutDisplay,
  lookFilesOf,
  lutDisplay,
  undoneName,
  walkEntries,
  type ColourKey,
  type LedgerDocument,
  type ShowLut,
} from '@june-haze/core';
import type { LibraryChange, LibraryItem, Viewing } from '@june-haze/contract';
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
  const spaces = spacesOf(row);
  const declared = sources.filter((s) => s.declared_space !== null && spaces.includes(s.declared_space));
  const by = (how: string) => ({ shotId: shot.id, name: shot.name, how });
  return [
    ...(shot.config_id === row.id ? [by('its config')] : []),
    ...(shot.viewing.lookFile?.id === row.id ? [by('viewing look')] : []),
    ...(isShownThrough(row, shot.viewing) ? [by('its view')] : []),
    ...entriesWith(shot.document, row.id).map((name) => by(`baked into ${name}`)),
    ...declared.map((s) => by(`declared space of ${s.pattern}`)),
  ];
}

/** Names of the spaces that a LUT is, or whose pictures it takes back to light. */
function spacesOf({ name, use }: Pick<ItemRow, 'name' | 'use'>): string[] {
  if (use?.as === 'conversion') return [name];
  return use?.as === 'view' ? [undoneName(lutDisplay, name)] : [];
}

const isShownThrough = ({ name, use }: Pick<ItemRow, 'name' | 'use'>, { display, view }: Viewing): boolean =>
  use?.as === 'view' && isLutDisplay(display) && view === name;

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

/** Renames an item or says what it is for. Throws a RequestError where what it was is used, or where its new name leads to two. */
export async function changeItem(db: Db, id: string, change: LibraryChange): Promise<void> {
  const row = await requireItem(db, id);
  if (change.use && row.kind === 'config') throw new RequestError(400, 'A config is neither a look nor a conversion.');
  const next = { name: change.name ?? row.name, use: change.use ?? row.use };
  if (next.name !== row.name || next.use?.as !== row.use?.as) {
    await refuseWhereUsed(db, row);
    await refuseTwins(db, id, next);
  }
  await db
    .updateTable('library_items')
    .set({ name: next.name, use: JSON.stringify(next.use) })
    .where('id', '=', id)
    .execute();
}

/** A space or a view is known by its LUT's name: while something is declared in it or seen through it, it stays what it is. */
async function refuseWhereUsed(db: Db, row: ItemRow): Promise<void> {
  const spaces = spacesOf(row);
  const source = spaces.length
    ? await db.selectFrom('sources').select('pattern').where('declared_space', 'in', spaces).executeTakeFirst()
    : undefined;
  if (source)
    throw new RequestError(409, `${source.pattern} is declared in the space of ${row.name}; declare another first.`);
  if (row.use?.as !== 'view') return;
  const [shots, setUps] = await Promise.all(
    (['shots', 'set_ups'] as const).map((table) => db.selectFrom(table).select(['name', 'viewing']).execute()),
  );
  const seen = [...shots!, ...setUps!].find((s) => isShownThrough(row, s.viewing));
  if (seen) throw new RequestError(409, `${seen.name} is seen through ${row.name}; choose another view there first.`);
}

/** Two spaces or two views of one name could not be told apart. */
async function refuseTwins(db: Db, id: string, { name, use }: Pick<ItemRow, 'name' | 'use'>): Promise<void> {
  if (!use || use.as === 'look') return;
  const others = await db.selectFrom('library_items').select(['name', 'use']).where('id', '!=', id).execute();
  if (others.some((o) => o.use?.as === use.as && o.name.toLowerCase() === name.toLowerCase()))
    throw new RequestError(409, `Another LUT named ${name} is a ${use.as} already; rename this one first.`);
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
  const setUp = setUps.find(
    (s) => s.config_id === id || s.viewing.lookFile?.id === id || isShownThrough(item, s.viewing),
  );
  if (setUp)
    throw new RequestError(
      409,
      `${item.name} is used by the set-up ${setUp.name}; remove that first, or keep it anew.`,
    );
  await db.deleteFrom('library_items').where('id', '=', id).execute();
  await removeBundle(folder, id);
}

/**
 * What decides a shot's colours: its config and variables, its looks, and the Library's conversions and show LUTs. Looks of the ledger in force, or of
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
  const views = showLutsOf(rows);
  return { config: shot.config_id, variables: shot.variables, looks, conversions, ...(views.length ? { views } : {}) };
}

/** LUTs of the Library that are views by themselves. */
export const showLutsOf = (items: readonly Pick<ItemRow, 'id' | 'name' | 'use'>[]): ShowLut[] =>
  items.flatMap(({ id, name, use }) =>
    use?.as === 'view' ? [{ id, name, from: use.from, encoding: use.encoding }] : [],
  );

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
