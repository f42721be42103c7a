/** A wait that was given up: whoever asked is gone. */
export class GivenUp extends Error {
  constructor() {
    super('nobody waits for this any more');
    this.name = 'GivenUp';
  }
}

/**
 * Does things in the order in which they were asked for, some at a time, and leaves out those that nobody waits for any more when
 * their turn comes: small pictures that were scrolled away do not hold up those that are seen, nor the viewer's own threads.
 */
export class InOrder {
  private readonly width: number;
  private readonly waiting: (() => Promise<void>)[] = [];
  private running = 0;

  /** `width` things are done at a time, at least one. */
  constructor(width: number) {
    this.width = Math.max(1, width);
  }

  /** `gone` says whether whoever asked has left; then it is never begun, and rejects with GivenUp. */
  run<T>(task: () => Promise<T>, gone: () => boolean): Promise<T> {
    return new Promise<T>((done, failed) => {
      this.waiting.push(async () => {
        try {
          if (gone()) throw new GivenUp();
          done(await task());
        } catch (error) {
          failed(error as Error);
        }
      });
      this.next();
    });
  }

  private next(): void {
    while (this.running < this.width && this.waiting.length) {
      this.running++;
      void this.waiting.shift()!().then(() => {
        this.running--;
        this.next();
      });
    }
  }
}
