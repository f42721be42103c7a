import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { derivedLog } from '@june-haze/core';
import { temporaryName } from '@june-haze/files';
import { type DerivedAnswer, type MatchState } from '@june-haze/contract';
import { granted } from '../compute/ask.ts';
import type { DeriveTask } from '../compute/matchTasks.ts';
import { describeSource } from '../intake/sourceState.ts';
import { addItem, changeItem, colourKey, requireItem } from '../library/items.ts';
import { openCompared, type MatchPlaces } from './match.ts';
import type { ShotRow } from './shotRows.ts';

/** So many references beside the one that is compared a view is derived from. */
const mostBeside = 7;

/** What is compared, and every other reference of the shot with the frame of its number, or the compared one where the render has none such. */
async function pairsOf(context: MatchPlaces, row: ShotRow, state: MatchState): Promise<DeriveTask['pairs']> {
  const compared = await openCompared(context, state);
  const { firstFrame, lastFrame } = compared.described;
  const rows = await context.db
    .selectFrom('sources')
    .selectAll()
    .where('shot_id', '=', row.id)
    .orderBy('position')
    .execute();
  const others = rows
    .map((own) => describeSource(own))
    .filter(({ id, reading }) => reading.use === 'reference' && id !== state.reference)
    .slice(0, mostBeside);
  const opened = await Promise.all(
    others.map(({ id, firstFrame: own }) => {
      const frame = own >= firstFrame && own <= lastFrame ? own : state.frame;
      return openCompared(context, { ...state, reference: id, frame });
    }),
  );
  return [compared, ...opened].map(({ source, pass, files, frame, reference }) => ({
    source,
    pass,
    files,
    frame,
    reference,
  }));
}

/** Derives a view from the frame and its reference, and the shot's other references, and keeps it in the Library as a show LUT. */
export async function deriveView(context: MatchPlaces, row: ShotRow, state: MatchState): Promise<DerivedAnswer> {
  const { db, pool, places } = context;
  const pairs = await pairsOf(context, row, state);
  const { libraryFolder: folder } = places;
  const colour = { key: await colourKey(db, row), folder };
  const title = `${row.name}, derived from ${pairs[0]!.reference.name}`;
  const { text, used, left, ...figures } = granted(await pool.run('deriveReference', { pairs, colour, title }));
  await mkdir(folder, { recursive: true });
  const path = join(folder, temporaryName('derived.cube'));
  try {
    await writeFile(path, text);
    const kept = await pool.run('keepDropped', { name: 'derived.cube', path, folder });
    const use = { as: 'view', from: derivedLog, encoding: 'srgb' } as const;
    const itemId = await addItem(db, await freeName(db, `${row.name} derived`), { ...kept, use });
    // The same again is the same item, under the name that it has.
    const { name, use: own } = await requireItem(db, itemId);
    if (own?.as !== 'view') await changeItem(db, itemId, { use });
    return { itemId, name, ...figures, used: [...used], left: [...left] };
  } finally {
    await rm(path, { force: true });
  }
}

/** A name that no item has: views are known by theirs. */
async function freeName(db: MatchPlaces['db'], name: string): Promise<string> {
  const items = await db.selectFrom('library_items').select('name').execute();
  const taken = new Set(items.map((i) => i.name.toLowerCase()));
  let free = name;
  for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${name} ${n}`;
  return free;
}
