import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { WrittenLut } from '@june-haze/core';
import { temporaryName } from '@june-haze/files';
import {
  viewingSchema,
  type DerivedAnswer,
  type MatchState,
  type MatrixFileRequest,
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
export async function viewFile(places: MatchPlaces, row: ShotRow, asked: ViewFileRequest): Promise<ViewFile> {
  const viewing = viewingSchema.parse(row.viewing);
  const place = await lutPlace(places, row);
  const written = granted(await places.pool.run('writeViewing', { ...asked, ...place, viewing }));
  return lutFile(written, [row.name, viewing.display, viewing.view, 'from', asked.space], asked);
}

/** A chart's matrix as a LUT file that takes and gives numbers of a space. */
export async function matrixFile(places: MatchPlaces, row: ShotRow, asked: MatrixFileRequest): Promise<ViewFile> {
  const written = granted(await places.pool.run('writeMatrix', { ...asked, ...(await lutPlace(places, row)) }));
  return lutFile(written, [row.name, 'solved by a chart in', asked.space], asked);
}

async function lutPlace({ db, places }: MatchPlaces, row: ShotRow) {
  const colour = { key: await colourKey(db, row), folder: places.libraryFolder };
  return { colour, workingSpace: row.working_space };
}

const lutFile = (
  { text, error, holds }: WrittenLut,
  words: readonly string[],
  { kind }: ViewFileRequest,
): ViewFile => ({
  name: `${words.join(' ').replace(/[^A-Za-z0-9.-]+/g, '_')}.${kind}`,
  text,
  error,
  holds: [...holds],
});
