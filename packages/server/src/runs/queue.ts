import { EventEmitter } from 'node:events';
import { setTimeout as wait } from 'node:timers/promises';
import { makeWorkerUtils, run, type Logger, type Runner, type WorkerEvents } from 'graphile-worker';
import type pg from 'pg';

/** How often a process says that it lives, and how long it may be silent before its jobs are taken from it. */
export interface Pulse {
  readonly beat: number;
  readonly silence: number;
}
export const calmPulse: Pulse = { beat: 1000, silence: 5000 };

export type Tasks = Readonly<Record<string, (payload: never) => Promise<void>>>;

/**
 * The job queue of this process: takes jobs as long as the process lives, through any outage of the database. It says every second that it
 * lives; the jobs of those that are silent are freed by whoever notices, so that nothing stays in dead hands.
 */
export class Queue {
  private readonly pool: pg.Pool;
  private readonly logger: Logger;
  private readonly tasks: Tasks;
  private readonly pulse: Pulse;
  private readonly concurrency: number;
  private readonly pools = new Set<string>();
  private runner: Runner | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private working: Promise<void> = Promise.resolve();
  /** When this process's own word last reached the database, without a break since `steadySince`. */
  private steadySince = 0;
  private stopped = false;

  /** `concurrency`: so many jobs are in hand at once. */
  constructor(pool: pg.Pool, logger: Logger, tasks: Tasks, pulse: Pulse = calmPulse, concurrency = 2) {
    this.pool = pool;
    this.concurrency = concurrency;
    this.logger = logger;
    this.tasks = tasks;
    this.pulse = pulse;
  }

  /** Makes the queue's tables, and starts taking jobs. */
  async start(): Promise<void> {
    const utils = await makeWorkerUtils({ pgPool: this.pool, logger: this.logger });
    await utils.migrate();
    await utils.release();
    this.working = this.work();
    this.beatOn();
  }

  /** Takes no more jobs; what is in hand is finished. */
  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.runner?.stop().catch(() => undefined);
    await this.working;
    await this.pool.query('delete from queue_workers where id = any($1)', [[...this.pools]]).catch(() => undefined);
  }

  /** A runner gives up when the database is away for long: another takes its place. */
  private async work(): Promise<void> {
    while (!this.stopped) {
      const events: WorkerEvents = new EventEmitter();
      // Jobs are locked in the name of the pool that takes them, whichever of its workers has them in hand.
      events.on('pool:create', ({ workerPool }) => this.pools.add(workerPool.id));
      events.on('pool:release', ({ workerPool }) => this.pools.delete(workerPool.id));
      try {
        this.runner = await run({
          pgPool: this.pool,
          logger: this.logger,
          noHandleSignals: true,
          concurrency: this.concurrency,
          pollInterval: 1000,
          events,
          taskList: Object.fromEntries(
            Object.entries(this.tasks).map(([name, task]) => [name, (payload: unknown) => task(payload as never)]),
          ),
        });
        await this.runner.promise;
      } catch (error) {
        this.logger.error(`the queue is begun again: ${error instanceof Error ? error.message : String(error)}`);
      }
      this.runner = undefined;
      if (!this.stopped) await wait(500);
    }
  }

  private beatOn(): void {
    if (this.stopped) return;
    this.timer = setTimeout(() => {
      this.beat()
        .catch(() => (this.steadySince = 0))
        .finally(() => this.beatOn());
    }, this.pulse.beat);
    this.timer.unref();
  }

  private async beat(): Promise<void> {
    await this.pool.query(
      `insert into queue_workers (id, seen_at) select unnest($1::text[]), now()
       on conflict (id) do update set seen_at = now()`,
      [[...this.pools]],
    );
    this.steadySince ||= Date.now();
    // After an outage the others could not say anything either.
    if (Date.now() - this.steadySince >= this.pulse.silence) await freeSilent(this.pool, this.pulse.silence);
  }
}

/** Frees the jobs of processes that nobody has heard of for so many milliseconds. Returns how many were freed. */
export async function freeSilent(pool: pg.Pool, silence: number): Promise<number> {
  const { rows } = await pool.query<{ locked_by: string }>(
    `select distinct j.locked_by from graphile_worker.jobs j
     left join queue_workers w on w.id = j.locked_by
     where j.locked_by is not null and j.locked_at < now() - $1 * interval '1 millisecond'
       and (w.seen_at is null or w.seen_at < now() - $1 * interval '1 millisecond')`,
    [silence],
  );
  const silent = rows.map((r) => r.locked_by);
  if (silent.length) {
    await pool.query('select graphile_worker.force_unlock_workers($1::text[])', [silent]);
    await pool.query('delete from queue_workers where id = any($1)', [silent]);
  }
  return silent.length;
}
