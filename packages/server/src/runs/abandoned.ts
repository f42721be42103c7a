import type pg from 'pg';
import type { WorkerUtils } from 'graphile-worker';

/** Any number, the same in every process: "june" in ASCII. */
const key = 0x6a756e65;

/**
 * Frees the jobs of processes that were killed, and holds a lock that says this process is alive until the returned function is
 * called. Jobs are freed only when no other process lives: else they may be in its hands.
 */
export async function freeAbandonedJobs(pool: pg.Pool, utils: WorkerUtils): Promise<() => void> {
  const client = await pool.connect();
  const { rows } = await client.query<{ alone: boolean }>('select pg_try_advisory_lock($1) as alone', [key]);
  if (rows[0]!.alone) {
    const locked = await client.query<{ locked_by: string }>(
      'select distinct locked_by from graphile_worker.jobs where locked_by is not null',
    );
    await utils.forceUnlockWorkers(locked.rows.map((r) => r.locked_by));
    await client.query('select pg_advisory_unlock($1)', [key]);
  }
  await client.query('select pg_advisory_lock_shared($1)', [key]);
  // The lock goes with the connection.
  return () => client.release(true);
}
