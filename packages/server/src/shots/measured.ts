import type { PatchMean, Window } from '@june-haze/core';
import type { ChartAnswer, ChartRequest, MatchState } from '@june-haze/contract';
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

/** A chart in the frame that is looked at in Match: its patches, and the matrix in the working space that takes them to their targets. */
export async function measureChart(
  context: MatchPlaces,
  row: ShotRow,
  state: MatchState,
  asked: ChartRequest,
): Promise<ChartAnswer> {
  const { db, pool, places } = context;
  const { corners, without, targetPass, keepsExposure, withOffset } = asked;
  const taskOf = async (of: MatchState) => {
    const { source, pass, files, frame } = await openLight(context, of);
    return { source, pass, files, frame };
  };
  const colour = { key: await colourKey(db, row), folder: places.libraryFolder };
  const target = targetPass === null ? undefined : await taskOf({ ...state, pass: targetPass });
  return granted(
    await pool.run('measureChart', {
      ...(await taskOf(state)),
      colour,
      workingSpace: row.working_space,
      corners,
      target,
      without,
      freedom: { keepsExposure, withOffset },
    }),
  );
}
