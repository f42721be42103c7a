import {
  findConfigFile,
  lutExtensions,
  openBundledConfig,
  readBundle,
  readCorrections,
  readLut,
  type Bundle,
  type ColourKey,
  type Transform,
} from '@june-haze/core';
import type { LibraryChange, LibraryItem, LutUse } from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Db } from '../database/connect.ts';
import type { Database } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import { loadBundle, removeBundle, storeBundle } from './store.ts';

type ItemRow = Selectable<Database['library_items']>;
type ShotRow = Pick<Selectable<Database['shots']>, 'id' | 'name' | 'config_id' | 'viewing'>;

const extensionOf = (path: string) => path.slice(path.lastIndexOf('.') + 1).toLowerCase();
const isZip = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b;

/** Files as they were dropped: an archive unpacked, a single file by its name. */
export function filesOf(name: string, bytes: Uint8Array): Bundle {
  return isZip(bytes) ? readBundle(bytes, name) : new Map([[name.split(/[/\\]/).at(-1)!, bytes]]);
}

/** What a dropped bundle is. Throws a ColourFileError for one that is neither a config nor a LUT. */
function examine(name: string, files: Bundle): Pick<ItemRow, 'kind' | 'facts'> & { use: LutUse | null } {
  const paths = [...files.keys()];
  const bytes = [...files.values()].reduce((n, b) => n + b.length, 0);
  if (findConfigFile(files)) {
    const config = openBundledConfig(files, name);
    const { document } = config;
    const views = config.activeDisplays().reduce((n, d) => n + d.views.length, 0);
    const about = `version ${document.majorVersion}, ${config.activeSpaces().length} spaces, ${views} views, ${document.looks.length} looks`;
    const problems = config.problems().map((p) => p.message);
    return { kind: 'config', facts: { files: paths, bytes, about, problems }, use: null };
  }
  const path = paths.find((p) => lutExtensions.includes(extensionOf(p)));
  if (!path)
    throw new RequestError(
      400,
      `${name}: this is no colour config, LUT or CDL. Drop an .ocio file with its folder, or a LUT file.`,
    );
  const transform = readLut(files.get(path)!, path);
  const cdl = ['cc', 'ccc', 'cdl'].includes(extensionOf(path));
  const about = cdl ? corrections(readCorrections(files.get(path)!, path).length) : describe(transform);
  return {
    kind: cdl ? 'cdl' : 'lut',
    facts: { files: [path], bytes, about, problems: [] },
    use: { as: 'look', space: 'ACEScct' },
  };
}

const corrections = (n: number) => `${n} ${n === 1 ? 'correction' : 'corrections'}`;

/** A LUT in words: its parts in order. */
function describe(t: Transform): string {
  if (t.type === 'group') return t.children.map(describe).join(' → ') || 'nothing';
  if (t.type === 'lut1d') return `table of ${t.table.channels[0].length}`;
  if (t.type === 'lut3d') return `cube of ${t.table.size}³`;
  return t.type === 'matrix' ? 'scale' : t.type;
}

/** Stores a dropped file or archive; the same content again is the same item. */
export async function addItem(db: Db, folder: string, name: string, bytes: Uint8Array): Promise<string> {
  const files = filesOf(name, bytes);
  const { kind, facts, use } = examine(name, files);
  const id = await storeBundle(folder, files);
  const title = name
    .split(/[/\\]/)
    .at(-1)!
    .replace(/\.(zip|ocio)$/i, '');
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
    db.selectFrom('shots').select(['id', 'name', 'config_id', 'viewing']).execute(),
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
  shot: ShotRow,
  sources: readonly { pattern: string; declared_space: string | null }[],
): LibraryItem['usedBy'] {
  const declared = row.use?.as === 'conversion' ? sources.filter((s) => s.declared_space === row.name) : [];
  const by = (how: string) => ({ shotId: shot.id, name: shot.name, how });
  return [
    ...(shot.config_id === row.id ? [by('its config')] : []),
    ...(shot.viewing.lookFile?.id === row.id ? [by('viewing look')] : []),
    ...declared.map((s) => by(`declared space of ${s.pattern}`)),
  ];
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
  await db.deleteFrom('library_items').where('id', '=', id).execute();
  await removeBundle(folder, id);
}

/** What decides a shot's colours: its config, its look, and the Library's conversions. */
export async function colourKey(db: Db, shot: ShotRow): Promise<ColourKey> {
  const rows = await db
    .selectFrom('library_items')
    .selectAll()
    .where('kind', '=', 'lut')
    .orderBy('created_at')
    .execute();
  const conversions = rows.flatMap(({ id, name, use }) => (use?.as === 'conversion' ? [{ id, name, to: use.to }] : []));
  return { config: shot.config_id, look: shot.viewing.lookFile?.id ?? null, conversions };
}

/** An item's bundle as it is stored. */
export const itemFiles = (folder: string, id: string): Bundle => loadBundle(folder, id);
