import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { eventSchema, type ServerEvent } from '@june-haze/contract';

const channel = 'june_events';
const retry = 1000;
/** PostgreSQL's limit for a notice is 8,000 bytes (its manual, NOTIFY). */
const largest = 7500;

/**
 * Events between processes: what `june worker` does on one machine is told to the pages of a server on another. Lost notices are made good by
 * what is read when a connection comes back.
 */
export class Notices {
  private readonly pool: pg.Pool;
  private readonly url: string;
  private readonly own = randomUUID();
  private client: pg.Client | undefined;
  private stopped = false;

  constructor(pool: pg.Pool, url: string) {
    this.pool = pool;
    this.url = url;
  }

  /** Tells the other processes. Who cannot be told now reads it later. */
  tell(event: ServerEvent): void {
    const short = JSON.stringify({ from: this.own, event });
    const words = short.length <= largest ? short : JSON.stringify({ from: this.own, event: shortened(event) });
    this.pool.query('select pg_notify($1, $2)', [channel, words]).catch(() => undefined);
  }

  /** Hears the other processes; `gap` when some may have been missed. */
  async listen(heard: (event: ServerEvent) => void, gap: () => void): Promise<void> {
    if (this.stopped) return;
    const client = new pg.Client({ connectionString: this.url });
    const again = () => {
      if (this.client === client) this.client = undefined;
      if (!this.stopped) setTimeout(() => void this.listen(heard, gap).then(gap), retry).unref();
    };
    client.once('error', () => void client.end().catch(() => undefined));
    try {
      await client.connect();
      client.once('end', again);
      client.on('notification', ({ payload }) => {
        const { from, event } = JSON.parse(payload ?? '{}') as { from?: string; event?: unknown };
        const known = eventSchema.safeParse(event);
        if (from !== this.own && known.success) heard(known.data);
      });
      await client.query(`listen ${channel}`);
      this.client = client;
    } catch {
      again();
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.client?.end().catch(() => undefined);
  }
}

/** What does not fit is said as that something changed. */
function shortened(event: ServerEvent): ServerEvent {
  return event.kind === 'frame' ? { kind: 'shot', shotId: event.shotId } : { kind: 'shelf' };
}
