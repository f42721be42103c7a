/** A wait that was given up: whoever asked is gone. */
export class GivenUp extends Error {
  constructor() {
    super('nobody waits for this any more');
    this.name = 'GivenUp';
  }
}

/**
 * Does things one after the other, in the order in which they were asked for, and leaves out those that nobody waits for any more when
 * their turn comes: small pictures that were scrolled away do not hold up those that are seen, nor the viewer's own threads.
 */
export class OneByOne {
  private last: Promise<unknown> = Promise.resolve();

  /** `gone` says whether whoever asked has left; then it is never begun, and rejects with GivenUp. */
  run<T>(task: () => Promise<T>, gone: () => boolean): Promise<T> {
    const turn = this.last.then(() => {
      if (gone()) throw new GivenUp();
      return task();
    });
    this.last = turn.catch(() => undefined);
    return turn;
  }
}
