import type pg from 'pg';

/** How often the database is asked whether it is there, and how long it may take. */
const interval = 1000;
const patience = 5000;

/** Tells when the database goes away and when it is there again. */
export class DatabasePresence {
  private readonly pool: pg.Pool;
  private readonly told: (there: boolean) => void;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private stopped = false;
  there = true;

  constructor(pool: pg.Pool, told: (there: boolean) => void) {
    this.pool = pool;
    this.told = told;
  }

  start(): void {
    const next = () => {
      if (this.stopped) return;
      this.timer = setTimeout(() => void this.ask().then(next), interval);
      this.timer.unref();
    };
    next();
  }

  stop(): void {
    this.stopped = true;
    clearTimeout(this.timer);
  }

  private async ask(): Promise<void> {
    const late = new Promise<boolean>((done) => setTimeout(() => done(false), patience).unref());
    const answers = this.pool.query('select 1').then(
      () => true,
      () => false,
    );
    const there = await Promise.race([answers, late]);
    if (there === this.there || this.stopped) return;
    this.there = there;
    console.error(
      there ? 'the database is there again' : 'the database does not answer; it is tried again every second',
    );
    this.told(there);
  }
}
