import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { temporaryName } from '@june-haze/files';
import {
  viewingSchema,
  type DerivedAnswer,
  type MatchState,
  type ViewFile,
  type ViewFileRequest,
} from '@june-haze/contract';
import { granted } from '../compute/ask.ts';
import { addItem, colourKey } from '../library/items.ts';
import { openCompared, type MatchPlaces } from './match.ts';
import type { ShotRow } from './shotRows.ts';

/** Derives a view from the frame and its reference, and keeps it in the Library as a look. */
export async function deriveView(context: MatchPlaces, row: ShotRow, state: MatchState): Promise<DerivedAnswer> {
  const { db, pool, places } = context;
  const { source, pass, files, frame, reference } = await openCompared(context, state);
  const name = `${row.name} derived`;
  const { libraryFolder: folder } = places;
  const colour = { key: await colourKey(db, row), folder };
  const { text, ...figures } = granted(
    await pool.run('deriveReference', {
      source,
      pass,
      files,
      frame,
      reference,
      colour,
      title: `${name} from ${reference.name}`,
    }),
  );
  await mkdir(folder, { recursive: true });
  const path = join(folder, temporaryName('derived.cube'));
  try {
    await writeFile(path, text);
    const kept = await pool.run('keepDropped', { name: `${name}.cube`, path, folder });
    return { itemId: await addItem(db, name, kept), name, ...figures };
  } finally {
    await rm(path, { force: true });
  }
}

/** The shot's viewing as a LUT file, with how far it lies from the exact one. */
export async function viewFile(
  { db, pool, places }: MatchPlaces,
  row: ShotRow,
  asked: ViewFileRequest,
): Promise<ViewFile> {
  const viewing = viewingSchema.parse(row.viewing);
  const written = granted(
    await pool.run('writeViewing', {
      ...asked,
      colour: { key: await colourKey(db, row), folder: places.libraryFolder },
      workingSpace: row.working_space,
      viewing,
    }),
  );
  const words = [row.name, viewing.display, viewing.view, 'from', asked.space].join(' ');
  const { text, error, holds } = written;
  return { name: `${words.replace(/[^A-Za-z0-9.-]+/g, '_')}.${asked.kind}`, text, error, holds: [...holds] };
}
