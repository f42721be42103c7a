import type { PatchMean, Window } from '@june-haze/core';
import type { MatchState } from '@june-haze/contract';
import { granted } from '../compute/ask.ts';
import { colourKey } from '../library/items.ts';
import { openLight, type MatchPlaces } from './match.ts';
import type { ShotRow } from './shotRows.ts';

/** The mean of a region of the frame that is looked at in Match, in the working space. */
export async function measurePatch(
  context: MatchPlaces,
  row: ShotRow,
  state: MatchState,
  region: Window,
): Promise<PatchMean> {
  const { db, pool, places } = context;
  const { source, pass, files, frame } = await openLight(context, state);
  const colour = { key: await colourKey(db, row), folder: places.libraryFolder };
  return granted(
    await pool.run('measurePatch', { source, pass, files, frame, colour, workingSpace: row.working_space, region }),
  );
}
