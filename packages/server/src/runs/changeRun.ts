import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import { resumeJobs, withdrawJobs } from './enqueue.ts';

/** What a person can do with a run. */
export const runChanges = ['cancel', 'pause', 'resume', 'again'] as const;
export type RunChange = (typeof runChanges)[number];

/**
 * Changes how a run stands, in one transaction. `cancel` and `pause` leave frames that are in hand to be finished; `resume` goes on with a
 * paused run; `again` writes what failed or was left out of one that is over, from what was frozen when it began. Throws a 409 RequestError
 * where the run stands otherwise.
 */
export async function changeRun(db: Db, runId: string, to: RunChange): Promise<void> {
  await db.transaction().execute(async (t) => {
    if (to === 'cancel') {
      await step(t, runId, ['running', 'paused'], 'cancelled', 'This run is not being written any more.');
      await setFrames(t, runId, ['waiting'], 'cancelled');
      await withdrawJobs(t, runId);
    } else if (to === 'pause') {
      await step(t, runId, ['running'], 'paused', 'This run is not being written any more.');
      await withdrawJobs(t, runId);
    } else if (to === 'resume') {
      await step(t, runId, ['paused'], 'running', 'This run is not paused.');
      await resumeJobs(t, runId);
    } else {
      await refuseBesideOther(t, runId);
      await step(t, runId, ['failed', 'cancelled'], 'running', 'There is nothing left of this run to write again.');
      await setFrames(t, runId, ['failed', 'cancelled'], 'waiting');
      // Jobs that were given up stand in the way of new ones.
      await withdrawJobs(t, runId);
      await resumeJobs(t, runId);
    }
  });
}

type RunState = 'running' | 'paused' | 'done' | 'failed' | 'cancelled';

async function step(t: Db, runId: string, from: readonly RunState[], to: RunState, otherwise: string): Promise<void> {
  const open = to === 'running' || to === 'paused';
  const changed = await t
    .updateTable('runs')
    .set({ state: to, finished_at: open ? null : new Date(), message: null })
    .where('id', '=', runId)
    .where('state', 'in', from)
    .returning('id')
    .executeTakeFirst();
  if (!changed) throw new RequestError(409, otherwise);
}

async function setFrames(
  t: Db,
  runId: string,
  from: readonly ('waiting' | 'failed' | 'cancelled')[],
  state: 'waiting' | 'cancelled',
): Promise<void> {
  await t
    .updateTable('run_frames')
    .set({ state, message: null })
    .where('run_id', '=', runId)
    .where('state', 'in', from)
    .execute();
}

/** Of an output's runs one is open at most, and only the last is taken up again. */
async function refuseBesideOther(t: Db, runId: string): Promise<void> {
  const later = await t
    .selectFrom('runs')
    .innerJoin('runs as own', 'own.output_id', 'runs.output_id')
    .where('own.id', '=', runId)
    .whereRef('runs.started_at', '>', 'own.started_at')
    .select('runs.id')
    .executeTakeFirst();
  if (later) throw new RequestError(409, 'This output was written again since; write it anew.');
}
