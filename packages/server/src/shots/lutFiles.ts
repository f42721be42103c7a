import { colourPart, type WrittenLut } from '@june-haze/core';
import {
  viewingSchema,
  type LedgerFileRequest,
  type MatrixFileRequest,
  type ViewFile,
  type ViewFileRequest,
} from '@june-haze/contract';
import { granted } from '../compute/ask.ts';
import { RequestError } from '../errors.ts';
import { colourKey } from '../library/items.ts';
import { ledgerState } from './ledger.ts';
import type { MatchPlaces } from './match.ts';
import type { ShotRow } from './shotRows.ts';

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

/** A ledger's grades of the whole total as a LUT file that takes and gives numbers of a space. Throws a 400 RequestError where it has none. */
export async function ledgerFile(places: MatchPlaces, row: ShotRow, asked: LedgerFileRequest): Promise<ViewFile> {
  const { document } = await ledgerState(places.db, row.id);
  const part = colourPart(document, asked.frame);
  if (!part.grades.length)
    throw new RequestError(400, 'The ledger has no grade of the whole total: nothing of it is colour alone.');
  const colour = { key: await colourKey(places.db, row, document), folder: places.places.libraryFolder };
  const task = { ...asked, part, colour, workingSpace: row.working_space };
  return lutFile(granted(await places.pool.run('writeColourPart', task)), [row.name, 'ledger in', asked.space], asked);
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
